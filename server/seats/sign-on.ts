import { leaverStatuses } from '../../core/assurance/checks';
import {
  phoneId,
  saySeatRefusal,
  seatRefusal,
  type SeatOn,
  type SeatRefusal,
  type SeatSigning,
} from '../../core/seats';
import type { Person, Seat, SeatPhone } from '../../core/estate';
import { COMES_BETWEEN, lookingAgain, refusal } from '../base';
import { inTransaction, type Tx } from '../db';
import type { LiveEstate } from '../estate';
import type { Services } from '../http';
import { addRecords, type NewRecord, type RecordKind } from '../record';
import {
  endSeatOn,
  insertSeatOn,
  openSeat,
  openSeats,
  patchSeatOn,
  SEAT_OFF_REASONS,
  type SeatOffReason,
  type StoredSeatOn,
} from './queries';

type Needs = Pick<Services, 'db' | 'store' | 'now' | 'phones'>;

export interface SeatWanted {
  readonly seat: string;
  readonly person: string;
  readonly at: SeatPhone;
  readonly credential: SeatSigning['credential'];
  readonly confirmed: boolean;
  readonly who: string;
}
export type SignedToSeat =
  /** `waits`: whoever sits there has a call; they change when it ends. */
  | { readonly ok: true; readonly seat: Seat; readonly person: Person; readonly waits: boolean }
  | { readonly ok: false; readonly why: SeatRefusal; readonly says: string };

export const seatNamed = ({ estate }: LiveEstate, id: string | undefined): Seat | undefined =>
  estate.seats?.find((each) => each.id === id);

const told = (
  live: LiveEstate,
  kind: RecordKind,
  on: { readonly seat: string; readonly person: string },
  who: string,
  detail: string,
): NewRecord => ({
  who,
  kind,
  personId: on.person,
  subject: seatNamed(live, on.seat)?.name ?? on.seat,
  detail: `${live.finder.person(on.person)?.name ?? on.person}${detail ? `, ${detail}` : ''}`,
});

/** The phone in words, a private number left out: the record is read by many. */
const sayPhone = (person: Person | undefined, at: SeatPhone): string =>
  'endpoint' in at
    ? (person?.endpoints.find(({ id }) => id === at.endpoint)?.label ?? at.endpoint)
    : 'number' in at
      ? 'at a number'
      : 'at a SIP address';

const isSamePhone = (a: SeatPhone, b: SeatPhone): boolean => phoneId(a) === phoneId(b);

/**
 * Signs somebody on to a seat at a phone, or says why not; whoever is there is signed off in the same transaction where
 * that was confirmed. The database holds one open sign-on of each seat, whichever server writes.
 */
export async function signOnToSeat(services: Needs, wanted: SeatWanted): Promise<SignedToSeat> {
  const live = await services.store.current();
  const seat = seatNamed(live, wanted.seat);
  const person = live.finder.person(wanted.person);
  const left = leaverStatuses(live.estate);
  return lookingAgain('Others are signing on to this seat at this moment. Try again.', async () => {
    const here = await openSeat(services.db, wanted.seat);
    const why = seatRefusal(
      {
        seat,
        person,
        at: wanted.at,
        credential: wanted.credential,
        hasLeft: person !== undefined && left.has(person.status),
        occupant: here,
        confirmed: wanted.confirmed,
      },
      live.index,
    );
    if (why === 'in-call' && here && seat && person) {
      const waiting = here.leaving?.next?.person;
      if (waiting !== undefined && waiting !== person.id)
        return {
          ok: false,
          why,
          says: `${live.finder.person(waiting)?.name ?? 'Somebody'} waits for this seat already.`,
        };
      const next = { person: person.id, at: wanted.at };
      const leaving = { why: 'taken-over', who: wanted.who, next };
      if (!(await patchSeatOn(services.db, here, { ...here, leaving }))) throw COMES_BETWEEN;
      services.phones.seatsChanged();
      return { ok: true, seat, person, waits: true };
    }
    if (why !== null || !seat || !person) {
      const occupant = here ? (live.finder.person(here.person)?.name ?? null) : null;
      return { ok: false, why: why ?? 'no-such-seat', says: saySeatRefusal(why ?? 'no-such-seat', occupant) };
    }
    // Whoever is there already at the same phone stays.
    if (here?.person === person.id && isSamePhone(here.at, wanted.at))
      return { ok: true, seat, person, waits: false };
    const since = services.now();
    await inTransaction(services.db, async (tx) => {
      const records: NewRecord[] = [];
      if (here) {
        if (!(await endSeatOn(tx, here.id, since, 'taken-over'))) throw COMES_BETWEEN;
        records.push(told(live, 'seat-sign-off', here, wanted.who, 'taken-over'));
      }
      await insertSeatOn(tx, { seat: seat.id, person: person.id, at: wanted.at, since });
      records.push(
        told(
          live,
          'seat-sign-on',
          { seat: seat.id, person: person.id },
          wanted.who,
          sayPhone(person, wanted.at),
        ),
      );
      await addRecords(tx, records);
    });
    services.phones.seatsChanged();
    return { ok: true, seat, person, waits: false };
  });
}

/**
 * Signs whoever is at a seat off, but never out of a call: then they are signed off once it has ended, and take no more.
 * @returns whether they are off, or wait for the end of a call; null: somebody else has signed them off
 */
export async function signOffSeat(
  services: Needs,
  on: StoredSeatOn,
  why: SeatOffReason,
  who: string,
): Promise<'off' | 'waits' | null> {
  const live = await services.store.current();
  const done = await inTransaction(services.db, async (tx) => {
    if (!(await endSeatOn(tx, on.id, services.now(), why))) return false;
    await addRecords(tx, [told(live, 'seat-sign-off', on, who, why)]);
    return true;
  });
  if (done) {
    services.phones.seatsChanged();
    return 'off';
  }
  const waits = await changeSeat(
    services,
    on.seat,
    (now) => ({ ...now, leaving: now.leaving ?? { why, who, next: null } }),
    { along: (_tx, now) => Promise.resolve(now.id === on.id && now.calls > 0) },
  );
  return waits ? 'waits' : null;
}

/** Whoever is to leave a seat once its calls have ended does so, and whoever waits for it is signed on. */
export async function leaveAfterCall(
  live: LiveEstate,
  at: Date,
  tx: Tx,
  on: StoredSeatOn,
  after: SeatOn,
): Promise<void> {
  const { leaving } = after;
  if (!leaving || after.calls > 0) return;
  const why = SEAT_OFF_REASONS.find((each) => each === leaving.why) ?? 'by-hand';
  if (!(await endSeatOn(tx, on.id, at, why))) return;
  const records = [told(live, 'seat-sign-off', on, leaving.who, why)];
  const next = leaving.next && live.finder.person(leaving.next.person);
  if (leaving.next && next && seatNamed(live, on.seat)) {
    await insertSeatOn(tx, { seat: on.seat, ...leaving.next, since: at });
    const seated = { seat: on.seat, person: next.id };
    records.push(told(live, 'seat-sign-on', seated, leaving.who, sayPhone(next, leaving.next.at)));
  }
  await addRecords(tx, records);
}

/** What is written along with a change of a seat, in the same transaction: both are written, or neither. */
interface Along {
  /** Before it. @returns false: nothing is changed */
  readonly along?: (tx: Tx, on: StoredSeatOn) => Promise<boolean>;
  readonly then?: (tx: Tx, on: StoredSeatOn, after: SeatOn) => Promise<void>;
}

/** Changes a seat's state as it is by then; a change that came between is taken into account. */
export async function changeSeat(
  services: Needs,
  seat: string,
  change: (on: StoredSeatOn) => SeatOn,
  { along, then }: Along = {},
): Promise<StoredSeatOn | null> {
  const done = await lookingAgain('Others are changing this seat at this moment. Try again.', async () => {
    const on = await openSeat(services.db, seat);
    if (!on) return null;
    return inTransaction(services.db, async (tx) => {
      if (along && !(await along(tx, on))) return null;
      const after = change(on);
      if (!(await patchSeatOn(tx, on, after))) throw COMES_BETWEEN;
      await then?.(tx, on, after);
      return on;
    });
  });
  if (done) services.phones.seatsChanged();
  return done;
}

/** Pauses a seat with a reason, or has it go on; a paused one that missed calls begins to count anew. */
export async function pauseSeat(
  services: Needs,
  seat: string,
  why: string | null,
  who: string,
): Promise<void> {
  const live = await services.store.current();
  const nowMs = services.now().getTime();
  const on = await changeSeat(
    services,
    seat,
    (before) => ({
      ...before,
      pausedWhy: why,
      ...(why === null ? { misses: 0, idleSinceMs: nowMs, leaving: null } : {}),
    }),
    {
      then: async (tx, before) => {
        await addRecords(tx, [
          told(live, why === null ? 'seat-resumed' : 'seat-paused', before, who, why ?? ''),
        ]);
      },
    },
  );
  if (!on) throw refusal(409, 'Nobody is signed on to this seat any more.');
}

/** Signs off whoever has left, and whose seat is gone; each once, whichever server looks. */
export async function signOffGone(services: Needs): Promise<void> {
  const open = await openSeats(services.db);
  if (open.length === 0) return;
  const live = await services.store.current();
  const left = leaverStatuses(live.estate);
  for (const on of open) {
    // Whoever leaves once their call has ended is waited for.
    if (on.leaving) continue;
    const person = live.finder.person(on.person);
    if (!seatNamed(live, on.seat)) await signOffSeat(services, on, 'seat-gone', 'by itself');
    else if (!person || left.has(person.status)) await signOffSeat(services, on, 'left', 'by itself');
  }
}
