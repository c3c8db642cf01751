import { isOn, targetsOf, treatmentsOf } from '../walk';
import type { Check } from '../types';

export const hotDeskOnly: Check = {
  id: 'hot-desk-only',
  of: 'person',
  weight: 'risk',
  title: 'Rings only where somebody is signed on',
  looksFor: 'People who sign on at shared desks, with rules in which nothing but a shared desk rings.',
  why: 'Who never signs on is never reached: their mobile should ring when no desk has them.',
  run: (person, { endpoint }) =>
    treatmentsOf(person).flatMap(({ at, setting, where }) => {
      const places = targetsOf(person).filter((place) => place.treatment === at && isOn(place));
      if (
        places.length === 0 ||
        !places.every(({ target }) => endpoint(target.endpoint)?.kind === 'hot-desk')
      )
        return [];
      return [
        {
          detail: at,
          says: `In ${where} nothing rings but the shared desk: while not signed on, ${person.name} is not reached.`,
          evidence: [{ text: 'The steps', setting }],
        },
      ];
    }),
};
