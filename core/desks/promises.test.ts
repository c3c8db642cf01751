import fc from 'fast-check';
import type { Desk, DeskPromise, Estate, Person } from '../estate';
import { readEstate } from '../estate';
import { comer, hallOf, ROSTER_ZONE, shift } from '../tests/rosters';
import { enoughDesks, isAllowedAt, judgeDeskPromises, sayDeskPromise, weekAt } from '.';

const EARLY = shift('early', '06:00', '14:00');
const LATE = shift('late', '14:00', '22:00');
const NOW = Date.parse('2026-11-25T18:00:00Z');
const HALF_HOUR = 1_800_000;

const hall = (
  desks: number,
  promises: readonly DeskPromise[],
  shares: readonly number[],
  late: readonly number[] = [],
): Estate => {
  const estate = hallOf(
    [
      ...shares.map((share, n) => comer(`early-${n}`, [{ schedule: 'early', site: 'hall', share }])),
      ...late.map((share, n) => comer(`late-${n}`, [{ schedule: 'late', site: 'hall', share }])),
    ],
    desks,
    [EARLY, LATE],
  );
  return {
    ...estate,
    timeZone: ROSTER_ZONE,
    sites: estate.sites!.map((site) => (site.id === 'hall' ? { ...site, deskPromises: promises } : site)),
  };
};
const judge = (estate: Estate, nowMs = NOW) =>
  judgeDeskPromises(
    estate,
    estate.sites!.find(({ id }) => id === 'hall')!,
    nowMs,
  );

test('a promise holds up to the chance that it leaves, and not beyond', () => {
  // Three who come half of the time: one in eight finds none of two desks.
  const of = (keeps: number) => judge(hall(2, [{ keeps }], [0.5, 0.5, 0.5]))[0]!;
  expect(of(0.875)).toMatchObject({ standing: 'holds', needed: 2, desks: 2, forAll: 2 });
  expect(of(0.876)).toMatchObject({ standing: 'broken', needed: 3, worst: { chance: 0.125, expected: 1.5 } });
});

test('a promise for a shift looks at its hours alone, with everybody who comes then', () => {
  const promises: DeskPromise[] = [
    { schedule: 'early', keeps: 0.99 },
    { schedule: 'late', keeps: 0.99 },
    { keeps: 0.99 },
  ];
  const verdicts = judge(hall(2, promises, [1, 1], [1, 1, 1]));
  expect(verdicts.map(({ standing, needed }) => [standing, needed])).toEqual([
    ['holds', 2],
    ['broken', 3],
    ['broken', 3],
  ]);
  expect(verdicts[1]!.worst!.fromMs).toBeGreaterThanOrEqual(Date.parse('2026-11-23T21:00:00Z'));
});

test('it is checked for this week and the three after it, two half hours fewer where the clocks go forward', () => {
  const weeks = (now: string) => {
    const nowMs = Date.parse(now);
    const [verdict] = judge(hall(1, [{ keeps: 0.9 }], [1]), nowMs);
    return (verdict!.untilMs - weekAt(nowMs, ROSTER_ZONE).fromMs) / HALF_HOUR;
  };
  expect(weeks('2026-11-25T18:00:00Z')).toBe(4 * 336);
  expect(weeks('2026-02-25T18:00:00Z')).toBe(4 * 336 - 2);
  const later = judge(hall(0, [{ keeps: 0.9 }], [1]));
  expect(later[0]!.untilMs).toBe(weekAt(NOW + 21 * 86_400_000, ROSTER_ZONE).toMs);
});

test('it agrees with the weeks one by one, for whatever shares, desks and promises', () => {
  fc.assert(
    fc.property(
      fc.array(fc.constantFrom(0.1, 0.5, 0.8, 1), { maxLength: 6 }),
      fc.array(fc.constantFrom(0.2, 0.7), { maxLength: 4 }),
      fc.nat(6),
      fc.constantFrom(0.5, 0.9, 0.99, 0.999),
      (early, late, desks, keeps) => {
        const estate = hall(desks, [{ keeps }], early, late);
        const [verdict] = judge(estate);
        const weeks = [0, 1, 2, 3].map((n) => {
          const { fromMs, toMs } = weekAt(NOW + n * 7 * 86_400_000, ROSTER_ZONE);
          return enoughDesks(estate, 'hall', fromMs, toMs, Math.round((1 - keeps) * 1e9) / 1e9);
        });
        const needed = Math.max(...weeks.map((week) => week.needed));
        expect([verdict!.needed, verdict!.standing]).toEqual([needed, needed <= desks ? 'holds' : 'broken']);
        const worst = Math.max(...weeks.flatMap((week) => week.halfHours.map(({ chance }) => chance)));
        expect(verdict!.worst?.chance ?? 0).toBe(worst);
      },
    ),
    { numRuns: 40 },
  );
});

/** Whether everybody finds a desk that is for them, whichever they choose: by trying. */
function allSit(people: readonly Person[], desks: readonly Desk[]): boolean {
  const [first, ...others] = people;
  if (!first) return true;
  return desks.some(
    (desk) =>
      isAllowedAt(desk, first) &&
      allSit(
        others,
        desks.filter((each) => each !== desk),
      ),
  );
}
/** The chance that somebody finds none of the desks that are for them, by going through who comes. */
function chanceOfNone(people: readonly Person[], desks: readonly Desk[]): number {
  let chance = 0;
  for (let who = 0; who < 1 << people.length; who += 1) {
    const come = people.filter((_each, n) => who & (1 << n));
    if (allSit(come, desks)) continue;
    chance += people.reduce((product, { roster }, n) => {
      const share = roster?.[0]?.share ?? 1;
      return product * (who & (1 << n) ? share : 1 - share);
    }, 1);
  }
  return chance;
}

test('where desks are not for everybody, what is said to hold holds and what is said to be broken is, seat by seat', () => {
  const seen = new Set<string>();
  fc.assert(
    fc.property(
      fc.array(fc.constantFrom(0.1, 0.5, 0.8, 1), { minLength: 1, maxLength: 5 }),
      fc.array(fc.option(fc.subarray([0, 1, 2, 3, 4])), { maxLength: 4 }),
      fc.constantFrom(0.5, 0.9, 0.99),
      (shares, allowed, keeps) => {
        const estate = hall(allowed.length, [{ keeps }], shares);
        const desks = estate.desks!.map((desk, n) => {
          const ids = allowed[n];
          return ids ? { ...desk, allowed: { people: ids.map((id) => `early-${id}`) } } : desk;
        });
        const [verdict] = judge({ ...estate, desks });
        const none = chanceOfNone(estate.people, desks.slice(0, allowed.length));
        seen.add(verdict!.standing);
        if (verdict!.standing === 'holds') expect(none).toBeLessThanOrEqual(1 - keeps + 1e-9);
        if (verdict!.standing === 'broken') expect(none).toBeGreaterThan(1 - keeps - 1e-9);
      },
    ),
    { numRuns: 300 },
  );
  expect([...seen].sort()).toEqual(['broken', 'holds', 'open']);
});

test('where nothing is promised nothing is judged; where nobody is sent it holds', () => {
  expect(judge(hall(0, [], [1]))).toEqual([]);
  expect(judge(hall(0, [{ keeps: 0.99 }], []))).toMatchObject([
    { standing: 'holds', worst: null, needed: 0 },
  ]);
});

test('it is said as it is promised; what is none is refused with its path', () => {
  expect(sayDeskPromise({ schedule: 'early', keeps: 0.99 }, [{ id: 'early', name: 'the early shift' }])).toBe(
    'Nobody of the early shift is without a desk (99 %)',
  );
  expect(sayDeskPromise({ keeps: 0.9995 }, [])).toBe('Nobody is without a desk (99.95 %)');
  const faults = (...promises: readonly object[]) => {
    const read = readEstate({ ...hall(1, promises as DeskPromise[], [1]) });
    return read.ok ? [] : read.faults.map(({ path, message }) => `${path} ${message}`);
  };
  expect(faults({ keeps: 1 })).toEqual(['sites[0].deskPromises[0].keeps must be over 0, and below 1']);
  expect(faults({ keeps: 0 })).toHaveLength(1);
  expect(faults({ keeps: 0.9 }, { keeps: 0.99 }, { keeps: 0.9 })).toEqual([
    'sites[0].deskPromises[2] is promised already',
  ]);
  const many = Array.from({ length: 21 }, (_each, n) => ({ keeps: 0.5 + n / 100 }));
  expect(faults(...many)).toEqual(['sites[0].deskPromises must be 20 or fewer']);
  expect(faults({})).toEqual(['sites[0].deskPromises[0].keeps is missing']);
  expect(faults({ schedule: 'nights', keeps: 0.9 })[0]).toMatch(/^sites\[0\]\.deskPromises\[0\]\.schedule /);
});
