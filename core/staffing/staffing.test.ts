import fc from 'fast-check';
import { compileEstate, runCall, type SeatInCall } from '../calls/engine';
import { GROUP_MODES, type Estate, type GroupMode } from '../estate';
import { erlangB, queueOf } from '../statistics';
import { workedEstate } from '../tests/worked';
import {
  fifoRun,
  readForecast,
  ringSteps,
  runGroup,
  seatsCurve,
  seatsNeeded,
  staffing,
  type GroupLoad,
  type GroupToRun,
  type ReadySeat,
} from '.';

/** Every step of a round in which nobody picks up. */
function drained(mode: GroupMode, ringMs: number, ready: readonly ReadySeat[], last: number | null) {
  const next = ringSteps(mode, ringMs, ready, last);
  const steps = [];
  for (let step = next(); step; step = next()) steps.push(step);
  return steps;
}

test('a round rings whom the engine rings, when it does', () => {
  const worked = workedEstate();
  const seat = fc.record({
    rank: fc.integer({ min: 1, max: 3 }),
    idleMs: fc.integer({ min: 0, max: 3 }),
    ringMs: fc.constantFrom(5000, 9000, 20_000),
    isReady: fc.boolean(),
  });
  fc.assert(
    fc.property(
      fc.constantFrom(...GROUP_MODES),
      fc.array(seat, { minLength: 1, maxLength: 6 }),
      fc.option(fc.nat(5)),
      (mode, seats, chosen) => {
        const last = chosen === null || chosen >= seats.length ? null : chosen;
        const estate: Estate = {
          ...worked,
          seats: seats.map(({ ringMs }, n) => ({ id: `s${n}`, name: `S${n}`, extension: `45${n}`, ringMs })),
          groups: [
            {
              id: 'tried',
              name: 'Tried',
              extension: '4999',
              mode,
              members: seats.map(({ rank }, n) => ({ seat: `s${n}`, rank })),
              ringMs: 8000,
              permission: 'coast',
              ending: { kind: 'hang-up', message: 'nobody' },
            },
          ],
        };
        const world = Object.fromEntries(
          seats.map(({ idleMs, isReady }, n): [string, SeatInCall] => [
            `s${n}`,
            {
              at: { sip: `sip:s${n}@seats.example` },
              state: isReady ? 'ready' : 'paused',
              idleMs,
            },
          ]),
        );
        const { legs } = runCall(compileEstate(estate), {
          from: null,
          to: '4999',
          at: '2026-11-24T18:00:00Z',
          world: { seats: world, ...(last === null ? {} : { groupLast: { tried: last } }) },
        });
        let at = 0;
        const expected = drained(
          mode,
          8000,
          seats.flatMap((each, nth) => (each.isReady ? [{ ...each, nth }] : [])),
          last,
        ).flatMap(({ seats: ring, ringMs }) => {
          const from = at;
          at += ringMs;
          return ring.map((nth) => [`sip:s${nth}@seats.example`, from, at] as const);
        });
        expect(legs.map(({ endpoint, dialledMs, endMs }) => [endpoint, dialledMs, endMs])).toEqual(expected);
      },
    ),
    { numRuns: 300 },
  );
});

test.each([
  [{ callsPerHour: 60, handleS: 210, servers: 5 }],
  [{ callsPerHour: 240, handleS: 180, servers: 14, withinS: 10 }],
  [{ callsPerHour: 300, handleS: 200, servers: 15, patienceS: 90 }],
  [{ callsPerHour: 300, handleS: 200, servers: 20, patienceS: 40, withinS: 5 }],
])('first in, first out agrees with Erlang C and A within its interval: %j', (load) => {
  const formula = queueOf(load);
  const run = fifoRun(load, 400_000, 20_261_129);
  // Four intervals of 95 % at once: each is held to one and a half of its own.
  const isWithin = (measured: { mean: number; spread: number }, value: number) =>
    expect(Math.abs(measured.mean - value)).toBeLessThanOrEqual(1.5 * measured.spread + 1e-9);
  isWithin(run.waits, formula.waitProbability);
  isWithin(run.waitS, formula.meanWaitS!);
  isWithin(run.within, formula.within);
  isWithin(run.abandoned, formula.abandoned);
});

const seat = { rank: 1, callsAtOnce: 1, ringMs: 20_000, wrapUpMs: 30_000, missesUntilPaused: 2 };
const group = (more: Partial<GroupToRun> = {}, seats = 6): GroupToRun => ({
  mode: 'by-rank',
  ringMs: 20_000,
  queueMs: 600_000,
  seats: Array.from({ length: seats }, () => seat),
  ...more,
});
const load: GroupLoad = {
  callsPerHour: 60,
  talkS: 180,
  pickUpS: 4,
  missShare: 0,
  backAfterS: 300,
  withinS: 20,
};

test('where picking up takes no time, the run of a group keeps its seats as busy as the formula, and waits longer', () => {
  for (const mode of GROUP_MODES) {
    const run = runGroup(group({ mode }), { ...load, pickUpS: 0.001 }, 20_000, 7)!;
    const formula = queueOf({ callsPerHour: 60, handleS: 210, servers: 6 });
    expect(run.occupancy).toBeCloseTo(formula.occupancy, 1);
    expect(run.answered.mean).toBeGreaterThan(0.99);
    // A caller who waits is looked after once a second, and not in the order in which callers came.
    expect(run.waitS.mean + run.waitS.spread).toBeGreaterThan(formula.meanWaitS! - run.waitS.spread);
    expect(run.waitS.mean).toBeLessThan(formula.meanWaitS! + 3);
  }
});

test('picking up takes time, missed calls pause seats, and both make callers wait that the formula says wait less', () => {
  const quick = runGroup(group(), { ...load, pickUpS: 0.001 }, 20_000, 3)!;
  const slow = runGroup(group(), { ...load, pickUpS: 8 }, 20_000, 3)!;
  const misses = runGroup(group(), { ...load, missShare: 0.3, backAfterS: 900 }, 20_000, 3)!;
  expect(slow.waitS.mean).toBeGreaterThan(quick.waitS.mean + 4);
  expect(misses.missesPerCall).toBeGreaterThan(0.2);
  expect(misses.paused).toBeGreaterThan(0.1);
  expect(misses.within.mean).toBeLessThan(quick.within.mean - 0.1);
  expect([quick.paused, quick.missesPerCall]).toEqual([0, 0]);
});

test('without a queue callers are sent on; the impatient give up; nobody at the seats answers nobody', () => {
  const sent = runGroup(group({ queueMs: null }, 3), load, 10_000, 5)!;
  expect(sent.sentOn.mean).toBeGreaterThan(0.1);
  expect(sent.answered.mean + sent.sentOn.mean).toBeCloseTo(1, 10);
  const impatient = runGroup(group({}, 3), { ...load, patienceS: 30 }, 10_000, 5)!;
  expect(impatient.abandoned.mean).toBeGreaterThan(0.1);
  const nobody = runGroup(group({ queueMs: 5000 }, 0), load, 500, 5)!;
  expect([nobody.answered.mean, nobody.sentOn.mean, nobody.occupancy]).toEqual([0, 1, 0]);
});

test('the same seed gives the same run; more seats never make callers wait much longer; a run can be ended', () => {
  expect(runGroup(group(), load, 3000, 11)).toEqual(runGroup(group(), load, 3000, 11));
  const waits = [5, 6, 7, 9].map((seats) => runGroup(group({}, seats), load, 30_000, 13)!.waitS.mean);
  for (const [n, wait] of waits.slice(1).entries()) expect(wait).toBeLessThan(waits[n]! + 1);
  const told: number[] = [];
  expect(
    runGroup(group(), load, 10_000, 1, (share) => {
      told.push(share);
      return told.length < 5;
    }),
  ).toBeNull();
  expect(told).toHaveLength(5);
});

test('the fewest seats are those of which one fewer is too few', () => {
  fc.assert(
    fc.property(
      fc.integer({ min: 1, max: 900 }),
      fc.integer({ min: 20, max: 600 }),
      fc.double({ min: 0.05, max: 0.98, noNaN: true }),
      fc.option(fc.integer({ min: 10, max: 600 }), { nil: undefined }),
      (callsPerHour, handleS, share, patienceS) => {
        const given = { callsPerHour, handleS, ...(patienceS === undefined ? {} : { patienceS }) };
        const within = (servers: number) => queueOf({ ...given, servers, withinS: 20 }).within;
        const needed = seatsNeeded(given, { share, withinS: 20 })!;
        expect(within(needed)).toBeGreaterThanOrEqual(share);
        if (needed > 1) expect(within(needed - 1)).toBeLessThan(share);
      },
    ),
    { numRuns: 200 },
  );
  expect(seatsNeeded({ callsPerHour: 1_000_000, handleS: 600 }, { share: 0.8, withinS: 20 })).toBeNull();
  expect(
    seatsCurve({ callsPerHour: 60, handleS: 210 }, 20, 3, 5).map(({ servers, within }) => [
      servers,
      within > 0,
    ]),
  ).toEqual([
    [3, false],
    [4, true],
    [5, true],
  ]);
  expect(erlangB(4, 3.5)).toBeLessThan(
    queueOf({ callsPerHour: 60, handleS: 210, servers: 4 }).waitProbability,
  );
});

test('a forecast is read line by line, and each half hour has the seats that it needs', () => {
  const read = readForecast('9:00 6\n08:30; 14,5\n\n10.30\t0');
  if (!read.ok) throw new Error(read.message);
  expect(read.slots).toEqual([
    { at: '08:30', calls: 14.5 },
    { at: '09:00', calls: 6 },
    { at: '10:30', calls: 0 },
  ]);
  const wanted = { share: 0.8, withinS: 20 };
  const staffed = staffing(read.slots, { handleS: 210 }, wanted);
  expect(staffed.map(({ seats }) => seats)).toEqual([
    seatsNeeded({ callsPerHour: 29, handleS: 210 }, wanted),
    seatsNeeded({ callsPerHour: 12, handleS: 210 }, wanted),
    0,
  ]);
  expect(readForecast('08:30 14\n08:45 2')).toMatchObject({ ok: false, line: 2 });
  expect(readForecast('08:30 14\n8:30 2')).toMatchObject({
    ok: false,
    line: 2,
    message: '08:30 stands there twice',
  });
  expect(readForecast('24:00 2')).toMatchObject({ ok: false, line: 1 });
});
