import { wayOut } from '../calls/dialling';
import type { EstateIndex } from '../calls/engine';
import type { Person, Seat, SeatPhone } from '../estate';

export const SEAT_REFUSALS = [
  'no-such-seat',
  'no-such-person',
  'locked',
  'wrong-password',
  'left',
  'no-such-phone',
  'bad-number',
  'own-number',
  'not-permitted',
  'no-route',
  'taken',
  'in-call',
] as const;
export type SeatRefusal = (typeof SEAT_REFUSALS)[number];

export interface SeatSigning {
  readonly seat: Seat | undefined;
  readonly person: Person | undefined;
  readonly at: SeatPhone;
  readonly credential: 'right' | 'wrong' | 'locked';
  readonly hasLeft: boolean;
  /** Who is at the seat now, if another, and with how many calls. */
  readonly occupant: { readonly person: string; readonly calls: number } | null;
  /** Whether the new one was told who sits there, and takes over. */
  readonly confirmed: boolean;
}

type SeatIndex = Pick<EstateIndex, 'estate' | 'classOf' | 'destinations'>;

/** Whether a number is a line, a group, a menu or an access number of the organisation itself. */
export const isOwnNumber = (
  { estate, destinations }: Pick<SeatIndex, 'estate' | 'destinations'>,
  number: string,
): boolean =>
  destinations.has(number) || (estate.accessNumbers ?? []).some((access) => access.number === number);

/** Why somebody cannot sign on to a seat at a phone; null: they can. */
export function seatRefusal(
  { seat, person, at, credential, hasLeft, occupant, confirmed }: SeatSigning,
  index: SeatIndex,
): SeatRefusal | null {
  const { estate, classOf } = index;
  if (!seat) return 'no-such-seat';
  if (!person) return 'no-such-person';
  if (credential === 'locked') return 'locked';
  if (credential === 'wrong') return 'wrong-password';
  if (hasLeft) return 'left';
  const endpoint = 'endpoint' in at ? person.endpoints.find(({ id }) => id === at.endpoint) : undefined;
  if ('endpoint' in at && !endpoint) return 'no-such-phone';
  const number = 'number' in at ? at.number : endpoint?.number;
  if (number !== undefined) {
    if (isOwnNumber(index, number)) return 'own-number';
    const permission = estate.permissions.find(({ id }) => id === person.permission);
    const way = wayOut(permission, number, classOf(number), estate.trunks, () => true);
    if ('reason' in way && way.reason !== 'no-channel') return way.reason as SeatRefusal;
  }
  if (occupant && occupant.person !== person.id && !confirmed) return 'taken';
  return occupant && occupant.calls > 0 ? 'in-call' : null;
}

export function saySeatRefusal(why: SeatRefusal, occupant: string | null = null): string {
  switch (why) {
    case 'no-such-seat':
      return 'There is no such seat.';
    case 'no-such-person':
      return 'There is nobody of this name.';
    case 'locked':
      return 'Too many wrong tries. Wait a quarter of an hour.';
    case 'wrong-password':
      return 'That is not the password of this seat.';
    case 'left':
      return 'They have left.';
    case 'no-such-phone':
      return 'This phone is none of theirs.';
    case 'bad-number':
      return 'This is no number that can be called.';
    case 'own-number':
      return 'This is a number of the organisation itself: calls of the seat would come back to it. Choose the phone.';
    case 'not-permitted':
      return 'Their permission does not allow calls to this number.';
    case 'no-route':
      return 'No trunk carries calls to this number.';
    case 'taken':
      return `${occupant ?? 'Somebody'} is signed on to this seat. Take it over?`;
    case 'in-call':
      return 'This seat has a call. Try again when it has ended.';
  }
}
