import { createHmac, randomBytes } from 'node:crypto';
import type { RowDataPacket } from 'mysql2/promise';
import { DateTime } from 'luxon';
import { zoneNamed } from '../../core/zones';
import { refusal } from '../base';
import type { Db, Queryable } from '../db';
import type { Services } from '../http';
import { putSecretOnce, readSecret, type Keyring } from '../secrets';

type Needs = Pick<Services, 'db' | 'secrets'>;

const ABOUT = 'marks of desks and badges';
const KEY_BYTES = 32;

/** The key of all marks: made once, whichever server is first, and sealed like every secret. */
async function markKey({ db, secrets }: { db: Db; secrets: Keyring }): Promise<Buffer> {
  const known = await readSecret(db, secrets, ABOUT);
  if (known !== null) return Buffer.from(known, 'base64');
  await putSecretOnce(db, secrets, ABOUT, randomBytes(KEY_BYTES).toString('base64'));
  const made = await readSecret(db, secrets, ABOUT);
  if (made === null) throw new Error('the key of badges could not be made');
  return Buffer.from(made, 'base64');
}
const mark = (key: Buffer, text: string): Buffer => createHmac('sha256', key).update(text).digest();

/** A mark of a text, by which it can be told again and nobody can tell what it was. */
export const markOf = async (services: Needs, text: string): Promise<string> =>
  mark(await markKey(services), text)
    .toString('base64url')
    .slice(0, 22);

/** The code of a desk for a day, four digits: the same wherever it is asked for. @param atMs ms since 1970 */
export async function codeOfDay(
  services: Needs,
  desk: string,
  timeZone: string,
  atMs: number,
): Promise<string> {
  const day = DateTime.fromMillis(atMs, { zone: zoneNamed(timeZone) }).toISODate() ?? '';
  const bytes = mark(await markKey(services), `code of ${desk} on ${day}`);
  return String(bytes.readUInt32BE(0) % 10_000).padStart(4, '0');
}

export const BADGE_DIGITS = /^\d{4,32}$/;

/** What is kept of a badge. */
export const badgeMark = async (services: Needs, digits: string): Promise<Buffer> =>
  mark(await markKey(services), digits);

/** Gives a person a badge by its mark, in the place of the one before; null takes it away. */
export async function putBadge(
  tx: Queryable,
  person: string,
  badge: Buffer | null,
  who: string,
  at: Date,
): Promise<void> {
  await tx.execute('DELETE FROM badge WHERE person = ?', [person]);
  if (badge === null) return;
  try {
    await tx.execute('INSERT INTO badge (person, mark, set_at, set_by) VALUES (?, ?, ?, ?)', [
      person,
      badge,
      at,
      who,
    ]);
  } catch (error) {
    if ((error as { code?: unknown }).code !== 'ER_DUP_ENTRY') throw error;
    throw refusal(409, 'Somebody else has this badge.');
  }
}

/** Whose badge these digits are; null: nobody's. */
export async function personOfBadge(services: Needs, digits: string): Promise<string | null> {
  const [[row]] = await services.db.execute<RowDataPacket[]>('SELECT person FROM badge WHERE mark = ?', [
    await badgeMark(services, digits),
  ]);
  return row ? String(row.person) : null;
}

/** When a person's badge was set; null: they have none. */
export async function badgeSetAt(db: Queryable, person: string): Promise<Date | null> {
  const [[row]] = await db.execute<RowDataPacket[]>('SELECT set_at FROM badge WHERE person = ?', [person]);
  return row ? (row.set_at as Date) : null;
}
