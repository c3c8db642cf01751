import { DateTime } from 'luxon';
import { zoneNamed } from '../../zones';
import { compileEstate } from '../../calls/engine';
import type { Plan } from '../../estate';
import { personOf, ringing, smallEstate } from '../../tests/small';
import { dropOuts } from './drop-out';

const NOON = Date.parse('2026-11-24T20:00:00Z');
const both = ringing([{ endpoint: 'ada-desk' }, { endpoint: 'ada-mobile' }]);
const desk = ringing([{ endpoint: 'ada-desk' }]);
const index = (plan: Partial<Plan>) => compileEstate(smallEstate([personOf('ada', 1, plan)]));
const office = (inside: boolean, then: typeof both): Partial<Plan> => ({
  rules: [{ id: 'r', name: 'Hours', when: { schedule: { id: 'office', inside } }, ...then }],
});
const drops = (before: Partial<Plan>, after: Partial<Plan>) =>
  dropOuts(index(before), index(after), personOf('ada', 1, before), new Set(['office']), NOON);

test('a phone that no rule rings any more drops out at all hours', () => {
  expect(drops({ otherwise: both }, { otherwise: desk })).toEqual([
    { endpoint: 'ada-mobile', label: 'Mobile', atMs: null },
  ]);
});
test('one that rings in the office hours only drops out outside them, though nothing is different now', () => {
  const [drop, ...more] = drops({ otherwise: both }, { ...office(true, both), otherwise: desk });
  expect(more).toEqual([]);
  expect(drop).toMatchObject({ endpoint: 'ada-mobile' });
  const local = DateTime.fromMillis(drop?.atMs ?? 0, { zone: zoneNamed('America/Vancouver') });
  expect(local.weekday > 5 || local.hour < 8 || local.hour >= 17).toBe(true);
});
test('what rings as before, or more, drops nothing', () => {
  expect(drops({ otherwise: both }, { otherwise: both })).toEqual([]);
  expect(drops({ otherwise: desk }, { ...office(false, both), otherwise: desk })).toEqual([]);
});
