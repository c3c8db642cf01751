import { menuGreetingFaults } from '../greeting';
import { greetingFound, greetingNames } from '../greeting-names';
import type { Check } from '../types';

export const greetingOfMenu: Check = {
  id: 'greeting-of-menu',
  of: 'menu',
  weight: 'fault',
  title: 'A menu says what it does not do',
  looksFor:
    'Keys that a menu’s greeting offers and that do nothing or something else, and keys it is silent about.',
  why: 'Callers press what they are told to press, and end nowhere.',
  run: (menu, { index }) => menuGreetingFaults(menu, greetingNames(index)).map(greetingFound),
};
