import type { ResultSetHeader, RowDataPacket } from 'mysql2/promise';
import { USUAL_LIMITS, type OwnLimits, type Wish } from '../../core/changes/own';
import type { Queryable } from '../db';

/** What stands beside a person's status. Times ISO 8601, UTC. */
export interface OwnNote {
  readonly note: string;
  readonly at: string | null;
  readonly notedAt: string;
  readonly staleAt: string | null;
}

export type RequestState = 'open' | 'granted' | 'declined' | 'taken-back';
export interface OwnRequest {
  readonly id: number;
  readonly person: string;
  readonly wish: Wish;
  readonly note: string;
  readonly state: RequestState;
  readonly madeAt: string;
  readonly answeredBy: string | null;
  readonly answer: string;
}

const EVERYBODY = '';

/** What a person may change by themselves: their own limits, or those of everybody. */
export async function readLimits(
  db: Queryable,
  person: string,
): Promise<{ readonly limits: OwnLimits; readonly isOwn: boolean }> {
  const [rows] = await db.query<RowDataPacket[]>(
    'SELECT person_id, body FROM own_limits WHERE person_id IN (?, ?)',
    [person, EVERYBODY],
  );
  const of = (id: string) => {
    const row = rows.find((each) => each.person_id === id);
    return row && (JSON.parse(String(row.body)) as OwnLimits);
  };
  const own = person === EVERYBODY ? undefined : of(person);
  return { limits: own ?? of(EVERYBODY) ?? USUAL_LIMITS, isOwn: own !== undefined };
}

/** Sets limits for a person, or (null) for everybody; `limits` null takes a person's own away. */
export async function putLimits(
  db: Queryable,
  person: string | null,
  limits: OwnLimits | null,
): Promise<void> {
  if (limits === null) {
    await db.execute('DELETE FROM own_limits WHERE person_id = ?', [person ?? EVERYBODY]);
    return;
  }
  await db.execute(
    'INSERT INTO own_limits (person_id, body) VALUES (?, ?) ON DUPLICATE KEY UPDATE body = VALUES(body)',
    [person ?? EVERYBODY, JSON.stringify(limits)],
  );
}

/** A person's note; null if there is none, or it is no longer true. */
export async function readNote(db: Queryable, person: string, now: Date): Promise<OwnNote | null> {
  const [[row]] = await db.execute<RowDataPacket[]>(
    'SELECT note, at_endpoint, noted_at, stale_at FROM own_note WHERE person_id = ? AND (stale_at IS NULL OR stale_at > ?)',
    [person, now],
  );
  return row
    ? {
        note: String(row.note),
        at: (row.at_endpoint as string | null) ?? null,
        notedAt: (row.noted_at as Date).toISOString(),
        staleAt: (row.stale_at as Date | null)?.toISOString() ?? null,
      }
    : null;
}

export async function putNote(
  db: Queryable,
  person: string,
  note: string,
  at: string | null,
  now: Date,
  staleAt: Date | null,
): Promise<void> {
  if (note === '' && at === null) {
    await db.execute('DELETE FROM own_note WHERE person_id = ?', [person]);
    return;
  }
  await db.execute(
    `INSERT INTO own_note (person_id, note, at_endpoint, noted_at, stale_at) VALUES (?, ?, ?, ?, ?)
     ON DUPLICATE KEY UPDATE note = VALUES(note), at_endpoint = VALUES(at_endpoint), noted_at = VALUES(noted_at),
       stale_at = VALUES(stale_at)`,
    [person, note, at, now, staleAt],
  );
}

const requestOf = (row: RowDataPacket): OwnRequest => ({
  id: Number(row.id),
  person: String(row.person_id),
  wish: JSON.parse(String(row.wish)) as Wish,
  note: String(row.note),
  state: row.state as RequestState,
  madeAt: (row.made_at as Date).toISOString(),
  answeredBy: (row.answered_by as string | null) ?? null,
  answer: String(row.answer),
});

const REQUESTS_SHOWN = 50;

/** Requests, newest first. @param person whose; null: everybody's */
export async function readRequests(
  db: Queryable,
  person: string | null,
  onlyOpen: boolean,
): Promise<readonly OwnRequest[]> {
  const [rows] = await db.execute<RowDataPacket[]>(
    `SELECT * FROM own_request WHERE (? IS NULL OR person_id = ?) AND (? = 0 OR state = 'open')
     ORDER BY id DESC LIMIT ${REQUESTS_SHOWN}`,
    [person, person, onlyOpen ? 1 : 0],
  );
  return rows.map(requestOf);
}

export async function lockRequest(db: Queryable, id: number): Promise<OwnRequest | null> {
  const [[row]] = await db.execute<RowDataPacket[]>('SELECT * FROM own_request WHERE id = ? FOR UPDATE', [
    id,
  ]);
  return row ? requestOf(row) : null;
}

/** Requests that one person may have open. */
export const MOST_OPEN = 10;

/**
 * Whether somebody may ask for more. Held to the end of the transaction, so that questions at the same moment are
 * counted one after the other.
 */
export async function mayAskMore(db: Queryable, person: string): Promise<boolean> {
  await db.execute('SELECT id FROM person WHERE id = ? FOR UPDATE', [person]);
  const [rows] = await db.execute<RowDataPacket[]>(
    "SELECT id FROM own_request WHERE person_id = ? AND state = 'open' LIMIT ? FOR UPDATE",
    [person, String(MOST_OPEN)],
  );
  return rows.length < MOST_OPEN;
}

export async function addRequest(
  db: Queryable,
  person: string,
  wish: Wish,
  note: string,
  now: Date,
): Promise<number> {
  const [made] = await db.execute<ResultSetHeader>(
    'INSERT INTO own_request (person_id, wish, note, made_at) VALUES (?, ?, ?, ?)',
    [person, JSON.stringify(wish), note, now],
  );
  return made.insertId;
}

export async function answerRequest(
  db: Queryable,
  id: number,
  state: RequestState,
  by: string,
  answer: string,
  now: Date,
): Promise<void> {
  await db.execute(
    'UPDATE own_request SET state = ?, answered_by = ?, answer = ?, answered_at = ? WHERE id = ?',
    [state, by, answer, now, id],
  );
}
