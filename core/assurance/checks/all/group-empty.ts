import { settingOf } from '../../../estate';
import type { Check } from '../types';

export const groupEmpty: Check = {
  id: 'group-empty',
  of: 'group',
  weight: 'risk',
  title: 'A group of nobody',
  looksFor: 'Groups without members, or whose members have all left.',
  why: 'Calls for the group ring nowhere.',
  run: (group, { finder, hasLeft }) => {
    const present = group.members.filter((member) => {
      const person = 'person' in member ? finder.person(member.person) : undefined;
      return !person || !hasLeft(person);
    });
    return present.length > 0
      ? []
      : [
          {
            says: 'Has no members who are there: calls go straight to its ending.',
            evidence: [{ text: 'Members', setting: settingOf('groups', group.id, 'members') }],
          },
        ];
  },
};
