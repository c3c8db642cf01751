import { settingOf } from '../../../estate';
import { channelsFor } from '../walk';
import type { Check } from '../types';

export const groupTakesTrunk: Check = {
  id: 'group-takes-trunk',
  of: 'group',
  weight: 'risk',
  title: 'One call to the group takes the trunk',
  looksFor:
    'Groups that ring all together so many phones outside that one call takes more channels than a trunk has.',
  why: 'Each twinned call takes a channel to come in and one for each phone outside; the next caller finds none.',
  run: (group, context) => {
    const { finder } = context;
    if (group.mode !== 'simultaneous') return [];
    const numbers = group.members.flatMap((member) => {
      const person = 'person' in member ? finder.person(member.person) : undefined;
      const first = person?.plan.otherwise.stages.find((stage) => 'ring' in stage);
      if (!person || !first || !('ring' in first)) return [];
      return first.ring.flatMap(({ endpoint, enabled, arrivals }) => {
        const number = person.endpoints.find(({ id }) => id === endpoint)?.number;
        return number && enabled !== false && (!arrivals || arrivals.includes('group')) ? [number] : [];
      });
    });
    const channels = channelsFor(numbers, context);
    return numbers.length > 0 && numbers.length + 1 > channels
      ? [
          {
            says: `One call rings ${numbers.length} phones outside: ${numbers.length + 1} channels, and the trunks have ${channels}.`,
            evidence: [{ text: 'Members', setting: settingOf('groups', group.id, 'members') }],
          },
        ]
      : [];
  },
};
