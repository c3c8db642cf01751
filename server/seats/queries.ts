import type { ResultSetHeader, RowDataPacket } from 'mysql2/promise';
import type { SeatLeaving, SeatOn } from '../../core/seats';
import type { SeatPhone } from '../../core/estate';
import type { Queryable } from '../db';

/** Why somebody was signed off from a seat. */
export const SEAT_OFF_REASONS = ['by-hand', 'by-specialist', 'taken-over', 'left', 'seat-gone'] as const;
export type SeatOffReason = (typeof SEAT_OFF_REASONS)[number];

/** A sign-on as it is kept, with the version that a change must find. */
export interface StoredSeatOn extends SeatOn {
  readonly id: number;
  readonly version: number;
}

interface Row extends RowDataPacket {
  id: number;
  seat: string;
  person: string;
  phone: string;
  since: Date;
  paused_why: string | null;
  misses: number;
  calls: number;
  idle_since: Date;
  wrap_until: Date | null;
  version: number;
  leaving: string | null;
}
const FIELDS =
  'id, seat, person, phone, since, paused_why, misses, calls, idle_since, wrap_until, version, leaving';
const MOST_READ = 5000;
const onOf = (row: Row): StoredSeatOn => ({
  id: Number(row.id),
  seat: row.seat,
  person: row.person,
  at: JSON.parse(row.phone) as SeatPhone,
  sinceMs: row.since.getTime(),
  pausedWhy: row.paused_why,
  misses: row.misses,
  calls: row.calls,
  idleSinceMs: row.idle_since.getTime(),
  wrapUntilMs: row.wrap_until?.getTime() ?? null,
  version: row.version,
  leaving: row.leaving === null ? null : (JSON.parse(row.leaving) as SeatLeaving),
});

/** All who are signed on to seats. */
export async function openSeats(db: Queryable): Promise<readonly StoredSeatOn[]> {
  const [rows] = await db.query<Row[]>(
    `SELECT ${FIELDS} FROM seat_sign_on WHERE open_seat IS NOT NULL ORDER BY id LIMIT ${MOST_READ}`,
  );
  return rows.map(onOf);
}
/** Who is at a seat; null: nobody. */
export async function openSeat(db: Queryable, seat: string): Promise<StoredSeatOn | null> {
  const [[row]] = await db.execute<Row[]>(`SELECT ${FIELDS} FROM seat_sign_on WHERE open_seat = ?`, [seat]);
  return row ? onOf(row) : null;
}

/** @throws ER_DUP_ENTRY where somebody is at the seat */
export async function insertSeatOn(
  db: Queryable,
  { seat, person, at, since }: { seat: string; person: string; at: SeatPhone; since: Date },
): Promise<void> {
  await db.execute(
    'INSERT INTO seat_sign_on (seat, person, phone, since, idle_since) VALUES (?, ?, ?, ?, ?)',
    [seat, person, JSON.stringify(at), since, since],
  );
}

/** Ends a sign-on that has no call. @returns whether it was this that ended it */
export async function endSeatOn(
  db: Queryable,
  id: number,
  endedAt: Date,
  why: SeatOffReason,
): Promise<boolean> {
  const [result] = await db.execute<ResultSetHeader>(
    'UPDATE seat_sign_on SET ended_at = GREATEST(since, ?), why = ? WHERE id = ? AND ended_at IS NULL AND calls = 0',
    [endedAt, why, id],
  );
  return result.affectedRows === 1;
}

/** Writes a seat's state, unless somebody else has changed it since it was read. @returns whether it was written */
export async function patchSeatOn(db: Queryable, before: StoredSeatOn, after: SeatOn): Promise<boolean> {
  const [result] = await db.execute<ResultSetHeader>(
    `UPDATE seat_sign_on SET paused_why = ?, misses = ?, calls = ?, idle_since = ?, wrap_until = ?, leaving = ?, version = version + 1
     WHERE id = ? AND version = ? AND ended_at IS NULL`,
    [
      after.pausedWhy,
      after.misses,
      after.calls,
      new Date(after.idleSinceMs),
      after.wrapUntilMs === null ? null : new Date(after.wrapUntilMs),
      after.leaving ? JSON.stringify(after.leaving) : null,
      before.id,
      before.version,
    ],
  );
  return result.affectedRows === 1;
}

export async function seatStamp(db: Queryable): Promise<string> {
  const [[row]] = await db.query<RowDataPacket[]>(
    'SELECT COUNT(*) AS n, MAX(id) AS newest, SUM(id * version) AS mark FROM seat_sign_on WHERE open_seat IS NOT NULL',
  );
  return `${String(row?.n)} ${String(row?.newest)} ${String(row?.mark)}`;
}

/** A call that was offered to a seat. */
export interface KeptOffer {
  readonly seat: string;
  readonly person: string;
  readonly phone: string;
  readonly callId: string;
  readonly at: Date;
  readonly rangMs: number | null;
  readonly end: string;
  readonly talkedMs: number | null;
}
export async function putOffers(db: Queryable, offers: readonly KeptOffer[]): Promise<void> {
  if (offers.length === 0) return;
  await db.query(
    'INSERT IGNORE INTO seat_offer (seat, person, phone, call_id, offered_at, rang_ms, ended, talked_ms) VALUES ?',
    [
      offers.map((each) => [
        each.seat,
        each.person,
        each.phone,
        each.callId.slice(0, 250),
        each.at,
        each.rangMs,
        each.end,
        each.talkedMs,
      ]),
    ],
  );
}
export async function noteTalk(db: Queryable, callId: string, talkedMs: number): Promise<void> {
  await db.execute("UPDATE seat_offer SET talked_ms = ? WHERE call_id = ? AND ended = 'connected'", [
    Math.max(0, Math.round(talkedMs)),
    callId.slice(0, 250),
  ]);
}
interface OfferRow extends RowDataPacket {
  seat: string;
  person: string;
  phone: string;
  call_id: string;
  offered_at: Date;
  rang_ms: number | null;
  ended: string;
  talked_ms: number | null;
}
/** The calls offered to a seat of late, the latest first. */
export async function offersOf(db: Queryable, seat: string, most: number): Promise<readonly KeptOffer[]> {
  const [rows] = await db.execute<OfferRow[]>(
    `SELECT seat, person, phone, call_id, offered_at, rang_ms, ended, talked_ms FROM seat_offer
     WHERE seat = ? ORDER BY offered_at DESC, id DESC LIMIT ${Math.trunc(most)}`,
    [seat],
  );
  return rows.map((row) => ({
    seat: row.seat,
    person: row.person,
    phone: row.phone,
    callId: row.call_id,
    at: row.offered_at,
    rangMs: row.rang_ms,
    end: row.ended,
    talkedMs: row.talked_ms === null ? null : Number(row.talked_ms),
  }));
}
