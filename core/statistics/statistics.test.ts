import * as fc from 'fast-check';
import { comingMore, comingOf, erlangB, kaplanMeier, placesFor, queueOf, serversFor } from '.';
import { chanceOfMore, poissonBinomial } from '../tests/one-by-one';

describe('Erlang', () => {
  /** B by its definition, for few servers. */
  const lossOf = (servers: number, a: number) => {
    let [term, sum] = [1, 1];
    for (let k = 1; k <= servers; k++) {
      term *= a / k;
      sum += term;
    }
    return term / sum;
  };
  test('B is as its definition by sums, and that of 10,000 servers is a number', () => {
    fc.assert(
      fc.property(fc.integer({ min: 0, max: 60 }), fc.double({ min: 0.01, max: 80, noNaN: true }), (n, a) => {
        expect(erlangB(n, a)).toBeCloseTo(lossOf(n, a), 12);
      }),
    );
    // The peak of a large group: about sqrt(2 / (π n)) where load and servers are equal.
    expect(erlangB(10_000, 10_000)).toBeCloseTo(Math.sqrt(2 / (Math.PI * 10_000)), 3);
    expect(erlangB(10_000, 1)).toBe(0);
    expect([erlangB(5, 0), erlangB(0, 0)]).toEqual([0, 1]);
  });
  test('the fewest servers lose no more than is allowed, and one fewer loses more', () => {
    for (const a of [0.5, 7, 93.5, 900]) {
      const n = serversFor(a, 0.01) ?? -1;
      expect(erlangB(n, a)).toBeLessThanOrEqual(0.01);
      expect(erlangB(n - 1, a)).toBeGreaterThan(0.01);
    }
    expect(serversFor(20_000, 0.01)).toBeNull();
  });

  /** A birth and death chain cut off far out, and those who wait followed in small steps of time: nothing in common. */
  function chain(arrival: number, service: number, servers: number, leaving: number, withinS: number) {
    const most = servers + 400;
    const weights = [1];
    for (let k = 1; k <= most; k++)
      weights.push(
        (weights[k - 1]! * arrival) / (Math.min(k, servers) * service + Math.max(0, k - servers) * leaving),
      );
    const total = weights.reduce((sum, each) => sum + each, 0);
    const p = weights.map((each) => each / total);
    const waiting = p.slice(servers);
    const queue = waiting.reduce((sum, each, j) => sum + j * each, 0);
    // How many are before one who has come: 0 means next; `served` when a server takes them.
    let before = [...waiting];
    let served = 0;
    const steps = 20_000;
    const dt = withinS / steps;
    const slope = (state: readonly number[]) => {
      let gain = 0;
      const change = state.map((each, j) => {
        const out = servers * service + j * leaving;
        if (j === 0) gain += each * servers * service;
        const inward = (state[j + 1] ?? 0) * (servers * service + (j + 1) * leaving);
        return inward - each * (out + leaving);
      });
      return { change, gain };
    };
    for (let step = 0; step < steps; step++) {
      const first = slope(before);
      const half = slope(before.map((each, j) => each + (first.change[j]! * dt) / 2));
      served += half.gain * dt;
      before = before.map((each, j) => each + half.change[j]! * dt);
    }
    const below = p.slice(0, servers).reduce((sum, each) => sum + each, 0);
    return {
      wait: 1 - below,
      meanWaitS: queue / arrival,
      within: below + served,
      abandoned: (queue * leaving) / arrival,
    };
  }
  test.each([
    [120, 180, 5, 60, 20],
    [120, 180, 7, 300, 20],
    [400, 90, 12, 45, 10],
    [30, 240, 1, 30, 60],
  ])(
    'A of %s calls an hour of %s s, %s seats and %s s of patience is as the chain',
    (calls, handle, seats, patience, within) => {
      const slow = chain(calls / 3600, 1 / handle, seats, 1 / patience, within);
      const answer = queueOf({
        callsPerHour: calls,
        handleS: handle,
        servers: seats,
        patienceS: patience,
        withinS: within,
      });
      expect(answer.waitProbability).toBeCloseTo(slow.wait, 9);
      expect(answer.meanWaitS).toBeCloseTo(slow.meanWaitS, 7);
      expect(answer.abandoned).toBeCloseTo(slow.abandoned, 9);
      expect(answer.within).toBeCloseTo(slow.within, 5);
    },
  );
  test('A with much patience comes to C, and C above its load waits without end', () => {
    const load = { callsPerHour: 200, handleS: 120, servers: 8 };
    const c = queueOf(load);
    const a = queueOf({ ...load, patienceS: 1e9 });
    expect(a.waitProbability).toBeCloseTo(c.waitProbability, 6);
    expect(a.meanWaitS).toBeCloseTo(c.meanWaitS ?? -1, 3);
    expect(a.within).toBeCloseTo(c.within, 6);
    expect(queueOf({ callsPerHour: 300, handleS: 120, servers: 10 })).toEqual({
      offered: 10,
      waitProbability: 1,
      meanWaitS: null,
      within: 0,
      occupancy: 1,
      abandoned: 0,
    });
  });
  test('10,000 servers under more than they can do: the share that gives up is what is too much', () => {
    const { abandoned, occupancy, waitProbability, within } = queueOf({
      callsPerHour: 720_000,
      handleS: 60,
      servers: 10_000,
      patienceS: 3600,
      withinS: 20,
    });
    expect(abandoned).toBeCloseTo(1 - 10_000 / 12_000, 4);
    expect(occupancy).toBeCloseTo(1, 4);
    expect(waitProbability).toBeCloseTo(1, 6);
    expect(within).toBeCloseTo(0, 6);
  });
});

test('A: who is answered in a long time and who gives up are all, however narrow the time at which it happens', () => {
  for (const patienceS of [5, 60, 600]) {
    const { within, abandoned } = queueOf({
      callsPerHour: 720_000,
      handleS: 60,
      servers: 10_000,
      patienceS,
      withinS: 100_000,
    });
    expect(within + abandoned).toBeCloseTo(1, 6);
  }
});

describe('Kaplan-Meier', () => {
  test('as the definition, one factor for each time: 6, 6+, 9, 10 (+: ended otherwise)', () => {
    const steps = kaplanMeier([
      { ms: 6, happened: true },
      { ms: 6, happened: false },
      { ms: 9, happened: true },
      { ms: 10, happened: true },
    ]);
    expect(
      steps.map(({ atMs, atRisk, answered, share }) => [atMs, atRisk, answered, Number(share.toFixed(12))]),
    ).toEqual([
      [6, 4, 1, 0.25],
      [9, 2, 1, 0.625],
      [10, 1, 1, 1],
    ]);
    const [first] = steps;
    // Greenwood: 1 / (4 · 3); on the scale of log(−log) divided by the square of ln 0.75.
    const width = (1.959963984540054 * Math.sqrt(1 / 12)) / Math.abs(Math.log(0.75));
    expect(first?.low).toBeCloseTo(1 - 0.75 ** Math.exp(-width), 12);
    expect(first?.high).toBeCloseTo(1 - 0.75 ** Math.exp(width), 12);
    expect(steps.at(-1)).toMatchObject({ low: null, high: null });
  });
  test('without any that end otherwise it is the plain share; intervals hold the share; order does not matter', () => {
    fc.assert(
      fc.property(fc.array(fc.integer({ min: 0, max: 50 }), { minLength: 1, maxLength: 60 }), (times) => {
        const steps = kaplanMeier(times.map((ms) => ({ ms, happened: true })));
        for (const { atMs, share, low, high } of steps) {
          expect(share).toBeCloseTo(times.filter((ms) => ms <= atMs).length / times.length, 10);
          if (low !== null && high !== null) expect(low <= share && share <= high).toBe(true);
        }
        expect(kaplanMeier([...times].reverse().map((ms) => ({ ms, happened: true })))).toEqual(steps);
      }),
    );
    expect(kaplanMeier([{ ms: 5, happened: false }])).toEqual([]);
  });
});

describe('How many come', () => {
  test('of a few people: as all ways in which they may come, added up', () => {
    fc.assert(
      fc.property(fc.array(fc.double({ min: 0, max: 1, noNaN: true }), { maxLength: 9 }), (shares) => {
        const chances = poissonBinomial(shares);
        const slow = new Array<number>(shares.length + 1).fill(0);
        for (let mask = 0; mask < 2 ** shares.length; mask++) {
          const come = shares.map((_, at) => (mask >> at) % 2 === 1);
          slow[come.filter(Boolean).length]! += shares.reduce(
            (product, share, at) => product * (come[at] ? share : 1 - share),
            1,
          );
        }
        chances.forEach((chance, k) => expect(chance).toBeCloseTo(slow[k]!, 12));
        expect(chanceOfMore(chances, 2)).toBeCloseTo(
          slow.slice(3).reduce((sum, each) => sum + each, 0),
          12,
        );
      }),
    );
    expect(chanceOfMore(poissonBinomial([1, 1, 1]), 2)).toBe(1);
    expect(chanceOfMore(poissonBinomial([]), 0)).toBe(0);
  });
  test('of crowds it is what it is of each of their people, and the fewest places are the fewest', () => {
    fc.assert(
      fc.property(
        fc.uniqueArray(
          fc.tuple(
            fc.oneof(fc.constantFrom(0, 1, 0.5), fc.double({ min: 0, max: 1, noNaN: true })),
            fc.integer({ min: 1, max: 60 }),
          ),
          { selector: ([share]) => share, maxLength: 5 },
        ),
        fc.double({ min: 0, max: 1, noNaN: true }),
        (crowds, chance) => {
          const coming = comingOf(crowds);
          const chances = poissonBinomial(
            crowds.flatMap(([share, count]) => Array.from({ length: count }, () => share)),
          );
          for (let places = 0; places < chances.length; places += 1)
            expect(comingMore(coming, places)).toBeCloseTo(chanceOfMore(chances, places), 12);
          const places = placesFor(coming, chance);
          expect(comingMore(coming, places)).toBeLessThanOrEqual(chance + 1e-12);
          if (places > 0) expect(comingMore(coming, places - 1)).toBeGreaterThan(chance - 1e-12);
        },
      ),
    );
    // Of tens of thousands: the mean and the spread are those of the sum, and the far end keeps its digits.
    const large = comingOf([
      [0.5, 20_000],
      [0.8, 10_000],
    ]);
    const mean = large.chances.reduce((sum, each, k) => sum + each * (large.least + k), 0);
    expect(mean).toBeCloseTo(18_000, 6);
    expect(comingMore(large, placesFor(large, 1e-9))).toBeLessThanOrEqual(1e-9);
    expect(placesFor(large, 1e-9)).toBeGreaterThan(18_000 + 5 * 80);
  });
});
