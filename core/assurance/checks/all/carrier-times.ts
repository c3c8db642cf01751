import { adviseTimes, carrierTimes, timesFaults, type TimesFault } from '../../../calls/views';
import { seconds } from '../../../calls/engine';
import { editTarget } from '../../../editing';
import { isOn, labelOf, mendOf, targetsOf } from '../walk';
import type { Check, CheckContext, CheckResult } from '../types';
import { capital, type Person } from '../../../estate';

/** What is said of each fault of times. */
const SAYS: Record<TimesFault, (label: string) => string> = {
  'give-up-late': (label) => `rings the ${label} until its mobile carrier’s voicemail picks up`,
  'guard-low': (label) =>
    `takes the answer of the voicemail when the ${label} is off: the answer guard is too short`,
  'guard-high': (label) => `cuts off whoever answers the ${label} quickly: the answer guard is too long`,
  'give-up-early': (label) => `gives the ${label} less than 10 s of ringing`,
};

/** Findings of one fault of times at a person's own and colleagues' phones outside. */
export const timesFound =
  (fault: TimesFault) =>
  (person: Person, context: CheckContext): readonly CheckResult[] =>
    targetsOf(person)
      .filter(isOn)
      .flatMap((place): CheckResult[] => {
        const endpoint = context.endpoint(place.target.endpoint);
        const times = endpoint ? carrierTimes(endpoint) : null;
        if (!endpoint || !times || !timesFaults(place.target, place.forMs, times).includes(fault)) return [];
        const advice = adviseTimes(times);
        const at = { treatment: place.treatment, stage: place.stage, target: place.nth };
        const { take } = advice;
        return [
          {
            // Marks of findings are kept by it: it stays as it was first written.
            detail: `plan[${place.treatment}].stages[${place.stage}].ring[${place.target.endpoint}]`,
            says: `${capital(place.where)} ${SAYS[fault](labelOf(endpoint))}.`,
            evidence: [
              {
                text: fault.startsWith('guard') ? advice.guardWhy : advice.giveUpWhy,
                setting: place.setting,
              },
            ],
            mend: take
              ? mendOf(
                  `Answer guard ${seconds(take.guardMs)}, stop ringing after ${seconds(take.giveUpMs)}`,
                  'person',
                  person,
                  editTarget(person, at, { acceptAfterMs: take.guardMs, giveUpAfterMs: take.giveUpMs }),
                )
              : mendOf(
                  'Let whoever answers confirm with a key',
                  'person',
                  person,
                  editTarget(person, at, { confirm: 'key' }),
                ),
          },
        ];
      });

export const ringsTooLong: Check = {
  id: 'carrier-voicemail',
  of: 'person',
  weight: 'fault',
  title: 'Rings into the mobile carrier’s voicemail',
  looksFor:
    'Mobiles that ring longer than their mobile carrier’s voicemail takes to pick up, without press 1 to accept.',
  why: 'The message ends in a mobile carrier’s voicemail: the organisation never hears it, and the caller believes it was left.',
  run: timesFound('give-up-late'),
};
