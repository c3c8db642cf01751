import * as fc from 'fast-check';
import { erlangB, erlangBRepeated, fisherExact, holm, levelChange, quantile, wilson } from '.';

describe('Fisher’s exact test', () => {
  test('the lady tasting tea: three of four cups right (R. A. Fisher, The Design of Experiments, 1935)', () =>
    expect(fisherExact(3, 1, 1, 3)).toBeCloseTo(34 / 70, 12));
  test('all eight right: one way in seventy to each side', () =>
    expect(fisherExact(4, 0, 0, 4)).toBeCloseTo(2 / 70, 12));
  test('the same whichever way the table is turned, and never above one', () =>
    fc.assert(
      fc.property(fc.array(fc.nat(12), { minLength: 4, maxLength: 4 }), ([a = 0, b = 0, c = 0, d = 0]) => {
        const p = fisherExact(a, b, c, d);
        expect(p).toBeLessThanOrEqual(1);
        for (const other of [fisherExact(b, a, d, c), fisherExact(c, d, a, b), fisherExact(a, c, b, d)])
          expect(other).toBeCloseTo(p, 9);
      }),
      { numRuns: 200 },
    ));
  test('as going through every table of the same margins has it', () => {
    const choose = (n: number, k: number): number => (k === 0 ? 1 : (choose(n, k - 1) * (n - k + 1)) / k);
    const chance = (a: number, row: number, column: number, n: number) =>
      (choose(row, a) * choose(n - row, column - a)) / choose(n, column);
    for (const [a, b, c, d] of [
      [1, 9, 11, 3],
      [5, 0, 1, 4],
      [2, 7, 8, 2],
    ] as const) {
      const [row, column, n] = [a + b, a + c, a + b + c + d];
      const all = Array.from({ length: Math.min(row, column) + 1 }, (_, k) => k).filter(
        (k) => k >= row + column - n,
      );
      const seen = chance(a, row, column, n);
      const sum = all.map((k) => chance(k, row, column, n)).filter((p) => p <= seen * (1 + 1e-9));
      expect(fisherExact(a, b, c, d)).toBeCloseTo(
        sum.reduce((total, p) => total + p, 0),
        10,
      );
    }
  });
});

test('Holm: each counts as often as there are that are no smaller, and none less than one before it', () => {
  expect(holm([0.01, 0.04, 0.03, 0.005]).map((p) => Number(p.toFixed(10)))).toEqual([0.03, 0.06, 0.06, 0.02]);
  expect(holm([])).toEqual([]);
  expect(holm([0.9, 0.8])).toEqual([1, 1]);
});

test.each([
  [81, 263, 0.2553, 0.3662],
  [15, 148, 0.0624, 0.1605],
  [0, 20, 0, 0.1611],
  [1, 29, 0.0061, 0.1718],
])(
  'Wilson’s interval of %i in %i (R. G. Newcombe, Statistics in Medicine 17, 1998, table I, method 3)',
  (k, n, low, high) => {
    expect(wilson(k, n)!.low).toBeCloseTo(low, 4);
    expect(wilson(k, n)!.high).toBeCloseTo(high, 4);
    expect(wilson(0, 0)).toBeNull();
  },
);

test('a quantile lies between two values in proportion, as type 7 has it', () => {
  const tens = Array.from({ length: 10 }, (_, n) => n + 1);
  expect([0, 0.1, 0.5, 0.9, 1].map((q) => quantile(tens, q))).toEqual([1, 1.9, 5.5, 9.1, 10]);
  expect(quantile([7], 0.95)).toBe(7);
});

describe('A change of level', () => {
  test('is found where it is, with both levels', () => {
    const values = [
      ...Array.from({ length: 40 }, (_, n) => 24_000 + (n % 7)),
      ...Array.from({ length: 30 }, (_, n) => 15_000 + (n % 5)),
    ];
    expect(levelChange(values)).toMatchObject({ at: 40, before: 24_003, after: 15_002 });
    expect(levelChange(values)!.p).toBeLessThan(1e-6);
  });
  test('the statistic is the largest sum of signs of all pairs before and after (Pettitt, 1979)', () =>
    fc.assert(
      fc.property(fc.array(fc.integer({ min: 0, max: 20 }), { minLength: 8, maxLength: 40 }), (values) => {
        const n = values.length;
        let most = 0;
        for (let t = 1; t < n; t++) {
          let u = 0;
          for (let i = 0; i < t; i++) for (let j = t; j < n; j++) u += Math.sign(values[i]! - values[j]!);
          most = Math.max(most, Math.abs(u));
        }
        const found = levelChange(values);
        if (most === 0) return expect(found).toBeNull();
        return expect(found!.p).toBeCloseTo(
          Math.min(1, 2 * Math.exp((-6 * most ** 2) / (n ** 3 + n ** 2))),
          10,
        );
      }),
      { numRuns: 200 },
    ));
  test('where there is none, it is seldom that one is told of', () => {
    const many = fc.sample(
      fc.array(fc.integer({ min: 0, max: 1_000_000 }), { minLength: 60, maxLength: 60 }),
      {
        numRuns: 300,
        seed: 7,
      },
    );
    expect(many.filter((values) => levelChange(values)!.p < 0.001).length).toBeLessThanOrEqual(2);
  });
  test('of few values, or equal ones, nothing is told', () => {
    expect(levelChange([1, 2, 3, 4, 5, 6, 7])).toBeNull();
    expect(levelChange(new Array<number>(20).fill(3))).toBeNull();
  });
});

test('Erlang B with repeats: without any it is Erlang B, and what comes back fits what is blocked', () => {
  expect(erlangBRepeated(10, 6, 0)).toEqual({ blocked: erlangB(10, 6), offered: 6 });
  const { blocked, offered } = erlangBRepeated(10, 9, 0.5);
  expect(offered).toBeCloseTo(9 + 0.5 * offered * blocked, 6);
  expect(blocked).toBeGreaterThan(erlangB(10, 9));
});
