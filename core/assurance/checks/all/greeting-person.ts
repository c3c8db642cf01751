import { personGreetingFaults } from '../greeting';
import { greetingFound, greetingNames } from '../greeting-names';
import type { Check } from '../types';

export const greetingOfPerson: Check = {
  id: 'greeting-of-person',
  of: 'person',
  weight: 'fault',
  title: 'A greeting offers what does not happen',
  looksFor:
    'Keys that a person’s greeting offers and that do nothing or something else, and keys it is silent about.',
  why: 'Callers press what they are told to press, and end nowhere.',
  run: (person, { index }) => personGreetingFaults(person, greetingNames(index)).map(greetingFound),
};
