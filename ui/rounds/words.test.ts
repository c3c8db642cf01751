import { beginningRound } from '../../core/rounds';
import { withKey, withoutKey } from './keys';
import { NUMBER_STATES } from '../../core/rounds';
import { doneOf, inOrder, sayCounts, sayRow } from './words';

test('numbers that were reached come first, each state once, and those without any are left out', () => {
  const counts = { busy: 2, waiting: 3, heard: 4, 'bad-number': 1 };
  expect(sayCounts(counts)).toBe('4 heard, 3 waiting, 2 busy, 1 bad number');
  const all = Object.fromEntries(NUMBER_STATES.map((state) => [state, 1]));
  expect(inOrder(all).map(([state]) => state)).toHaveLength(NUMBER_STATES.length);
  expect(new Set(inOrder(all).map(([state]) => state)).size).toBe(NUMBER_STATES.length);
});

test('a number is done once it needs no call any more', () => {
  expect(
    doneOf({ total: 12, counts: { waiting: 3, 'not-allowed-now': 1, calling: 2, heard: 5, unknown: 1 } }),
  ).toBe(6);
  expect(doneOf({ total: 0, counts: {} })).toBe(0);
  const row = { id: 1, name: 'x', madeAt: '', startedAt: null, endedAt: null };
  expect(sayRow({ ...row, state: 'draft', total: 0, counts: {} })).toBe('Draft, no list yet');
  expect(sayRow({ ...row, state: 'running', total: 2, counts: { heard: 2 } })).toBe('Calling: 2 heard');
});

test('a key is added and taken away, and a plan without any says nothing of keys', () => {
  const plan = beginningRound('Cancelled', 'coast');
  const one = withKey(plan, { key: '2', play: null });
  const two = withKey(one, { key: '3', play: 7 });
  expect(two.keys).toEqual([
    { key: '2', play: null },
    { key: '3', play: 7 },
  ]);
  expect(withoutKey(two, '2').keys).toEqual([{ key: '3', play: 7 }]);
  expect(withoutKey(one, '2')).toEqual(plan);
});
