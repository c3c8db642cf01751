import { workedEstate } from '../tests/worked';
import { readEstate, type Menu } from '../estate';
import { freeId, moved } from './lists';
import { addCase, isForEveryCall, moveCase } from './menus';

const estate = workedEstate();
const menu = estate.menus[0]!;
const isValid = (after: Menu) =>
  readEstate({ ...estate, menus: estate.menus.map((each) => (each.id === after.id ? after : each)) }).ok;

test('as many cases as wanted, each asked first, with hours that no other has, then for calls from inside', () => {
  let more = menu;
  for (let n = 0; n < estate.schedules.length + 2; n += 1) more = addCase(more, estate.schedules);
  expect(isValid(more)).toBe(true);
  expect(new Set(more.rules.map(({ id }) => id)).size).toBe(more.rules.length);
  const hours = more.rules.flatMap(({ when }) => when.schedule?.id ?? []);
  expect(new Set(hours).size).toBe(hours.length);
  expect(more.rules[0]!.when).toEqual({ caller: { class: 'internal' } });
  expect(more.rules.at(-1)).toEqual(menu.rules.at(-1));
  expect(isForEveryCall(more.rules[0]!)).toBe(false);
  expect(addCase({ ...menu, rules: [] }, []).rules).toHaveLength(1);
});

test('a case is moved, and no further than the list goes', () => {
  const two = addCase(menu, estate.schedules);
  const ids = (each: Menu) => each.rules.map(({ id }) => id);
  expect(ids(moveCase(two, 0, 1))[1]).toBe(ids(two)[0]);
  expect(ids(moveCase(two, 0, 99)).at(-1)).toBe(ids(two)[0]);
  expect(moved([1, 2, 3], 7, 0)).toEqual([1, 2, 3]);
  expect(moved([1, 2, 3], 2, -5)).toEqual([3, 1, 2]);
});

test('a free id is the base, or the base with the next number', () => {
  expect(freeId('a', [])).toBe('a');
  expect(freeId('a', ['a', 'a-2', 'a-4'])).toBe('a-3');
});
