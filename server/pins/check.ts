import type { PinAnswer, PinAsked } from '../../standins/messages';
import { forgetAttempts, tryCounted, type Bound, phoneSecretMatches } from '../auth';
import type { Queryable } from '../db';
import { readPinHash } from './queries';

/** Tries at a PIN within a quarter of an hour: at one phone, and wherever it is typed. */
const MOST = { atOne: 5, everywhere: 15 } as const;
export const pinBound = (person: string): Bound => ({ subject: `PIN of ${person}`, most: MOST.everywhere });

/**
 * Whether a PIN that was typed is this person's. Each try is counted before it is looked at, wherever it is typed (at
 * a shared desk, at a mobile, by a phone that asks for its settings): a PIN cannot be tried out, and who guesses at
 * one phone does not lock its owner out of another.
 */
export async function checkPin(
  { db }: { readonly db: Queryable },
  { person, typed, at = '' }: PinAsked,
): Promise<PinAnswer> {
  const hash = await readPinHash(db, person);
  if (typed === null) return hash === null ? 'none' : 'asked';
  const bounds = [{ subject: `PIN of ${person} at ${at}`, most: MOST.atOne }, pinBound(person)];
  const right = await tryCounted(
    db,
    bounds,
    async () => hash !== null && (await phoneSecretMatches(hash, typed)),
  );
  if (right === null) return 'locked';
  if (!right) return 'wrong';
  await forgetAttempts(
    db,
    bounds.map(({ subject }) => subject),
  );
  return 'right';
}
