import {
  DEFAULT_SEAT,
  memberId,
  type Estate,
  type Ms,
  type PersonId,
  type Seat,
  type SeatPhone,
  type SeatState,
} from '../estate';
import type { LegEnd, SeatInCall, Trace } from '../calls/engine';

/** Somebody at a seat, as it is kept beside the estate. Moments in ms since 1970. */
export interface SeatOn {
  readonly seat: string;
  readonly person: PersonId;
  readonly at: SeatPhone;
  readonly sinceMs: number;
  /** Why it is paused; null: it is not. */
  readonly pausedWhy: string | null;
  /** Calls in a row that were not taken. */
  readonly misses: number;
  readonly idleSinceMs: number;
  /** Until when it is in wrap-up; null: it is not. */
  readonly wrapUntilMs: number | null;
  readonly calls: number;
  /** Signed off once its calls have ended; null or left out: not. */
  readonly leaving?: SeatLeaving | null;
}
export interface SeatLeaving {
  readonly why: string;
  /** Who asked for it, for the record. */
  readonly who: string;
  /** Who is signed on then, and at which phone; null: nobody. */
  readonly next: { readonly person: PersonId; readonly at: SeatPhone } | null;
}

/** How the phone of a seat stands that is to stay connected. `rings`: it does not, and rings for each call. */
export interface SeatLine {
  readonly state: 'calling' | 'held' | 'rings';
  /** Why it is not connected; null: it is, or is being called. */
  readonly why: string | null;
}

/** The id by which a call's legs know the phone that a seat is at. */
export const phoneId = (at: SeatPhone): string =>
  'endpoint' in at ? at.endpoint : 'number' in at ? at.number : at.sip;

export function stateOf(seat: Seat, on: SeatOn, nowMs: number): SeatState {
  if (on.pausedWhy !== null) return 'paused';
  if (on.calls >= (seat.callsAtOnce ?? DEFAULT_SEAT.callsAtOnce)) return 'on-call';
  // Whoever is about to leave is given no more calls.
  if (on.leaving) return 'paused';
  return on.wrapUntilMs !== null && on.wrapUntilMs > nowMs && on.calls === 0 ? 'wrap-up' : 'ready';
}

/** A seat as a call finds it at a moment. */
export const seatNow = (seat: Seat, on: SeatOn, nowMs: number): SeatInCall => ({
  person: on.person,
  at: on.at,
  state: stateOf(seat, on, nowMs),
  calls: on.calls,
  idleMs: Math.max(0, Math.round(nowMs - on.idleSinceMs)) as Ms,
});

/** All seats that somebody is at, as calls find them at a moment. */
export const seatsNow = (
  { seats = [] }: Pick<Estate, 'seats'>,
  ons: readonly SeatOn[],
  nowMs: number,
): Readonly<Record<string, SeatInCall>> =>
  Object.fromEntries(
    ons.flatMap((on) => {
      const seat = seats.find(({ id }) => id === on.seat);
      return seat ? [[seat.id, seatNow(seat, on, nowMs)] as const] : [];
    }),
  );

/** Ends by which a call that rang at a seat was missed there; others say nothing of whoever sits there. */
const MISSES: readonly LegEnd[] = [
  'no-answer',
  'rejected',
  'refused',
  'not-confirmed',
  'busy',
  'unregistered',
  'unreachable',
];
export const isMiss = (end: LegEnd): boolean => MISSES.includes(end);

/** A call that was offered to a seat, and how that ended. Times in ms since the call arrived. */
export interface SeatOffer {
  readonly seat: string;
  readonly end: LegEnd;
  readonly dialledMs: Ms;
  readonly alertMs: Ms | null;
  readonly endMs: Ms;
}

/**
 * Which legs of a call were offers to seats: those at the phone of whoever sits there, in calls that came by a group
 * that the seat is in.
 */
export function offersIn(
  { legs, path }: Pick<Trace, 'legs' | 'path'>,
  { groups }: Pick<Estate, 'groups'>,
  ons: readonly SeatOn[],
): readonly SeatOffer[] {
  const inGroups = new Set(
    path.flatMap((step) =>
      'group' in step
        ? (groups.find(({ id }) => id === step.group)?.members ?? []).flatMap((member) =>
            'seat' in member ? [memberId(member)] : [],
          )
        : [],
    ),
  );
  return ons
    .filter(({ seat }) => inGroups.has(seat))
    .flatMap(({ seat, at }) =>
      legs
        .filter(({ endpoint }) => endpoint === phoneId(at))
        .map(({ end, dialledMs, alertMs, endMs }) => ({ seat, end, dialledMs, alertMs, endMs })),
    );
}

/** A seat after a call was offered to it: what it missed is counted, and pauses it where it is too much. */
export function afterOffer(seat: Seat, on: SeatOn, end: LegEnd): SeatOn {
  if (end === 'connected') return { ...on, misses: 0, calls: on.calls + 1, wrapUntilMs: null };
  if (!isMiss(end)) return on;
  const misses = on.misses + 1;
  const most = seat.missesUntilPaused ?? DEFAULT_SEAT.missesUntilPaused;
  return {
    ...on,
    misses,
    pausedWhy: on.pausedWhy ?? (misses >= most ? `missed ${misses} calls in a row` : null),
  };
}

/** A seat after a call that it had: the last one is followed by the wrap-up. */
export function afterCall(seat: Seat, on: SeatOn, nowMs: number): SeatOn {
  const calls = Math.max(0, on.calls - 1);
  const wrapUpMs = seat.wrapUpMs ?? DEFAULT_SEAT.wrapUpMs;
  return {
    ...on,
    calls,
    idleSinceMs: nowMs,
    wrapUntilMs: calls === 0 && wrapUpMs > 0 ? nowMs + wrapUpMs : null,
  };
}
