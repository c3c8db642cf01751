import { settingOf } from '../../../estate';
import { showNumber } from '../../../calls/dialling';
import { endingsOfPerson } from '../walk';
import type { Check } from '../types';

export const ownNumberOutside: Check = {
  id: 'own-number-outside',
  of: 'person',
  weight: 'risk',
  title: 'One of our own numbers called from outside',
  looksFor: 'Phones and endings that are set as outside numbers and are numbers of the organisation.',
  why: 'The call leaves by a trunk and comes back by another: two channels more, a strange caller’s number, and a way to go round.',
  run: (person, { index }) => {
    const ours = (number: string) => index.destinations.get(number);
    const nameOf = (number: string) => {
      const found = ours(number);
      return found?.kind === 'line'
        ? found.person.name
        : found?.kind === 'group'
          ? found.group.name
          : found?.kind === 'menu'
            ? found.menu.name
            : '';
    };
    return [
      ...person.endpoints.flatMap(({ id, number, label }) =>
        number && ours(number)
          ? [
              {
                detail: id,
                says: `${label} is ${showNumber(number)}, the organisation’s own number of ${nameOf(number)}.`,
                evidence: [
                  { text: label, setting: settingOf('people', person.id, ['endpoints', id], 'number') },
                ],
              },
            ]
          : [],
      ),
      ...endingsOfPerson(person).flatMap(({ ending, setting, where }) =>
        ending.kind === 'number' && ours(ending.number)
          ? [
              {
                detail: setting,
                says: `In ${where} calls go out to ${showNumber(ending.number)}, the organisation’s own number of ${nameOf(ending.number)}.`,
                evidence: [{ text: 'Here', setting }],
              },
            ]
          : [],
      ),
    ];
  },
};
