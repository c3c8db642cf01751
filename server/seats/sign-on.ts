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
  | { readonly ok: true; readonly seat: Seat; readonly person: Person }
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
      { estate: live.estate, classOf: live.index.classOf },
    );
    if (why !== null || !seat || !person) {
      const occupant = here ? (live.finder.person(here.person)?.name ?? null) : null;
      return { ok: false, why: why ?? 'no-such-seat', says: saySeatRefusal(why ?? 'no-such-seat', occupant) };
    }
    // Whoever is there already at the same phone stays.
    if (here?.person === person.id && isSamePhone(here.at, wanted.at)) return { ok: true, seat, person };
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
    return { ok: true, seat, person };
  });
}

/** Signs whoever is at a seat off, but never out of a call. */
export async function signOffSeat(
  services: Needs,
  on: StoredSeatOn,
  why: SeatOffReason,
  who: string,
): Promise<boolean> {
  const live = await services.store.current();
  const done = await inTransaction(services.db, async (tx) => {
    if (!(await endSeatOn(tx, on.id, services.now(), why))) return false;
    await addRecords(tx, [told(live, 'seat-sign-off', on, who, why)]);
    return true;
  });
  if (done) services.phones.seatsChanged();
  return done;
}

/** What is written along with a change of a seat, in the same transaction. @returns false: nothing is changed */
type Along = (tx: Tx, on: StoredSeatOn) => Promise<boolean>;

/**
 * Changes a seat's state as it is by then; a change that came between is taken into account.
 * @param along what belongs to the change: both are written, or neither
 */
export async function changeSeat(
  services: Needs,
  seat: string,
  change: (on: StoredSeatOn) => SeatOn,
  along: Along = async () => true,
): Promise<StoredSeatOn | null> {
  const done = await lookingAgain('Others are changing this seat at this moment. Try again.', async () => {
    const on = await openSeat(services.db, seat);
    if (!on) return null;
    return inTransaction(services.db, async (tx) => {
      if (!(await along(tx, on))) return null;
      if (!(await patchSeatOn(tx, on, change(on)))) throw COMES_BETWEEN;
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
      ...(why === null ? { misses: 0, idleSinceMs: nowMs } : {}),
    }),
    async (tx, before) => {
      await addRecords(tx, [
        told(live, why === null ? 'seat-resumed' : 'seat-paused', before, who, why ?? ''),
      ]);
      return true;
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
    const person = live.finder.person(on.person);
    if (!seatNamed(live, on.seat)) await signOffSeat(services, on, 'seat-gone', 'by itself');
    else if (!person || left.has(person.status)) await signOffSeat(services, on, 'left', 'by itself');
  }
}
