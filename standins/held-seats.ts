import type { EstateIndex } from '../core/calls/engine';
import type { E164 } from '../core/estate';
import { phoneId, type SeatOn } from '../core/seats';
import type { HeldWish, PhoneSystem } from './system';
import type { townBacks } from './town-backs';

/** The phones outside that are to stay connected: of those who are at a seat that says so. */
export function heldWishes(index: EstateIndex, ons: readonly SeatOn[]): readonly HeldWish[] {
  return ons.flatMap(({ seat: id, at, sinceMs }) => {
    const seat = index.seats.get(id);
    const number: E164 | null =
      'number' in at
        ? at.number
        : 'endpoint' in at
          ? (index.endpoints.get(at.endpoint)?.number ?? null)
          : null;
    return seat?.holdOpen && number !== null
      ? [{ seat: id, name: seat.name, extension: seat.extension, phone: phoneId(at), number, sinceMs }]
      : [];
  });
}

/** Has the phone system keep them connected, and their stand-ins be there when they are called. */
export const holdsPhones =
  (system: PhoneSystem, backs: ReturnType<typeof townBacks>) =>
  (index: EstateIndex | null, ons: readonly SeatOn[]): void => {
    if (!index) return;
    const wishes = heldWishes(index, ons);
    backs.setHolding(wishes.map(({ number }) => number));
    system.holdPhones(wishes);
  };
