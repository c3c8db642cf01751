import type { ResultSetHeader, RowDataPacket } from 'mysql2/promise';
import type { Db, Queryable } from '../db';

export const REGISTRATION_STATES = ['registered', 'removed', 'expired', 'stopped'] as const;
export type RegistrationState = (typeof REGISTRATION_STATES)[number];

/** One change of one phone's registration. */
export interface RegistrationChange {
  readonly at: Date;
  readonly user: string;
  readonly endpoint: string | null;
  readonly state: RegistrationState;
  readonly transport: string | null;
}
/** A call as it is kept: its record in the open form, as text. */
export interface KeptCall {
  readonly id: string;
  readonly startedAt: Date;
  readonly body: string;
}

/** Writes calls, each once, whoever tells of it again. */
export async function putCalls(db: Queryable, calls: readonly KeptCall[]): Promise<void> {
  if (calls.length === 0) return;
  await db.query('INSERT IGNORE INTO call_record (id, started_at, body) VALUES ?', [
    calls.map(({ id, startedAt, body }) => [id, startedAt, body]),
  ]);
}

export async function putRegistrationChanges(
  db: Queryable,
  changes: readonly RegistrationChange[],
): Promise<void> {
  if (changes.length === 0) return;
  await db.query('INSERT INTO registration_change (at, user, endpoint, state, transport) VALUES ?', [
    changes.map(({ at, user, endpoint, state, transport }) => [at, user, endpoint, state, transport]),
  ]);
}

/**
 * Calls that began in a span, the first first.
 * @param after the last call that was read before, to go on from there; null: from the beginning
 */
export async function readCalls(
  db: Queryable,
  from: Date,
  to: Date,
  most: number,
  after: string | null = null,
): Promise<readonly { readonly id: string; readonly body: string }[]> {
  const [rows] = await db.query<RowDataPacket[]>(
    `SELECT id, body FROM call_record
     WHERE started_at >= ? AND started_at < ?
       AND (? IS NULL OR (started_at, id) > (SELECT started_at, id FROM call_record WHERE id = ?))
     ORDER BY started_at, id LIMIT ?`,
    [from, to, after, after, most],
  );
  return rows.map(({ id, body }) => ({ id: String(id), body: String(body) }));
}

/** The latest changes of a phone's registrations, the latest first. */
export async function readRegistrationChanges(
  db: Queryable,
  endpoint: string,
  most: number,
): Promise<readonly RegistrationChange[]> {
  const [rows] = await db.query<RowDataPacket[]>(
    'SELECT at, user, endpoint, state, transport FROM registration_change WHERE endpoint = ? ORDER BY at DESC, id DESC LIMIT ?',
    [endpoint, most],
  );
  return rows.map((row) => ({
    at: row.at as Date,
    user: String(row.user),
    endpoint: row.endpoint === null ? null : String(row.endpoint),
    state: row.state as RegistrationState,
    transport: row.transport === null ? null : String(row.transport),
  }));
}

/** So many rows are deleted in one statement, so that nobody waits long for its locks. */
const PART = 5000;
const MOST_PARTS = 200;

/** Deletes what is older. @returns how many rows */
export async function forgetOlder(db: Db, than: Date): Promise<number> {
  let gone = 0;
  for (const [table, column] of [
    ['call_record', 'started_at'],
    ['registration_change', 'at'],
    ['line_check', 'measured_at'],
  ] as const)
    for (let part = 0; part < MOST_PARTS; part++) {
      const [result] = await db.execute<ResultSetHeader>(
        `DELETE FROM ${table} WHERE ${column} < ? LIMIT ${PART}`,
        [than],
      );
      gone += result.affectedRows;
      if (result.affectedRows < PART) break;
    }
  return gone;
}
