import type { Logger } from 'pino';
import type { Trace } from '../../core/calls/engine';
import { afterCall, afterOffer, offersIn, phoneId, type SeatOn } from '../../core/seats';
import { aboutError, onceAMinute } from '../base';
import type { Db } from '../db';
import type { Services } from '../http';
import type { KeepsWhatGoes } from '../switchboard';
import { noCalls, noteTalk, openSeats, putOffers, seatStamp } from './queries';
import { changeSeat, seatNamed } from './sign-on';

type Needs = Pick<Services, 'db' | 'store' | 'now' | 'phones'>;
/** Calls in progress that are followed at most. */
const MOST_CALLS = 2000;

/**
 * Follows the calls of the phone system for what they make of seats: missed ones pause, taken ones are counted until
 * they are over, and each is kept as it was offered. It never makes the phone system wait.
 */
export function followSeats(
  services: () => Needs,
  log: Logger,
): Pick<KeepsWhatGoes, 'callSettled' | 'callOver' | 'systemEnded'> {
  const say = onceAMinute(log);
  const taken = new Map<string, { readonly seats: readonly string[]; readonly sinceMs: number }>();
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
    const connected: string[] = [];
    for (const { seat, end } of offers) {
      const known = seatNamed(live, seat);
      if (!known) continue;
      await changeSeat(all, seat, (on) => afterOffer(known, on, end));
      if (end === 'connected') connected.push(seat);
    }
    if (connected.length > 0 && taken.size < MOST_CALLS) taken.set(id, { seats: connected, sinceMs: nowMs });
  }

  async function over(id: string): Promise<void> {
    const was = taken.get(id);
    if (!was) return;
    taken.delete(id);
    const all = services();
    const nowMs = all.now().getTime();
    await noteTalk(all.db, id, nowMs - was.sinceMs);
    const live = await all.store.current();
    for (const seat of was.seats) {
      const known = seatNamed(live, seat);
      if (known) await changeSeat(all, seat, (on) => afterCall(known, on, nowMs));
    }
  }

  return {
    callSettled: (id, trace) => then(() => settled(id, trace)),
    callOver: (id) => then(() => over(id)),
    systemEnded: () => {
      taken.clear();
      then(() => noCalls(services().db, services().now()));
    },
  };
}

/** Who is signed on to seats, for the phone system. */
export const whoIsAtSeats = (db: Db) => ({
  read: (): Promise<readonly SeatOn[]> => openSeats(db),
  stamp: () => seatStamp(db),
});
