import { randomUUID } from 'node:crypto';
import type { Logger } from 'pino';
import type { Trace } from '../../core/calls/engine';
import { afterOffer, offersIn, phoneId, type SeatOn } from '../../core/seats';
import { aboutError, onceAMinute } from '../base';
import type { Db } from '../db';
import type { Services } from '../http';
import type { KeepsWhatGoes } from '../switchboard';
import { callsAtSeats, callsOfServer, endSeatCall, keepAlive as sayAlive, putSeatCall } from './calls';
import { openSeats, putOffers, seatStamp } from './queries';
import { changeSeat, seatNamed } from './sign-on';

type Needs = Pick<Services, 'db' | 'store' | 'now' | 'phones'>;
/** Calls in progress that are followed at most. */
const MOST_CALLS = 2000;
const ALIVE_EVERY_MS = 30_000;

export interface FollowsSeats extends Pick<KeepsWhatGoes, 'callSettled' | 'callOver' | 'systemEnded'> {
  /** Says that the calls which seats have go on. */
  readonly keepAlive: () => void;
  readonly close: () => void;
}

/**
 * Follows the calls of the phone system for what they make of seats: missed ones pause, taken ones are counted until
 * they are over, and each is kept as it was offered. It never makes the phone system wait.
 */
export function followSeats(services: () => Needs, log: Logger): FollowsSeats {
  const say = onceAMinute(log);
  const server = randomUUID();
  /** Calls that seats of this server have. */
  const going = new Set<string>();
  let queue: Promise<void> = Promise.resolve();
  const then = (act: () => Promise<void>) => {
    queue = queue.then(act).catch((error: unknown) => {
      say('what a call made of seats could not be noted', { err: aboutError(error) });
    });
  };

  async function settled(id: string, trace: Trace): Promise<void> {
    const all = services();
    const { db, store, now } = all;
    const ons = await openSeats(db);
    if (ons.length === 0) return;
    const live = await store.current();
    const offers = offersIn(trace, live.estate, ons);
    if (offers.length === 0) return;
    const nowMs = now().getTime();
    const beganMs = nowMs - trace.outcome.atMs;
    await putOffers(
      db,
      offers.map(({ seat, end, dialledMs, alertMs, endMs }) => {
        const on = ons.find((each) => each.seat === seat)!;
        return {
          seat,
          person: on.person,
          phone: phoneId(on.at),
          callId: id,
          at: new Date(beganMs + dialledMs),
          rangMs: alertMs === null ? null : Math.max(0, endMs - alertMs),
          end,
          talkedMs: null,
        };
      }),
    );
    for (const { seat, end } of offers) {
      const known = seatNamed(live, seat);
      if (!known) continue;
      const isTaken = end === 'connected' && going.size < MOST_CALLS;
      // One that cannot be followed to its end is not counted.
      if (end === 'connected' && !isTaken) continue;
      if (isTaken) going.add(id);
      const at = new Date(nowMs);
      await changeSeat(all, seat, (on) => afterOffer(known, on, end), {
        along: async (tx, on) =>
          !isTaken || putSeatCall(tx, { callId: id, signOn: on.id, seat, beganAt: at, aliveAt: at }, server),
      });
    }
  }

  async function over(id: string): Promise<void> {
    if (!going.delete(id)) return;
    const all = services();
    for (const call of await callsAtSeats(all.db, id)) await endSeatCall(all, call);
  }
  const keepAlive = () => {
    if (going.size > 0) then(() => sayAlive(services().db, [...going], services().now()));
  };
  const timer = setInterval(keepAlive, ALIVE_EVERY_MS);

  return {
    callSettled: (id, trace) => then(() => settled(id, trace)),
    callOver: (id) => then(() => over(id)),
    systemEnded: () =>
      then(async () => {
        going.clear();
        const all = services();
        for (const call of await callsOfServer(all.db, server)) await endSeatCall(all, call);
      }),
    keepAlive,
    close: () => clearInterval(timer),
  };
}

/** Who is signed on to seats, for the phone system. */
export const whoIsAtSeats = (db: Db) => ({
  read: (): Promise<readonly SeatOn[]> => openSeats(db),
  stamp: () => seatStamp(db),
});
