import { capital } from '../../../estate';
import { endingsOfMenu } from '../walk';
import type { Check } from '../types';

export const menuLeadsToLeaver: Check = {
  id: 'menu-leads-to-leaver',
  of: 'menu',
  weight: 'fault',
  title: 'A menu leads to somebody who has left',
  looksFor: 'Choices of menus, and what happens without one, that lead to somebody who has left.',
  why: 'Callers choose, and nobody is there.',
  run: (menu, { finder, hasLeft }) =>
    endingsOfMenu(menu).flatMap(({ ending, setting, where }) => {
      const person = 'person' in ending && ending.person ? finder.person(ending.person) : undefined;
      return person && hasLeft(person)
        ? [
            {
              detail: setting,
              says: `${capital(where)} leads to ${person.name}, who has left.`,
              evidence: [{ text: 'The choice', setting }],
            },
          ]
        : [];
    }),
};
