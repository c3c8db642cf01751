import { settingOf } from '../../../estate';
import { mendOf } from '../walk';
import type { Check } from '../types';

export const coverOver: Check = {
  id: 'cover-over',
  of: 'person',
  weight: 'note',
  title: 'A cover that is over still stands in the settings',
  looksFor: 'Call forwarding whose end lies in the past.',
  why: 'They do nothing any more; taken out, nobody wonders about them.',
  run: (person, { nowMs }) =>
    person.lines.flatMap((line) => {
      if (line.forwardUntil === undefined || Date.parse(line.forwardUntil) > nowMs) return [];
      const { forwardUntil: _until, forwardAfter, ...rest } = line;
      return [
        {
          detail: line.id,
          says: `The cover of line ${line.extension} ended on ${line.forwardUntil.slice(0, 10)}.`,
          evidence: [
            {
              text: 'Forward all calls',
              setting: settingOf('people', person.id, ['lines', line.id], 'forwardUntil'),
            },
          ],
          mend: mendOf('Take it out', 'person', person, {
            ...person,
            lines: person.lines.map((each) =>
              each.id === line.id ? { ...rest, forwardAll: forwardAfter ?? null } : each,
            ),
          }),
        },
      ];
    }),
};
