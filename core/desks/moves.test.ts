import fc from 'fast-check';
import type { Estate, Person } from '../estate';
import { comer, hallOf, ROSTER_ZONE, shift } from '../tests/rosters';
import { deskSavings, enoughDesks, shiftsAt, weekOfDate, worstOf } from '.';

const many = (count: number, schedule: string, share?: number): readonly Person[] =>
  Array.from({ length: count }, (_each, n) =>
    comer(`${schedule}${n}`, [{ schedule, site: 'hall', ...(share === undefined ? {} : { share }) }]),
  );
const { fromMs, toMs } = weekOfDate('2026-11-23', ROSTER_ZONE)!;
const of = (estate: Estate) => enoughDesks(estate, 'hall', fromMs, toMs);
const savings = (estate: Estate) => deskSavings(estate, 'hall', fromMs, toMs, 0.01, of(estate));

test('two shifts that overlap by half an hour: either of them moved apart frees the desks of the other', () => {
  const estate = hallOf([...many(3, 'early'), ...many(4, 'late')], 4, [
    shift('early', '06:00', '14:00'),
    shift('late', '13:30', '21:30'),
  ]);
  expect(of(estate).needed).toBe(7);
  expect(savings(estate)).toEqual([
    { change: { schedule: 'late', byMs: 1_800_000 }, needed: 4, worst: 0 },
    { change: { schedule: 'early', byMs: -1_800_000 }, needed: 4, worst: 0 },
  ]);
});

test('where everybody finds a desk nothing is to be saved; a tenth less often helps where it is tight', () => {
  expect(savings(hallOf([], 2, []))).toEqual([]);
  const tight = hallOf(many(6, 'early', 0.9), 5, [shift('early', '06:00', '14:00')]);
  const [best] = savings(tight);
  expect(best).toMatchObject({ change: { schedule: 'early', less: 0.1 }, needed: 6 });
  expect(best?.worst).toBeCloseTo(0.8 ** 6, 10);
});

test('a shift moved is what its hours written otherwise would be', () => {
  const clock = (minutes: number) =>
    `${String(Math.floor(minutes / 60)).padStart(2, '0')}:${String(minutes % 60).padStart(2, '0')}`;
  fc.assert(
    fc.property(
      fc.integer({ min: 60, max: 900 }),
      fc.integer({ min: 30, max: 400 }),
      fc.constantFrom(-30, 30),
      (from, lasts, by) => {
        const early = (later: number) => shift('early', clock(from + later), clock(from + lasts + later));
        const people = [...many(2, 'early'), ...many(2, 'late', 0.5)];
        const late = shift('late', '12:00', '18:00');
        const moved = enoughDesks(hallOf(people, 2, [early(0), late]), 'hall', fromMs, toMs, 0.01, {
          schedule: 'early',
          byMs: by * 60_000,
        });
        expect(moved).toEqual(of(hallOf(people, 2, [early(by), late])));
        expect(worstOf(moved)?.chance).toBeGreaterThanOrEqual(0);
      },
    ),
    { numRuns: 40 },
  );
});

test('the shifts of a moment, with whom the roster sends to each site; nobody twice in one', () => {
  const both = comer('both', [
    { schedule: 'early', site: 'hall', share: 0.4 },
    { schedule: 'early', site: 'hall', share: 0.7 },
    { schedule: 'late', site: 'hall' },
  ]);
  const estate = hallOf([both], 1, [shift('early', '06:00', '14:00'), shift('late', '13:30', '21:30')]);
  const at = (iso: string) => shiftsAt(estate, Date.parse(iso));
  expect(at('2026-11-24T15:00:00Z')).toEqual([
    { site: 'hall', schedule: 'early', people: [{ person: 'both', share: 0.7 }] },
  ]);
  expect(at('2026-11-24T20:45:00Z').map(({ schedule }) => schedule)).toEqual(['early', 'late']);
  expect(at('2026-11-24T05:00:00Z')).toEqual([]);
});
