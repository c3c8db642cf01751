import { hash, verify, type Options } from '@node-rs/argon2';
import { busy } from '../base';

/** argon2id with RFC 9106's second recommended option: 64 MiB, three passes, four lanes. */
const RFC_9106: Options = { memoryCost: 65_536, timeCost: 3, parallelism: 4 };

/**
 * Takes turns, so that guesses cannot take all threads and memory from everything else; whoever would have to wait
 * behind too many others is told so at once.
 * @param atOnce how many work at the same time; @param mostWaiting how many may wait for it
 */
export function turns(atOnce: number, mostWaiting: number) {
  let working = 0;
  const waiting: (() => void)[] = [];
  return async <T>(work: () => Promise<T>): Promise<T> => {
    if (working < atOnce) working += 1;
    else {
      if (waiting.length >= mostWaiting)
        throw busy('Too many sign in at this moment. Try again in a few seconds.', 5);
      // The turn is handed over, not given up and fought for.
      await new Promise<void>((resolve) => waiting.push(resolve));
    }
    try {
      return await work();
    } finally {
      const next = waiting.shift();
      if (next) next();
      else working -= 1;
    }
  };
}

const atSignIn = turns(2, 40);
/** A whole shift comes to its desks within a minute, each for some hundredths of a second. */
const atPhones = turns(1, 250);

export const hashPassword = (password: string): Promise<string> => hash(password, RFC_9106);
/**
 * Of a one-time code, which is made here and has some fifty bits, and of a PIN, which no hash can hide from whoever has
 * the database: many are looked at at once, one after the other.
 */
export const hashCode = (code: string): Promise<string> =>
  hash(code, { memoryCost: 19_456, timeCost: 2, parallelism: 1 });
/** Of people who sign in. */
export const passwordMatches = (stored: string, password: string): Promise<boolean> =>
  atSignIn(() => verify(stored, password));
/** Of phones: PINs and one-time codes, apart from people who sign in. */
export const phoneSecretMatches = (stored: string, secret: string): Promise<boolean> =>
  atPhones(() => verify(stored, secret));
