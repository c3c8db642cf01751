import { showNumber } from '../../core/calls/dialling';
import type { AccessPin, Screening, ShownNumber } from '../../core/estate';

/** Which number shows, in words; a number as it is. */
export const SHOWN_WORDS: Readonly<Record<'own' | 'organisation' | 'withheld', string>> = {
  own: 'Their own direct number',
  organisation: 'The number of the organisation',
  withheld: 'No number: withheld',
};
export const sayShown = (shows: ShownNumber | 'withheld'): string =>
  shows === 'own' || shows === 'organisation' || shows === 'withheld'
    ? SHOWN_WORDS[shows]
    : showNumber(shows);

export const PIN_WORDS: Readonly<Record<AccessPin, string>> = {
  always: 'Of everybody',
  'unknown-callers': 'Of those who are not known by their number',
  never: 'Of nobody: who is not known gets no further',
};
export const SCREEN_WORDS: Readonly<Record<Screening['otherwise'], string>> = {
  refuses: 'Refuses the call',
  replaces: 'Shows a number of its own choice',
};
