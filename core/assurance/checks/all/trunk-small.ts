import { settingOf } from '../../../estate';
import { rungBy } from '../walk';
import type { Check } from '../types';

/** Of those with a twin outside, one in so many has a call in progress in the busy hour. */
const ONE_IN = 10;

export const trunkSmall: Check = {
  id: 'trunk-small',
  of: 'organisation',
  weight: 'risk',
  title: 'Trunk too small for twinned calls',
  looksFor:
    'Trunks with fewer channels than two for every tenth person whose phone outside rings with their calls.',
  why: 'A twinned call from outside takes two channels. When they run out, mobiles stay silent first.',
  run: ({ estate, classOf, endpoint, groupParts }) => {
    const twins = groupParts('classes of twins', (person) => {
      const keys = new Set<string>();
      for (const target of rungBy(person)) {
        const number = endpoint(target.endpoint)?.number;
        if (number !== undefined) keys.add(classOf(number));
      }
      return keys.size > 0 ? { keys: [...keys] } : null;
    }).all;
    return estate.trunks.flatMap((trunk) => {
      const people = Math.max(0, ...trunk.carries.map((each) => twins.get(each)?.size ?? 0));
      const wanted = Math.ceil(people / ONE_IN) * 2;
      return people > 0 && trunk.channels < wanted
        ? [
            {
              subject: { kind: 'trunk' as const, id: trunk.id, name: trunk.name },
              says: `${people} people have a phone outside by ${trunk.name}: one call in ten of them at once takes ${wanted} channels of its ${trunk.channels}.`,
              evidence: [{ text: 'Channels', setting: settingOf('trunks', trunk.id, 'channels') }],
              mend: {
                says: `${wanted} channels`,
                entries: [
                  {
                    kind: 'trunk' as const,
                    id: trunk.id,
                    name: trunk.name,
                    base: trunk,
                    after: { ...trunk, channels: wanted },
                  },
                ],
              },
            },
          ]
        : [];
    });
  },
};
