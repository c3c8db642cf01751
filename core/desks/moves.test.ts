import fc from 'fast-check';
import { emptyEstate } from '../editing';
import type { Estate, Person, RosterEntry, Schedule } from '../estate';
import { deskSavings, enoughDesks, shiftsAt, weekOfDate, worstOf } from '.';

const ZONE = 'America/Vancouver';
const DAYS = ['mon', 'tue', 'wed', 'thu', 'fri'] as const;
const hours = (id: string, from: string, to: string): Schedule => ({
  id,
  name: id,
  timeZone: ZONE,
  weekly: [{ days: DAYS, from, to }],
});
const person = (id: string, roster: readonly RosterEntry[]): Person => ({
  id,
  name: id,
  status: 'on',
  permission: 'all',
  maxCalls: 2,
  lines: [],
  endpoints: [],
  plan: { rules: [], otherwise: { stages: [], ending: { kind: 'mailbox' } } },
  roster,
});
const many = (count: number, schedule: string, share?: number): readonly Person[] =>
  Array.from({ length: count }, (_each, n) =>
    person(`${schedule}${n}`, [{ schedule, site: 'hall', ...(share === undefined ? {} : { share }) }]),
  );
const hall = (people: readonly Person[], desks: number, schedules: readonly Schedule[]): Estate => ({
  ...emptyEstate(),
  schedules: [...schedules],
  sites: [{ id: 'hall', name: 'The hall', kind: 'office' }],
  devices: Array.from({ length: desks }, (_each, n) => ({
    id: `d${n}`,
    name: `Phone ${n}`,
    model: 'gannet-20',
    site: 'hall',
  })),
  desks: Array.from({ length: desks }, (_each, n) => ({ id: `k${n}`, name: `Desk ${n}`, device: `d${n}` })),
  people: [...people],
});
const { fromMs, toMs } = weekOfDate('2026-11-23', ZONE)!;
const of = (estate: Estate) => enoughDesks(estate, 'hall', fromMs, toMs);
const savings = (estate: Estate) => deskSavings(estate, 'hall', fromMs, toMs, 0.01, of(estate));

test('two shifts that overlap by half an hour: either of them moved apart frees the desks of the other', () => {
  const estate = hall([...many(3, 'early'), ...many(4, 'late')], 4, [
    hours('early', '06:00', '14:00'),
    hours('late', '13:30', '21:30'),
  ]);
  expect(of(estate).needed).toBe(7);
  expect(savings(estate)).toEqual([
    { change: { schedule: 'late', byMs: 1_800_000 }, needed: 4, worst: 0 },
    { change: { schedule: 'early', byMs: -1_800_000 }, needed: 4, worst: 0 },
  ]);
});

test('where everybody finds a desk nothing is to be saved; a tenth less often helps where it is tight', () => {
  expect(savings(hall([], 2, []))).toEqual([]);
  const tight = hall(many(6, 'early', 0.9), 5, [hours('early', '06:00', '14:00')]);
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
        const early = (shift: number) => hours('early', clock(from + shift), clock(from + lasts + shift));
        const people = [...many(2, 'early'), ...many(2, 'late', 0.5)];
        const late = hours('late', '12:00', '18:00');
        const moved = enoughDesks(hall(people, 2, [early(0), late]), 'hall', fromMs, toMs, 0.01, {
          schedule: 'early',
          byMs: by * 60_000,
        });
        expect(moved).toEqual(of(hall(people, 2, [early(by), late])));
        expect(worstOf(moved)?.chance).toBeGreaterThanOrEqual(0);
      },
    ),
    { numRuns: 40 },
  );
});

test('the shifts of a moment, with whom the roster sends to each site; nobody twice in one', () => {
  const both = person('both', [
    { schedule: 'early', site: 'hall', share: 0.4 },
    { schedule: 'early', site: 'hall', share: 0.7 },
    { schedule: 'late', site: 'hall' },
  ]);
  const estate = hall([both], 1, [hours('early', '06:00', '14:00'), hours('late', '13:30', '21:30')]);
  const at = (iso: string) => shiftsAt(estate, Date.parse(iso));
  expect(at('2026-11-24T15:00:00Z')).toEqual([
    { site: 'hall', schedule: 'early', people: [{ person: 'both', share: 0.7 }] },
  ]);
  expect(at('2026-11-24T20:45:00Z').map(({ schedule }) => schedule)).toEqual(['early', 'late']);
  expect(at('2026-11-24T05:00:00Z')).toEqual([]);
});
