import { menuGreetingFaults } from '../greeting';
import type { Check } from '../types';

export const greetingOfMenu: Check = {
  id: 'greeting-of-menu',
  of: 'menu',
  weight: 'fault',
  title: 'A menu says what it does not do',
  looksFor:
    'Keys that a menu’s greeting offers and that do nothing or something else, and keys it is silent about.',
  why: 'Callers press what they are told to press, and end nowhere.',
  run: (menu, { index }) =>
    menuGreetingFaults(menu, {
      person: (id) => index.people.get(id)?.name,
      group: (id) => index.groups.get(id)?.name,
      menu: (id) => index.menus.get(id)?.name,
    }).map(({ setting, key, text }) => ({
      detail: `${setting.split('.').slice(1).join('.')}/${key}`,
      says: text,
      evidence: [{ text: 'The greeting', setting }],
    })),
};
