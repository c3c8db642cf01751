import type { Clock } from '../sip/clock';

/** How long somebody may take to type, and what is typed at most. */
const TYPE_WITHIN_MS = 15_000;
const MOST_DIGITS = 20;

/** Keys that are pressed one after the other, as what was typed. */
export interface Typing {
  readonly key: (key: string) => void;
  /** What is typed next, up to the hash key; null: nothing came in time, or the call is over. */
  readonly next: () => Promise<string | null>;
  readonly stop: () => void;
}

/** How keys become what was typed. */
export interface TypingManner {
  /** After so long without a key what was typed counts as it is; null: only the hash key ends it. */
  readonly pauseMs: number | null;
  /** Whether the star begins anew; else it is a key like others. */
  readonly starClears: boolean;
}
export const BY_HASH: TypingManner = { pauseMs: null, starClears: false };

export function typingAt(clock: Clock, { pauseMs, starClears }: TypingManner): Typing {
  let digits = '';
  let waiting: ((text: string | null) => void) | null = null;
  let callOff: () => void = () => undefined;
  const done = (text: string | null) => {
    callOff();
    const tell = waiting;
    waiting = null;
    if (tell) digits = '';
    tell?.(text);
  };
  const wait = () => {
    callOff();
    const isBegun = digits !== '' && pauseMs !== null;
    callOff = clock.after(isBegun ? pauseMs : TYPE_WITHIN_MS, () => done(isBegun ? digits : null));
  };
  return {
    key: (key) => {
      if (key === '#') {
        if (waiting) done(digits);
        return;
      }
      if (key === '*' && starClears) digits = '';
      else if (digits.length < MOST_DIGITS) digits += key;
      if (waiting) wait();
    },
    next: () =>
      new Promise((resolve) => {
        waiting = resolve;
        wait();
      }),
    stop: () => done(null),
  };
}
