import fc from 'fast-check';
import type { Desk, Estate, RosterEntry } from '../estate';
import { faultsOf, deskSchema, readEstate, referenceFaults } from '../estate';
import { comer, deskOf, hallOf, ROSTER_ZONE, shift } from '../tests/rosters';
import { desksAt, enoughDesks, weekOfDate, withoutDesk, worstOf } from '.';

const week = (date = '2026-11-23') => weekOfDate(date, ROSTER_ZONE)!;
const of = (estate: Estate, chance?: number) =>
  enoughDesks(estate, 'hall', week().fromMs, week().toMs, chance);
const at = (answer: ReturnType<typeof of>, iso: string) =>
  answer.halfHours.find(({ fromMs }) => fromMs === Date.parse(iso))!;

const EARLY = shift('early', '06:00', '14:00');

test('a week has 336 half hours, two fewer and two more where the clocks change', () => {
  const estate = hallOf([], 1, []);
  const halfHours = (date: string) => {
    const { fromMs, toMs } = weekOfDate(date, 'America/New_York')!;
    return enoughDesks(estate, 'hall', fromMs, toMs).halfHours.length;
  };
  expect(['2026-11-23', '2026-03-08', '2026-11-01'].map(halfHours)).toEqual([336, 334, 338]);
  const { fromMs } = week('2026-11-26');
  expect(new Date(fromMs).toISOString()).toBe('2026-11-23T07:00:00.000Z');
  expect([weekOfDate('2026-02-30', ROSTER_ZONE), weekOfDate('soon', ROSTER_ZONE)]).toEqual([null, null]);
});

test('who comes for sure needs a desk each; no chance at all outside the hours', () => {
  const estate = hallOf(
    ['a', 'b', 'c'].map((id) => comer(id, [{ schedule: 'early', site: 'hall' }])),
    2,
    [EARLY],
  );
  const answer = of(estate);
  expect([answer.desks, answer.needed]).toEqual([2, 3]);
  expect(at(answer, '2026-11-23T13:00:00Z')).toMatchObject({ expected: 3, chance: 1 });
  expect(at(answer, '2026-11-23T12:30:00Z')).toMatchObject({ expected: 0, chance: 0 });
  expect(worstOf(answer)?.fromMs).toBe(Date.parse('2026-11-23T13:00:00Z'));
});

test('three who come half of the time: one in eight finds none of two', () => {
  const estate = hallOf(
    ['a', 'b', 'c'].map((id) => comer(id, [{ schedule: 'early', site: 'hall', share: 0.5 }])),
    2,
    [EARLY],
  );
  expect(at(of(estate), '2026-11-23T14:00:00Z')).toMatchObject({ expected: 1.5, chance: 0.125 });
  expect([of(estate, 0.125).needed, of(estate, 0.124).needed]).toEqual([2, 3]);
});

test('the largest share of those that cover it counts, of this site alone, whatever part of the half hour it is', () => {
  const roster: RosterEntry[] = [
    { schedule: 'early', site: 'hall', share: 0.25 },
    { schedule: 'odd', site: 'hall', share: 0.75 },
    { schedule: 'early', site: 'pier' },
  ];
  const estate = hallOf([comer('a', roster)], 0, [EARLY, shift('odd', '13:45', '14:10')]);
  const answer = of(estate);
  const expected = (iso: string) => at(answer, iso).expected;
  expect(
    ['2026-11-23T20:00:00Z', '2026-11-23T20:30:00Z', '2026-11-23T21:00:00Z', '2026-11-23T21:30:00Z'].map(
      expected,
    ),
  ).toEqual([0.25, 0.75, 0.75, 0]);
});

test('exactly what trying all who come or not gives', () => {
  fc.assert(
    fc.property(
      fc.array(fc.double({ min: 0.01, max: 1, noNaN: true }), { maxLength: 9 }),
      fc.nat(9),
      (shares, desks) => {
        const estate = hallOf(
          shares.map((share, i) => comer(`p${i}`, [{ schedule: 'early', site: 'hall', share }])),
          desks,
          [EARLY],
        );
        let chance = 0;
        for (let mask = 0; mask < 1 << shares.length; mask += 1) {
          let [likely, come] = [1, 0];
          shares.forEach((share, i) => {
            const comes = (mask >> i) & 1;
            likely *= comes ? share : 1 - share;
            come += comes;
          });
          if (come > desks) chance += likely;
        }
        expect(at(of(estate), '2026-11-23T16:00:00Z').chance).toBeCloseTo(chance, 12);
      },
    ),
    { numRuns: 60 },
  );
});

test('whom no desk there allows is named', () => {
  const roster = [{ schedule: 'early', site: 'hall' }];
  const people = [
    comer('named', roster),
    comer('follows', roster, { template: 'crew' }),
    comer('away', roster, { status: 'off' }),
    comer('elsewhere', [{ schedule: 'early', site: 'pier' }]),
  ];
  const estate = hallOf(people, 1, [EARLY]);
  const only = (allowed: Desk['allowed']) =>
    withoutDesk({ ...estate, desks: [deskOf(0, { allowed })] }, 'hall').map(({ id }) => id);
  expect(only(undefined)).toEqual([]);
  expect(only({ people: ['named'] })).toEqual(['follows', 'away']);
  expect(only({ templates: ['crew'], statuses: ['off'] })).toEqual(['named']);
  expect(only({})).toEqual(['named', 'follows', 'away']);
  expect(desksAt(estate, 'hall').map(({ id }) => id)).toEqual(['k0']);
});

test('what a file may not say of desks and rosters is told by path', () => {
  const estate = hallOf([comer('a', [{ schedule: 'early', site: 'hall', share: 0.5 }])], 2, [EARLY]);
  expect(readEstate(estate)).toMatchObject({ ok: true });
  const faults = (change: Partial<Estate>) =>
    referenceFaults({ ...estate, ...change }).map(({ path }) => path);
  expect(faults({ desks: [deskOf(0), { ...deskOf(1), device: 'd0' }] })).toEqual(['desks[1].device']);
  expect(faults({ desks: [{ ...deskOf(0), device: 'gone' }] })).toEqual(['desks[0].device']);
  expect(faults({ desks: [deskOf(0, { allowed: { people: ['nobody'] } })] })).toEqual([
    'desks[0].allowed.people[0]',
  ]);
  expect(faults({ people: [comer('a', [{ schedule: 'never', site: 'moon' }])] })).toEqual([
    'people[0].roster[0].schedule',
    'people[0].roster[0].site',
  ]);
  const wrong = {
    ...deskOf(0),
    credential: 'smile',
    signOff: { dailyAt: '25:00', afterIdleS: 0 },
    colour: 'red',
  };
  expect(
    faultsOf(deskSchema, wrong)
      .map(({ path }) => path)
      .sort(),
  ).toEqual(['colour', 'credential', 'signOff.afterIdleS', 'signOff.dailyAt'].sort());
  const shares = (share: number) =>
    readEstate({ ...estate, people: [comer('a', [{ schedule: 'early', site: 'hall', share }])] }).ok;
  expect([shares(0), shares(1), shares(1.1)]).toEqual([false, true, false]);
});
