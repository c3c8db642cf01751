import type { ResultSetHeader, RowDataPacket } from 'mysql2/promise';
import { recordLine, type CallRecord } from '../../core/records';
import type { Queryable } from '../db';
import { dropMonthsBefore } from './months';

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
/** Writes call records, each once, whoever tells of it again. @returns how many were not there yet */
export async function putCalls(
  db: Queryable,
  records: readonly CallRecord[],
  importId: number | null = null,
): Promise<number> {
  if (records.length === 0) return 0;
  const [result] = await db.query<ResultSetHeader>(`INSERT IGNORE INTO call_record (${COLUMNS}) VALUES ?`, [
    records.map((record) => callRow(record, importId)),
  ]);
  return result.affectedRows;
}
const COLUMNS =
  'id, started_at, from_number, to_number, outcome, answered_by, at_ms, talk_ms, import_id, body';

/** A record as a row of the table. */
export const callRow = (record: CallRecord, importId: number | null): readonly unknown[] => [
  record.id,
  new Date(record.startMs),
  record.from,
  record.to,
  record.outcome,
  record.answeredBy ?? null,
  record.atMs,
  record.talkMs,
  importId,
  recordLine(record),
];

/** Names one call: when it began and its id, as both together find it; the letter, so that it is taken for no number. */
export const callKey = (startedAt: Date, id: string): string => `c${startedAt.getTime()}~${id}`;
/** @returns null where it is no such name */
export function readCallKey(key: string): { readonly startedAt: Date; readonly id: string } | null {
  const [, ms, id] = /^c(\d{1,15})~(.{1,80})$/s.exec(key) ?? [];
  return ms === undefined || id === undefined ? null : { startedAt: new Date(Number(ms)), id };
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
 * @param after the key of the last call that was read before, to go on from there; null: from the beginning
 */
export async function readCalls(
  db: Queryable,
  from: Date,
  to: Date,
  most: number,
  after: string | null = null,
): Promise<readonly { readonly key: string; readonly body: string }[]> {
  const last = after === null ? null : readCallKey(after);
  const [rows] = await db.query<RowDataPacket[]>(
    `SELECT started_at, id, body FROM call_record
     WHERE started_at >= ? AND started_at < ? ${last ? 'AND (started_at > ? OR (started_at = ? AND id > ?))' : ''}
     ORDER BY started_at, id LIMIT ?`,
    [from, to, ...(last ? [last.startedAt, last.startedAt, last.id] : []), most],
  );
  return rows.map(({ started_at, id, body }) => ({
    key: callKey(started_at as Date, String(id)),
    body: String(body),
  }));
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
const MOST_PARTS = 2000;

/** Deletes rows part by part. @returns how many */
export async function deleteInParts(
  db: Queryable,
  where: string,
  values: readonly unknown[],
): Promise<number> {
  let gone = 0;
  for (let part = 0; part < MOST_PARTS; part++) {
    const [result] = await db.query<ResultSetHeader>(`DELETE FROM ${where} LIMIT ${PART}`, [...values]);
    gone += result.affectedRows;
    if (result.affectedRows < PART) break;
  }
  return gone;
}

/**
 * Deletes what is older: whole months of calls at once, the rest row by row.
 * @param keeper the account that call records are kept by
 * @returns how many rows, without those of whole months
 */
export async function forgetOlder(db: Queryable, keeper: Queryable, than: Date): Promise<number> {
  await dropMonthsBefore(keeper, than);
  let gone = await deleteInParts(keeper, 'call_record WHERE started_at < ?', [than]);
  gone += await deleteInParts(keeper, 'call_ladder WHERE started_at < ?', [than]);
  for (const [table, column] of [
    ['registration_change', 'at'],
    ['line_check', 'measured_at'],
  ] as const)
    gone += await deleteInParts(db, `${table} WHERE ${column} < ?`, [than]);
  return gone;
}
