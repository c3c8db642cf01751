import { settingOf, forwardAt } from '../../../estate';
import { mendOf } from '../walk';
import type { Check } from '../types';

export const forwardForgotten: Check = {
  id: 'forward-forgotten',
  of: 'person',
  weight: 'risk',
  title: 'Call forwarding without an end',
  looksFor:
    'Lines whose every call goes elsewhere, with no time at which that ends, while the status has no rule that asks for it.',
  why: 'Call forwarding set before leave and forgotten after it keeps all calls away from the person’s own plan.',
  run: (person, { nowMs }) =>
    person.lines.flatMap((line) => {
      if (!forwardAt(line, nowMs) || line.forwardUntil !== undefined) return [];
      return [
        {
          detail: line.id,
          says: `Line ${line.extension} forwards every call, until somebody ends it. The reach plan does not count.`,
          evidence: [
            {
              text: 'Forward all calls',
              setting: settingOf('people', person.id, ['lines', line.id], 'forwardAll'),
            },
          ],
          mend: mendOf('Switch call forwarding off', 'person', person, {
            ...person,
            lines: person.lines.map((each) => (each.id === line.id ? { ...each, forwardAll: null } : each)),
          }),
        },
      ];
    }),
};
