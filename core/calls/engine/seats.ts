import {
  type SettingRef,
  DEFAULT_SEAT,
  type Confirm,
  type Group,
  type RingTarget,
  type Seat,
  type SeatMember,
  type SeatPhone,
  type SeatState,
} from '../../estate';
import { bareNumber, bareUri, knownEndpoint, type EstateIndex, type KnownEndpoint } from './compile';
import type { PlannedTarget } from './leg';
import { note, payerOf, seatOf, type Payer, type Run } from './state';
import type { SeatInCall } from './types';

/** What a seat contributes to a call: the phone that rings for it, or that it plays something. */
export interface SeatTurn {
  readonly known: KnownEndpoint;
  readonly confirm: Confirm;
  /** With whose permission it is dialled: a person's by id, null: the group's. */
  readonly payer: string | null;
  readonly plays: boolean;
}

/** A leg that is named after the seat: nothing rings, something is played. */
const playing = ({ id, name }: Seat): KnownEndpoint => knownEndpoint({ id, label: name, kind: 'sip' }, null);

const phoneAt = (index: EstateIndex, at: SeatPhone): KnownEndpoint | undefined => {
  if ('endpoint' in at) return index.endpoints.get(at.endpoint);
  return 'number' in at ? bareNumber(at.number) : bareUri(at.sip);
};

/**
 * What a seat contributes as a call stands (desks, places and seats, section 3 and its section 6): one phone, something
 * that is played, or, in words, why nothing.
 */
export function seatTurn(index: EstateIndex, seat: Seat, now: SeatInCall): SeatTurn | string {
  const state: SeatState = now.state ?? 'signed-off';
  if ((now.calls ?? 0) >= (seat.callsAtOnce ?? DEFAULT_SEAT.callsAtOnce))
    return 'no call more is taken at a time';
  const known = state === 'ready' && now.at ? phoneAt(index, now.at) : undefined;
  if (known)
    return {
      known,
      confirm: known.number === null ? 'none' : 'key',
      payer: now.person ?? known.owner?.id ?? null,
      plays: false,
    };
  const { unattended } = seat;
  if (!unattended) return WHY[state];
  if ('play' in unattended) return { known: playing(seat), confirm: 'none', payer: null, plays: true };
  const { passTo, confirm } = unattended;
  return 'number' in passTo
    ? { known: bareNumber(passTo.number), confirm: confirm ?? 'key', payer: null, plays: false }
    : { known: bareUri(passTo.sip), confirm: confirm ?? 'none', payer: null, plays: false };
}

const WHY: Readonly<Record<SeatState, string>> = {
  ready: 'the phone it is at is not known',
  paused: 'it is paused',
  'wrap-up': 'it is in wrap-up',
  'on-call': 'it is on a call',
  'signed-off': 'nobody is signed on to it',
};

/** What a seat contributes to the ringing of its group now. */
export function seatTargets(
  run: Run,
  group: Group,
  member: SeatMember,
  setting: SettingRef,
): readonly PlannedTarget[] {
  const seat = run.index.seats.get(member.seat);
  if (!seat) return [];
  const turn = seatTurn(run.index, seat, seatOf(run, seat.id));
  if (typeof turn === 'string') {
    note(run, 'skipped', () => `${seat.name} is left out of the group: ${turn}.`, { setting, why: turn });
    return [];
  }
  const { known, confirm, payer, plays } = turn;
  const target: RingTarget = {
    endpoint: known.endpoint.id,
    ...(confirm === 'none' ? {} : { confirm }),
  };
  const person = payer === null ? undefined : run.index.people.get(payer);
  const paying: Payer = person ? payerOf(person) : group;
  return [{ target, known, payer: paying, setting, ...(plays ? { plays: seat.id } : {}) }];
}
