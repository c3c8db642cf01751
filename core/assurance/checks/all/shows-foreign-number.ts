import { insideOf } from '../../../estate';
import { showNumber } from '../../../calls/dialling';
import { isOn, targetsOf } from '../walk';
import type { Check } from '../types';

export const showsForeignNumber: Check = {
  id: 'shows-foreign-number',
  of: 'person',
  weight: 'risk',
  title: 'Shows a number that is not ours',
  looksFor: 'Legs that show a number which no line, group or menu of the organisation has.',
  why: 'Carriers refuse or mark calls that show a foreign number, and calling back leads nowhere.',
  run: (person, { index, estate }) =>
    targetsOf(person)
      .filter(isOn)
      .flatMap(({ target, setting, where }) =>
        target.present &&
        target.present !== 'caller' &&
        !index.destinations.has(target.present) &&
        target.present !== estate.settings?.number
          ? [
              {
                detail: insideOf(setting),
                says: `In ${where} a leg shows ${showNumber(target.present)}, which is no number of the organisation.`,
                evidence: [{ text: 'Here', setting }],
              },
            ]
          : [],
      ),
};
