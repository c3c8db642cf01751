import { showNumber } from '../../core/calls/dialling';
import type { OutcomeKind } from '../../core/calls/engine';
import type { Went } from '../../api/calls';

/** How calls end, in the words of the list. */
export const OUTCOMES = [
  ['answered', 'Answered'],
  ['mailbox', 'Voicemail here'],
  ['unanswered', 'Not answered'],
  ['abandoned', 'Caller hung up'],
  ['carrier-voicemail', 'Carrier’s voicemail'],
  ['hung-up', 'Ended by a plan'],
  ['failed', 'Failed'],
  ['loop', 'Went in a circle'],
  ['played', 'Recording'],
] as const satisfies readonly (readonly [OutcomeKind, string])[];
const SAID: Readonly<Record<string, string>> = Object.fromEntries(OUTCOMES);
export const sayOutcome = (outcome: string): string => SAID[outcome] ?? outcome;

export const WENT_WORDS: Readonly<Record<Went, string>> = {
  planned: 'As planned',
  otherwise: 'Otherwise',
  unsure: 'Not sure',
};

export const sayNumber = (text: string | null): string =>
  text === null ? 'Withheld' : /^\+\d+$/.test(text) ? showNumber(text) : text;

/** A length of time: “8.4 s”, “2 min 5 s”. */
export function sayLength(ms: number): string {
  if (ms < 50) return '0 s';
  if (ms < 60_000) return `${(ms / 1000).toFixed(ms < 10_000 ? 1 : 0)} s`;
  const whole = Math.round(ms / 1000);
  return `${Math.floor(whole / 60)} min ${whole % 60} s`;
}

export const sayShare = (share: number): string =>
  `${(share * 100).toFixed(share > 0 && share < 0.095 ? 1 : 0)} %`;

/** Money in hundred-thousandths, with its currency, to the cent. */
export const sayMoney = (money: number, currency: string): string =>
  `${(money / 100_000).toLocaleString('en', { minimumFractionDigits: 2, maximumFractionDigits: 2 })} ${currency}`;

/** After how long: “after 8.4 s”, “at once”. */
export const sayAfter = (ms: number): string => (ms < 50 ? 'at once' : `after ${sayLength(ms)}`);

/** Between which shares it lies: “9–13 %”; to a tenth only where whole per cents would be one figure. */
export const sayBand = (low: number, high: number): string => {
  const digits = Math.round(low * 100) === Math.round(high * 100) && high < 0.1 ? 1 : 0;
  return `${(low * 100).toFixed(digits)}–${(high * 100).toFixed(digits)} %`;
};
