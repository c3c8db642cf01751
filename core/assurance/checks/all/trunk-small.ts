import { settingOf, type Person } from '../../../estate';
import { isOn, targetsOf } from '../walk';
import type { Check } from '../types';

/** Of those with a twin outside, one in so many has a call in progress in the busy hour. */
const ONE_IN = 10;

const rung = new WeakMap<Person, readonly string[]>();
/** The phones that somebody's plan rings: worked out once for as long as they are as they are. */
function rungBy(person: Person): readonly string[] {
  const known = rung.get(person);
  if (known) return known;
  const ids = [
    ...new Set(
      targetsOf(person)
        .filter(isOn)
        .map(({ target }) => target.endpoint),
    ),
  ];
  rung.set(person, ids);
  return ids;
}

export const trunkSmall: Check = {
  id: 'trunk-small',
  of: 'organisation',
  weight: 'risk',
  title: 'Trunk too small for twinned calls',
  looksFor:
    'Trunks with fewer channels than two for every tenth person whose phone outside rings with their calls.',
  why: 'A twinned call from outside takes two channels. When they run out, mobiles stay silent first.',
  run: ({ estate, classOf, endpoint }) => {
    const twins = new Map<string, number>();
    for (const person of estate.people) {
      const numbers = rungBy(person).flatMap((id) => endpoint(id)?.number ?? []);
      for (const each of new Set(numbers.map(classOf))) twins.set(each, (twins.get(each) ?? 0) + 1);
    }
    return estate.trunks.flatMap((trunk) => {
      const people = Math.max(0, ...trunk.carries.map((each) => twins.get(each) ?? 0));
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
