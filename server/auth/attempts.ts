import { createHash } from 'node:crypto';
import type { ResultSetHeader } from 'mysql2/promise';
import type { Queryable } from '../db';

/** So many tries within a while, counted for a subject such as `sign-in from 127.0.0.1`. */
export interface Bound {
  readonly subject: string;
  readonly most: number;
}
export const WINDOW_SECONDS = 900;
const PURGE_EACH = 50;
let counted = 0;

const keyOf = (subject: string) => createHash('sha256').update(subject).digest();

/**
 * Counts a try before it is judged, in one statement, so that tries at the same moment are each counted.
 * @returns how many there were within the while, this one with them
 */
export async function countAttempt(
  db: Queryable,
  subject: string,
  seconds = WINDOW_SECONDS,
): Promise<number> {
  counted += 1;
  if (counted % PURGE_EACH === 0)
    await db.query('DELETE FROM attempt WHERE ends < UTC_TIMESTAMP(3) LIMIT 1000');
  const [{ affectedRows, insertId }] = await db.execute<ResultSetHeader>(
    `INSERT INTO attempt (subject, since, times, ends)
     VALUES (?, UTC_TIMESTAMP(3), 1, UTC_TIMESTAMP(3) + INTERVAL ? SECOND)
     ON DUPLICATE KEY UPDATE
       times = LAST_INSERT_ID(IF(ends < UTC_TIMESTAMP(3), 1, times + 1)),
       since = IF(ends < UTC_TIMESTAMP(3), VALUES(since), since),
       ends = IF(ends < UTC_TIMESTAMP(3), VALUES(ends), ends)`,
    [keyOf(subject), seconds],
  );
  return affectedRows === 1 ? 1 : insertId;
}

/**
 * Counts a try for each subject in turn and stops at the first that has had too many, so that what a stranger tries
 * beyond their own bound counts against nobody else.
 * @returns whether it may be judged
 */
export async function mayTry(
  db: Queryable,
  bounds: readonly Bound[],
  seconds = WINDOW_SECONDS,
): Promise<boolean> {
  for (const { subject, most } of bounds) if ((await countAttempt(db, subject, seconds)) > most) return false;
  return true;
}

/** Takes one try back that was counted and was no guess: the others of its subject stay counted. */
export async function uncountAttempt(db: Queryable, subject: string): Promise<void> {
  await db.execute('UPDATE attempt SET times = times - 1 WHERE subject = ? AND times > 0', [keyOf(subject)]);
}

/**
 * Counts a try and judges it. One that was not judged, since too many waited for it or something failed, is taken back:
 * coming at the same moment as many others is no guess.
 * @returns null: there were too many tries, and nothing was judged
 */
export async function tryCounted<T>(
  db: Queryable,
  bounds: readonly Bound[],
  judge: () => Promise<T>,
  seconds = WINDOW_SECONDS,
): Promise<T | null> {
  if (!(await mayTry(db, bounds, seconds))) return null;
  try {
    return await judge();
  } catch (error) {
    for (const { subject } of bounds) await uncountAttempt(db, subject);
    throw error;
  }
}

/** Forgets what was counted, as after a success. */
export async function forgetAttempts(db: Queryable, subjects: readonly string[]): Promise<void> {
  if (subjects.length > 0) await db.query('DELETE FROM attempt WHERE subject IN (?)', [subjects.map(keyOf)]);
}
