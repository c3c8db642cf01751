import { DEFAULT_SEAT } from '../../estate';
import { rankOf, seatTurn, type Call, type EstateIndex, type SeatInCall } from '../engine';
import type { QuickMember, QuickSeat, QuickTarget } from './quick-compile';
import type { QuickState } from './quick-state';

const SIGNED_OFF: SeatInCall = {};

/** Gives phones outside that seats are at in a call a place each, and takes it from those of the call before. */
export function placeSeatPhones(
  state: QuickState,
  index: EstateIndex,
  seats: NonNullable<Call['world']>['seats'],
): void {
  const { quick } = state;
  for (const id of state.seatPhones) quick.slotOf.delete(id);
  state.seatPhones.length = 0;
  state.seats = seats;
  for (const { seat, slot } of quick.seats) {
    const turn = seatTurn(index, seat, seatNow(state, seat.id));
    if (typeof turn === 'string') continue;
    if (turn.plays) {
      quick.slots[slot] = turn.known;
      continue;
    }
    const { id } = turn.known.endpoint;
    if (quick.slotOf.has(id)) continue;
    quick.slots[slot] = turn.known;
    quick.slotOf.set(id, slot);
    state.seatPhones.push(id);
  }
}

export const seatNow = (state: QuickState, id: string): SeatInCall =>
  (state.seats && Object.hasOwn(state.seats, id) ? state.seats[id] : undefined) ?? SIGNED_OFF;

/** What a seat contributes now; null: nothing. */
export function seatTarget(
  state: QuickState,
  { seat, slot }: QuickSeat,
  groupPermission: string,
): QuickTarget | null {
  const turn = seatTurn(state.index, seat, seatNow(state, seat.id));
  if (typeof turn === 'string') return null;
  const payer = turn.payer === null ? undefined : state.index.people.get(turn.payer);
  const at = turn.plays ? slot : state.quick.slotOf.get(turn.known.endpoint.id)!;
  const target = state.quick.bareTarget(at, payer?.permission ?? groupPermission);
  return {
    ...target,
    confirm: turn.confirm !== 'none',
    asksName: turn.confirm === 'key-name',
    plays: turn.plays ? seat.id : null,
  };
}

/** How long a member of a group that goes by rank rings. */
export const rankedRingMs = (member: QuickMember, ringMs: number): number =>
  'seat' in member ? (member.seat.seat.ringMs ?? DEFAULT_SEAT.ringMs) : ringMs;

export const rankOfMember = (member: QuickMember): number =>
  'seat' in member ? member.rank : rankOf({ person: member.id });
