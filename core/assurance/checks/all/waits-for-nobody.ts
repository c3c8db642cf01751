import { innerOf } from '../../../estate';
import { treatmentsOf } from '../walk';
import type { Check } from '../types';

export const waitsForNobody: Check = {
  id: 'waits-for-nobody',
  of: 'person',
  weight: 'risk',
  title: 'A queue in which nothing rings',
  looksFor: 'Rules in which the caller waits in a queue while no phone is rung.',
  why: 'The caller waits the whole time for nothing.',
  run: (person) =>
    treatmentsOf(person).flatMap(({ treatment, at, setting, where }) =>
      treatment.ending.kind === 'queue' &&
      !treatment.stages.some(
        (stage) => 'ring' in stage && stage.ring.some(({ enabled }) => enabled !== false),
      )
        ? [
            {
              detail: at,
              says: `In ${where} the caller waits in a queue, and nothing rings.`,
              evidence: [{ text: 'The ending', setting: innerOf(setting, 'ending') }],
            },
          ]
        : [],
    ),
};
