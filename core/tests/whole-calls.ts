import fc from 'fast-check';
import { ARRIVALS, type Arrival, type Estate, type Person } from '../estate';
import type { Call, EndpointBehaviour, SeatInCall, World } from '../calls/engine';
import { made, rarely } from './whole';

/** Calls drawn at random to the estates of `whole.ts`. */
const ms = fc.oneof(
  fc.constantFrom(0, 1, 500, 999, 1000, 1499, 1500, 2499, 2500, 4000, 7999, 8000, 13_999, 14_000, 20_000),
  fc.integer({ min: 0, max: 25_000 }),
);
const behaviour: fc.Arbitrary<EndpointBehaviour> = fc
  .record({
    state: fc.oneof(
      { arbitrary: fc.constant(undefined), weight: 4 },
      {
        arbitrary: fc.constantFrom(
          'unregistered' as const,
          'off' as const,
          'busy' as const,
          'do-not-disturb' as const,
          'auto-answer' as const,
        ),
        weight: 3,
      },
    ),
    answerAfterMs: rarely(ms, 3),
    rejectAfterMs: rarely(ms, 1),
    pressAfterMs: rarely(fc.oneof(ms, fc.constant(null)), 2),
    refuseAfterMs: rarely(ms, 1),
  })
  .map((each) => made<EndpointBehaviour>(each as never));

/** Phones that seats are at, beside those of the estate. */
const SEAT_PHONES = ['sip:home@seats.example', '+17785550190'];

/** Who is signed on to a seat: nobody, or somebody at a phone that registers, at a mobile or at the person's own mobile. */
const seatNow = ({ endpoints }: Person): fc.Arbitrary<SeatInCall> =>
  fc
    .record({
      state: fc.constantFrom('ready' as const, 'ready' as const, 'paused' as const, undefined),
      at: fc.oneof(
        ...endpoints
          .filter(({ kind }) => kind === 'mobile' || kind === 'mobile-app')
          .map(({ id }) => fc.constant({ endpoint: id })),
        fc.constant({ sip: 'sip:home@seats.example' }),
        fc.constant({ number: '+17785550190' }),
      ),
      calls: fc.constantFrom(undefined, undefined, undefined, 1),
      idleMs: rarely(fc.integer({ min: 0, max: 9 }), 3),
    })
    .map((each) => made<SeatInCall>(each as never));

/** A call for a line of one of these people, at any time of a year, in whatever world. */
export function anyCall(estate: Estate, personId: string, fromMs: number): fc.Arbitrary<Call> {
  const person = estate.people.find(({ id }) => id === personId)!;
  const seats = estate.seats?.map(({ id }) => id) ?? [];
  const endpoints = [
    ...estate.people.flatMap(({ endpoints: own }) => own.map(({ id }) => id)),
    ...(seats.length > 0 ? SEAT_PHONES : []),
  ];
  const one = fc
    .tuple(fc.constantFrom(...endpoints), fc.constantFrom('off' as const, 'unregistered' as const))
    .map(([id, state]): NonNullable<World['endpoints']> => ({ [id]: { state } }));
  return fc
    .record({
      to: fc.constantFrom(...person.lines.map(({ extension }) => extension)),
      from: fc.constantFrom<string | null>('+0', '0', null, '+16045550199', '+12505550199', '4103'),
      arrival: rarely(fc.constantFrom<Arrival>(...ARRIVALS), 3),
      hour: fc.integer({ min: 0, max: 53 * 7 * 24 * 4 - 1 }),
      endpoints: fc.oneof(
        { arbitrary: fc.dictionary(fc.constantFrom(...endpoints), behaviour, { maxKeys: 6 }), weight: 4 },
        { arbitrary: one, weight: 1 },
        { arbitrary: fc.constant({}), weight: 1 },
      ),
      activeCalls: rarely(
        fc.dictionary(fc.constantFrom(...estate.people.map(({ id }) => id)), fc.integer({ min: 0, max: 2 }), {
          maxKeys: 2,
        }),
        2,
      ),
      presses: rarely(
        fc.dictionary(
          fc.constantFrom('offer', 'main'),
          fc.record({ key: fc.constantFrom('1', '2', '3'), afterMs: fc.integer({ min: 0, max: 8000 }) }),
          { maxKeys: 2 },
        ),
        3,
      ),
      code: rarely(
        fc.record({ digits: fc.constantFrom('4711', '1111'), afterMs: fc.integer({ min: 0, max: 9000 }) }),
        2,
      ),
      groupLast: rarely(
        fc.dictionary(fc.constantFrom('crew', 'desk'), fc.integer({ min: 0, max: 2 }), { maxKeys: 2 }),
        2,
      ),
      idleMs: rarely(
        fc.dictionary(fc.constantFrom(...estate.people.map(({ id }) => id)), fc.integer({ min: 0, max: 9 }), {
          maxKeys: 4,
        }),
        2,
      ),
      seats: rarely(fc.dictionary(fc.constantFrom(...seats, 'nobody'), seatNow(person), { maxKeys: 2 }), 8),
    })
    .map(({ from, to, arrival, hour, ...world }): Call => ({
      from,
      to,
      at: new Date(fromMs + hour * 900_000).toISOString().replace('.000Z', '+00:00'),
      ...(arrival === undefined ? {} : { arrival }),
      world: made<World>(world as never),
    }));
}
