import { settingOf, forwardAt } from '../../../estate';
import { isOn, mendOf, targetsOf } from '../walk';
import type { Check } from '../types';

export const leaverReachesOut: Check = {
  id: 'leaver-reaches-out',
  of: 'person',
  weight: 'fault',
  title: 'A leaver’s calls still go to their own phones',
  looksFor: 'People who have left, and whose line still forwards or rings outside.',
  why: 'Business calls reach the private phone of somebody who is not with the organisation any more.',
  run: (person, { hasLeft, nowMs, endpoint }) => {
    if (!hasLeft(person)) return [];
    const forwards = person.lines.filter((line) => forwardAt(line, nowMs));
    const rung = targetsOf(person).filter(
      (place) => isOn(place) && endpoint(place.target.endpoint)?.number !== undefined,
    );
    if (forwards.length === 0 && rung.length === 0) return [];
    return [
      {
        says: `${person.name} has left, and calls still ${forwards.length > 0 ? 'are forwarded' : 'ring outside'}.`,
        evidence: [
          ...forwards.map((line) => ({
            text: `Line ${line.extension}`,
            setting: settingOf('people', person.id, ['lines', line.id], 'forwardAll'),
          })),
          ...rung.map(({ where, setting }) => ({ text: `Rung in ${where}`, setting })),
        ],
        mend: mendOf('Take forwards off and phones outside out', 'person', person, {
          ...person,
          lines: person.lines.map((line) => ({ ...line, forwardAll: null })),
          plan: { rules: [], otherwise: { stages: [], ending: { kind: 'mailbox' } } },
        }),
      },
    ];
  },
};
