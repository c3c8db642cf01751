import type { ResultSetHeader, RowDataPacket } from 'mysql2/promise';
import { afterCall } from '../../core/seats';
import type { Queryable } from '../db';
import type { Services } from '../http';
import { noteTalk } from './queries';
import { changeSeat, leaveAfterCall, seatNamed } from './sign-on';

type Needs = Pick<Services, 'db' | 'store' | 'now' | 'phones'>;

/** A call that a seat has. */
export interface SeatCall {
  readonly callId: string;
  readonly signOn: number;
  readonly seat: string;
  readonly beganAt: Date;
  /** When its server last said that it goes on. */
  readonly aliveAt: Date;
}
interface Row extends RowDataPacket {
  call_id: string;
  sign_on: number;
  seat: string;
  began_at: Date;
  alive_at: Date;
}
/** A call of which nothing was heard for so long is over: its server is gone. */
export const LOST_AFTER_MS = 180_000;
const MOST_READ = 2000;
const idOf = (callId: string): string => callId.slice(0, 250);
const callOf = (row: Row): SeatCall => ({
  callId: row.call_id,
  signOn: Number(row.sign_on),
  seat: row.seat,
  beganAt: row.began_at,
  aliveAt: row.alive_at,
});
const readCalls = async (
  db: Queryable,
  where: string,
  value: string | Date,
): Promise<readonly SeatCall[]> => {
  const [rows] = await db.execute<Row[]>(
    `SELECT call_id, sign_on, seat, began_at, alive_at FROM seat_call WHERE ${where} LIMIT ${MOST_READ}`,
    [value],
  );
  return rows.map(callOf);
};

/** @returns false: it is there already */
export async function putSeatCall(db: Queryable, call: SeatCall, server: string): Promise<boolean> {
  const [result] = await db.execute<ResultSetHeader>(
    'INSERT IGNORE INTO seat_call (call_id, sign_on, seat, server, began_at, alive_at) VALUES (?, ?, ?, ?, ?, ?)',
    [idOf(call.callId), call.signOn, call.seat, server, call.beganAt, call.aliveAt],
  );
  return result.affectedRows === 1;
}
async function removeSeatCall(db: Queryable, { callId, signOn }: SeatCall): Promise<boolean> {
  const [result] = await db.execute<ResultSetHeader>(
    'DELETE FROM seat_call WHERE call_id = ? AND sign_on = ?',
    [callId, signOn],
  );
  return result.affectedRows === 1;
}
export const callsAtSeats = (db: Queryable, callId: string) => readCalls(db, 'call_id = ?', idOf(callId));
export const callsOfServer = (db: Queryable, server: string) => readCalls(db, 'server = ?', server);

/** Says of calls that they go on. */
export async function keepAlive(db: Queryable, callIds: readonly string[], at: Date): Promise<void> {
  if (callIds.length > 0)
    await db.query('UPDATE seat_call SET alive_at = ? WHERE call_id IN (?)', [at, callIds.map(idOf)]);
}

/** A seat's call is over: counted down once, whichever server says so. */
export async function endSeatCall(services: Needs, call: SeatCall, at = services.now()): Promise<void> {
  const live = await services.store.current();
  const seat = seatNamed(live, call.seat);
  const took = (on: { readonly id: number }) => on.id === call.signOn;
  const changed = await changeSeat(
    services,
    call.seat,
    (on) => (seat ? afterCall(seat, on, at.getTime()) : { ...on, calls: Math.max(0, on.calls - 1) }),
    {
      along: async (tx, on) => {
        if (!took(on) || !(await removeSeatCall(tx, call))) return false;
        await noteTalk(tx, call.callId, at.getTime() - call.beganAt.getTime());
        return true;
      },
      then: (tx, on, after) => leaveAfterCall(live, at, tx, on, after),
    },
  );
  // Whoever took it is signed off by now.
  if (!changed) await removeSeatCall(services.db, call);
}

/** Ends the calls whose server has said nothing for a while; each once, whichever server looks. */
export async function endLostCalls(services: Needs): Promise<void> {
  const before = new Date(services.now().getTime() - LOST_AFTER_MS);
  for (const call of await readCalls(services.db, 'alive_at < ?', before))
    await endSeatCall(services, call, call.aliveAt);
}
