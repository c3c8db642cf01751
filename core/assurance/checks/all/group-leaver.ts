import { settingOf } from '../../../estate';
import { mendOf } from '../walk';
import type { Check } from '../types';

export const groupLeaver: Check = {
  id: 'group-leaver',
  of: 'group',
  weight: 'risk',
  title: 'A leaver in a group',
  looksFor: 'Members of groups who have left.',
  why: 'Each call rings a phone that nobody answers, and in order or in turn the others wait for it.',
  run: (group, { finder, hasLeft }) =>
    group.members.flatMap((member) => {
      const person = 'person' in member ? finder.person(member.person) : undefined;
      if (!person || !hasLeft(person)) return [];
      return [
        {
          detail: person.id,
          says: `${person.name} has left and is still a member.`,
          evidence: [{ text: 'Members', setting: settingOf('groups', group.id, 'members') }],
          mend: mendOf('Take them out', 'group', group, {
            ...group,
            members: group.members.filter((each) => each !== member),
          }),
        },
      ];
    }),
};
