import { carrierTimes } from '../../../calls/views';
import { settingOf, forwardAt } from '../../../estate';
import { showNumber } from '../../../calls/dialling';
import type { Check } from '../types';

export const forwardToVoicemail: Check = {
  id: 'forward-to-voicemail',
  of: 'person',
  weight: 'fault',
  title: 'Call forwarding into a mobile carrier’s voicemail',
  looksFor:
    'Lines that forward every call to a mobile: an ending has no answer guard and does not stop ringing.',
  why: 'Whoever is not answered leaves the message with the carrier.',
  run: (person, { nowMs, endpoint }) =>
    person.lines.flatMap((line) => {
      const to = forwardAt(line, nowMs);
      if (!to) return [];
      const known = to.kind === 'endpoint' ? endpoint(to.endpoint) : undefined;
      const number =
        to.kind === 'number' ? to.number : known && carrierTimes(known) ? known.number : undefined;
      if (number === undefined) return [];
      return [
        {
          detail: line.id,
          says: `Line ${line.extension} forwards every call to ${showNumber(number)}: what is not answered there ends in its mobile carrier’s voicemail.`,
          evidence: [
            {
              text: 'Forward all calls',
              setting: settingOf('people', person.id, ['lines', line.id], 'forwardAll'),
            },
          ],
        },
      ];
    }),
};
