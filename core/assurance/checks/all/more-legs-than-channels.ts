import { type SettingRef, capital } from '../../../estate';
import { channelsFor, isOn, targetsOf } from '../walk';
import type { Check } from '../types';

export const moreLegsThanChannels: Check = {
  id: 'more-legs-than-channels',
  of: 'person',
  weight: 'risk',
  title: 'Trunk too small for the twinned call',
  looksFor:
    'Steps that ring more phones outside at once than the trunks have channels, with the one that the call came in by.',
  why: 'A twinned call from outside takes a channel to come in and one for each phone outside; the last ones never ring.',
  run: (person, context) => {
    const { endpoint } = context;
    const stages = new Map<string, { numbers: string[]; setting: SettingRef; where: string }>();
    for (const place of targetsOf(person).filter(isOn)) {
      const number = endpoint(place.target.endpoint)?.number;
      if (!number) continue;
      const key = `${place.treatment}/${place.stage}`;
      const known = stages.get(key) ?? { numbers: [], setting: place.setting, where: place.where };
      known.numbers.push(number);
      stages.set(key, known);
    }
    return [...stages].flatMap(([detail, { numbers, setting, where }]) => {
      const channels = channelsFor(numbers, context);
      return channels > 0 && numbers.length + 1 > channels
        ? [
            {
              detail,
              says: `${capital(where)} rings ${numbers.length} phones outside at once; with the caller’s own that is ${numbers.length + 1} channels of ${channels}.`,
              evidence: [{ text: 'The step', setting }],
            },
          ]
        : [];
    });
  },
};
