import type { ResultSetHeader, RowDataPacket } from 'mysql2/promise';
import type { E164 } from '../../core/estate';
import type { CallEnd, KeptState, RoundPlan } from '../../core/rounds';
import type { RoundState } from '../../api/rounds';
import { fromJson, type Queryable, type Tx } from '../db';

/** What keeps a number from being called twice: who calls it is written before it is called. */

/** A server that has said nothing for so long calls no more: another one goes on. */
const GONE_AFTER_S = 20;

/** Rounds that somebody has to look after: they run, or calls of them are open. */
export async function roundsToRun(db: Queryable): Promise<readonly number[]> {
  const [rows] = await db.query<RowDataPacket[]>(
    `SELECT id FROM call_round WHERE state = 'running' OR (state IN ('paused', 'stopped') AND
       EXISTS (SELECT 1 FROM round_number n WHERE n.round = call_round.id AND n.state = 'calling'))
     ORDER BY id LIMIT 50`,
  );
  return rows.map((row) => Number(row.id));
}

export interface HeldRound {
  readonly state: RoundState;
  readonly plan: RoundPlan;
  /** The server before this one has gone in the middle. */
  readonly isTaken: boolean;
}

/**
 * Locks a round and says that this server calls it, unless another one does.
 * @returns null: another one does
 */
export async function holdRound(tx: Tx, round: number, server: string): Promise<HeldRound | null> {
  const [[row]] = await tx.execute<RowDataPacket[]>(
    `SELECT state, plan, server, (alive_at IS NULL OR alive_at < UTC_TIMESTAMP(3) - INTERVAL ${GONE_AFTER_S} SECOND) AS gone
     FROM call_round WHERE id = ? FOR UPDATE`,
    [round],
  );
  if (!row) return null;
  const isOwn = row.server === server;
  if (!isOwn && row.server !== null && Number(row.gone) !== 1) return null;
  await tx.execute('UPDATE call_round SET server = ?, alive_at = UTC_TIMESTAMP(3) WHERE id = ?', [
    server,
    round,
  ]);
  return {
    state: row.state as RoundState,
    plan: fromJson(row.plan) as RoundPlan,
    isTaken: !isOwn && row.server !== null,
  };
}

/** Calls of a round that are open, by the line and the try. */
export async function openCalls(
  db: Queryable,
  round: number,
): Promise<readonly { readonly line: number; readonly tries: number }[]> {
  const [rows] = await db.execute<RowDataPacket[]>(
    "SELECT line, tries FROM round_number WHERE round = ? AND state = 'calling'",
    [round],
  );
  return rows.map((row) => ({ line: Number(row.line), tries: Number(row.tries) }));
}

/** The end of these calls is not known: they are listed, and never called again. */
export async function giveUpCalls(
  tx: Tx,
  round: number,
  lines: readonly number[],
  why: string,
): Promise<void> {
  if (lines.length > 0)
    await tx.query(
      "UPDATE round_number SET state = 'unknown', why = ? WHERE round = ? AND line IN (?) AND state = 'calling'",
      [why, round, lines],
    );
}

/** Zones of the numbers that wait. */
export async function zonesWaiting(db: Queryable, round: number): Promise<readonly string[]> {
  const [rows] = await db.execute<RowDataPacket[]>(
    "SELECT DISTINCT zone FROM round_number WHERE round = ? AND state = 'waiting' AND zone IS NOT NULL",
    [round],
  );
  return rows.map((row) => String(row.zone));
}

export interface DueNumber {
  readonly line: number;
  readonly number: E164;
  /** How often it has been called. */
  readonly tries: number;
}
/** The numbers whose turn it is, those first that have waited longest. @param zones where the hours allow a call */
export async function dueNumbers(
  tx: Tx,
  round: number,
  zones: readonly string[],
  at: Date,
  most: number,
): Promise<readonly DueNumber[]> {
  if (zones.length === 0 || most <= 0) return [];
  const [rows] = await tx.query<RowDataPacket[]>(
    `SELECT line, number, tries FROM round_number
     WHERE round = ? AND state = 'waiting' AND not_before <= ? AND zone IN (?) AND number IS NOT NULL
     ORDER BY not_before, line LIMIT ? FOR UPDATE`,
    [round, at, zones, most],
  );
  return rows.map((row) => ({
    line: Number(row.line),
    number: String(row.number),
    tries: Number(row.tries),
  }));
}

/** A number that is not called after all. */
export async function refuseNumber(
  tx: Tx,
  round: number,
  line: number,
  state: KeptState,
  why: string,
): Promise<void> {
  await tx.execute('UPDATE round_number SET state = ?, why = ? WHERE round = ? AND line = ?', [
    state,
    why.slice(0, 200),
    round,
    line,
  ]);
}

/** Writes down that a number is being called, before it is. */
export async function beginCall(
  tx: Tx,
  round: number,
  { line, tries }: DueNumber,
  server: string,
  at: Date,
): Promise<void> {
  await tx.execute(
    "UPDATE round_number SET state = 'calling', why = '', tries = ?, called_at = ?, played_ms = NULL WHERE round = ? AND line = ?",
    [tries + 1, at, round, line],
  );
  await tx.execute('INSERT INTO round_try (round, line, nth, server, called_at) VALUES (?, ?, ?, ?, ?)', [
    round,
    line,
    tries + 1,
    server,
    at,
  ]);
}

/** A call that was never placed: as if it had not been begun. */
export async function unbeginCall(
  tx: Tx,
  round: number,
  line: number,
  nth: number,
  again: Date,
  why: string,
): Promise<void> {
  const [{ affectedRows }] = await tx.execute<ResultSetHeader>(
    "UPDATE round_number SET state = 'waiting', tries = ?, not_before = ?, why = ? WHERE round = ? AND line = ? AND state = 'calling' AND tries = ?",
    [nth - 1, again, why, round, line, nth],
  );
  if (affectedRows === 1)
    await tx.execute('DELETE FROM round_try WHERE round = ? AND line = ? AND nth = ?', [round, line, nth]);
}

/** Whether any number still waits or is being called. */
export async function hasWaiting(db: Queryable, round: number): Promise<boolean> {
  const [rows] = await db.execute<RowDataPacket[]>(
    "SELECT 1 FROM round_number WHERE round = ? AND state IN ('waiting', 'calling') LIMIT 1",
    [round],
  );
  return rows.length > 0;
}

export interface EndedCall {
  readonly round: number;
  readonly line: number;
  readonly nth: number;
  readonly end: CallEnd;
  readonly playedMs: number;
  readonly state: KeptState;
  readonly again: Date | null;
  readonly why: string;
  readonly at: Date;
}
/**
 * Writes down how a call ended, once. One that was given up as not known is put right if its end is told after all, but
 * is not called again.
 * @returns whether it was this that ended it
 */
export async function endCall(tx: Tx, ended: EndedCall): Promise<boolean> {
  const { round, line, nth, at } = ended;
  const [[row]] = await tx.execute<RowDataPacket[]>(
    "SELECT state FROM round_number WHERE round = ? AND line = ? AND tries = ? AND state IN ('calling', 'unknown') FOR UPDATE",
    [round, line, nth],
  );
  if (!row || (row.state === 'unknown' && (ended.state === 'waiting' || ended.state === 'unknown')))
    return false;
  await tx.execute(
    `UPDATE round_number SET state = ?, why = ?, not_before = COALESCE(?, not_before), played_ms = ?
     WHERE round = ? AND line = ?`,
    [ended.state, ended.why.slice(0, 200), ended.again, Math.round(ended.playedMs), round, line],
  );
  await tx.execute('UPDATE round_try SET ended = ?, ended_at = ? WHERE round = ? AND line = ? AND nth = ?', [
    ended.end,
    at,
    round,
    line,
    nth,
  ]);
  return true;
}

/** @returns the number of a line */
export async function numberAt(db: Queryable, round: number, line: number): Promise<E164 | null> {
  const [[row]] = await db.execute<RowDataPacket[]>(
    'SELECT number FROM round_number WHERE round = ? AND line = ?',
    [round, line],
  );
  return row?.number ? String(row.number) : null;
}
