import type { Check } from '../types';

export const goesRound: Check = {
  id: 'loop',
  of: 'person',
  weight: 'fault',
  title: 'Forward loop',
  looksFor: 'Unanswered calls that come back to somebody they have been with, at some moment of the year.',
  why: 'The call goes round until it is given up; nobody takes it and no message is left.',
  run: (person, context) => {
    const round = context.unanswered(person).find(({ kind }) => kind === 'loop');
    return round ? [{ says: 'An unanswered call goes round and is lost.', call: round.call }] : [];
  },
};
