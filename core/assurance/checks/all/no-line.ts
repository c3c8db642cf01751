import { settingOf } from '../../../estate';
import type { Check } from '../types';

export const noLine: Check = {
  id: 'no-line',
  of: 'person',
  weight: 'risk',
  title: 'A person without a line',
  looksFor: 'People who have phones and a plan, and no line that could be called.',
  why: 'Nobody can call them.',
  run: (person) =>
    person.lines.length > 0
      ? []
      : [
          {
            says: 'Has no line: nobody can call.',
            evidence: [{ text: 'Lines', setting: settingOf('people', person.id, 'lines') }],
          },
        ],
};
