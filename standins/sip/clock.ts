import { performance } from 'node:perf_hooks';
import type { Ms } from '../../core/estate';

/** A clock that may run faster than the wall's, for calls in a multiple of real time. */
export interface Clock {
  /** How many of its ms go by in one real ms. */
  readonly speed: number;
  /** Ms on this clock since it was made. */
  readonly now: () => Ms;
  /** Does something after so many ms of this clock. @returns a function that calls it off */
  readonly after: (ms: Ms, act: () => void) => () => void;
}

/** The longest that one timer can wait, in real ms. */
const LONGEST = 2 ** 31 - 1;

export function clockAt(speed = 1): Clock {
  const begin = performance.now();
  return {
    speed,
    now: () => (performance.now() - begin) * speed,
    after: (ms, act) => {
      const timer = setTimeout(act, Math.min(Math.max(0, ms / speed), LONGEST));
      return () => clearTimeout(timer);
    },
  };
}

/** What `setTimeout` gives. */
export type Timer = ReturnType<typeof setTimeout>;
