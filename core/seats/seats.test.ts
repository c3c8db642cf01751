import type { Estate, Seat } from '../estate';
import { compileEstate, LEG_ENDS, type Leg } from '../calls/engine';
import { classifier } from '../calls/dialling';
import { workedEstate } from '../tests/worked';
import {
  afterCall,
  afterOffer,
  isMiss,
  offersIn,
  SEAT_REFUSALS,
  seatNow,
  seatRefusal,
  stateOf,
  type SeatOn,
  type SeatSigning,
} from '.';

const seat: Seat = { id: 'north', name: 'North', extension: '4551', wrapUpMs: 30_000 };
const on: SeatOn = {
  seat: 'north',
  person: 'tomasz',
  at: { endpoint: 'tomasz-app' },
  sinceMs: 0,
  pausedWhy: null,
  misses: 0,
  idleSinceMs: 1000,
  wrapUntilMs: null,
  calls: 0,
};

test('how a seat stands: paused before all, on a call only with all it takes, then wrap-up, else ready', () => {
  const two = { ...seat, callsAtOnce: 2 };
  expect(stateOf(seat, on, 5000)).toBe('ready');
  expect(stateOf(seat, { ...on, calls: 1 }, 5000)).toBe('on-call');
  expect(stateOf(two, { ...on, calls: 1, wrapUntilMs: 9000 }, 5000)).toBe('ready');
  expect(stateOf(two, { ...on, calls: 2 }, 5000)).toBe('on-call');
  expect(stateOf(seat, { ...on, wrapUntilMs: 9000 }, 8999)).toBe('wrap-up');
  expect(stateOf(seat, { ...on, wrapUntilMs: 9000 }, 9000)).toBe('ready');
  expect(stateOf(seat, { ...on, calls: 1, pausedWhy: 'lunch' }, 5000)).toBe('paused');
  expect(seatNow(seat, on, 5000)).toEqual({
    person: 'tomasz',
    at: { endpoint: 'tomasz-app' },
    state: 'ready',
    calls: 0,
    idleMs: 4000,
  });
});

test('misses in a row pause a seat, and its person is what they say nothing against', () => {
  const missed = ['no-answer', 'rejected', 'refused', 'not-confirmed', 'busy', 'unregistered', 'unreachable'];
  expect(LEG_ENDS.filter(isMiss).sort()).toEqual([...missed].sort());
  const once = afterOffer(seat, on, 'no-answer');
  expect([once.misses, once.pausedWhy]).toEqual([1, null]);
  expect(afterOffer(seat, once, 'caller-gone')).toBe(once);
  expect(afterOffer(seat, once, 'answered-elsewhere')).toBe(once);
  expect(afterOffer(seat, once, 'no-channel')).toBe(once);
  expect(afterOffer(seat, once, 'rejected').pausedWhy).toBe('missed 2 calls in a row');
  expect(afterOffer(seat, once, 'connected')).toMatchObject({ misses: 0, calls: 1 });
  const patient = { ...seat, missesUntilPaused: 5 };
  expect(afterOffer(patient, { ...on, misses: 3 }, 'busy').pausedWhy).toBeNull();
});

test('the wrap-up follows the last call alone', () => {
  const busy = { ...on, calls: 2 };
  const one = afterCall(seat, busy, 60_000);
  expect([one.calls, one.wrapUntilMs]).toEqual([1, null]);
  const none = afterCall(seat, one, 90_000);
  expect([none.calls, none.wrapUntilMs, none.idleSinceMs]).toEqual([0, 120_000, 90_000]);
  expect(afterCall({ ...seat, wrapUpMs: 0 }, one, 90_000).wrapUntilMs).toBeNull();
});

test('offers are the legs at the phone of a seat of a group on the way', () => {
  const leg = (endpoint: string, end: Leg['end'] = 'no-answer'): Leg => ({
    endpoint,
    dialledMs: 0,
    alertMs: 500,
    endMs: 9000,
    end,
  });
  const groups = [{ id: 'dispatch', members: [{ seat: 'north' }] }] as unknown as Estate['groups'];
  const trace = { legs: [leg('tomasz-app'), leg('ines-desk')], path: [{ group: 'dispatch' }] };
  expect(offersIn(trace, { groups }, [on])).toEqual([
    { seat: 'north', end: 'no-answer', dialledMs: 0, alertMs: 500, endMs: 9000 },
  ]);
  expect(offersIn({ ...trace, path: [] }, { groups }, [on])).toEqual([]);
  expect(offersIn(trace, { groups }, [{ ...on, seat: 'south' }])).toEqual([]);
});

describe('why somebody cannot sign on', () => {
  const estate = workedEstate();
  const where = {
    estate,
    classOf: classifier(estate.dialling),
    destinations: compileEstate(estate).destinations,
  };
  const person = estate.people.find(({ id }) => id === 'tomasz')!;
  const fine: SeatSigning = {
    seat,
    person,
    at: { endpoint: 'tomasz-app' },
    credential: 'right',
    hasLeft: false,
    occupant: null,
    confirmed: false,
  };
  const bad: Record<(typeof SEAT_REFUSALS)[number], Partial<SeatSigning>> = {
    'no-such-seat': { seat: undefined },
    'no-such-person': { person: undefined },
    locked: { credential: 'locked' },
    'wrong-password': { credential: 'wrong' },
    left: { hasLeft: true },
    'no-such-phone': { at: { endpoint: 'ines-desk' } },
    'bad-number': { at: { number: '+1999' } },
    'own-number': { at: { number: person.lines[0]!.numbers[0]! } },
    'not-permitted': { at: { number: '+442079460000' } },
    'no-route': { at: { number: '+12505550188' } },
    taken: { occupant: { person: 'ines', calls: 0 } },
    'in-call': { occupant: { person: 'ines', calls: 1 }, confirmed: true },
  };
  test.each(SEAT_REFUSALS)('%s', (why) => {
    const given = why === 'no-route' ? { ...where, estate: { ...estate, trunks: [] } } : where;
    expect(seatRefusal({ ...fine, ...bad[why] }, given)).toBe(why);
  });
  test('at a phone of theirs, a number that they may call and a SIP address they can', () => {
    for (const at of [fine.at, { number: '+12505550188' }, { sip: 'sip:home@seats.example' }])
      expect(seatRefusal({ ...fine, at }, where)).toBeNull();
    expect(
      seatRefusal({ ...fine, occupant: { person: 'ines', calls: 0 }, confirmed: true }, where),
    ).toBeNull();
    expect(seatRefusal({ ...fine, occupant: { person: 'tomasz', calls: 0 } }, where)).toBeNull();
  });
});
