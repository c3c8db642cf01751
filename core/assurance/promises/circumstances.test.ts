import fc from 'fast-check';
import { alternatives, FIRST, type Choices } from './circumstances';
import { reachableIn } from './reachable';
import { workedEstate } from '../../tests/worked';

const estate = workedEstate();
const GROUPS: Readonly<Record<string, readonly string[]>> = {
  crew: ['ada', 'ben', 'cleo'],
  desk: ['cleo', 'dan', 'ada'],
  rest: ['dan', 'ben', 'eve', 'cleo'],
  many: ['ada', 'ben', 'cleo', 'dan', 'eve', 'fay'],
};
const choices: Choices = {
  first: FIRST,
  reachable: reachableIn(estate, estate.people[0]!.id),
  maxCalls: () => 2,
  seats: new Map(),
  membersOf: (id) => GROUPS[id]!,
};
const orderOf = (group: string, idleMs: Readonly<Record<string, number>>): string =>
  [...GROUPS[group]!].sort((a, b) => (idleMs[b] ?? 0) - (idleMs[a] ?? 0)).join(' ');
const idle = (id: string, given = FIRST) => alternatives({ of: 'idle', id }, given, choices);

test('members of a group have been idle in every order, each once', () => {
  const { all, complete } = idle('crew');
  expect(complete).toBe(true);
  expect(new Set(all.map(({ idleMs }) => orderOf('crew', idleMs))).size).toBe(6);
  expect(all).toHaveLength(6);
});
test('who is in several groups keeps their place: together the orders are those of all members at once', () => {
  fc.assert(
    fc.property(fc.shuffledSubarray(['crew', 'desk', 'rest'], { minLength: 2 }), (groups) => {
      let givens = [FIRST];
      for (const group of groups) {
        const next = givens.flatMap((given) => idle(group, given).all);
        // What was settled for the groups before stays as it was.
        for (const before of groups.slice(0, groups.indexOf(group)))
          expect(new Set(next.map(({ idleMs }) => orderOf(before, idleMs)))).toEqual(
            new Set(givens.map(({ idleMs }) => orderOf(before, idleMs))),
          );
        givens = next;
      }
      const seen = new Set(givens.map(({ idleMs }) => groups.map((each) => orderOf(each, idleMs)).join('/')));
      const people = [...new Set(groups.flatMap((each) => GROUPS[each]!))];
      // Every total order of the people shows one of them, and none of them is missing.
      fc.assert(
        fc.property(fc.shuffledSubarray(people, { minLength: people.length }), (order) => {
          const times = Object.fromEntries(order.map((id, at) => [id, order.length - at]));
          expect(seen).toContain(groups.map((each) => orderOf(each, times)).join('/'));
        }),
        { numRuns: 40 },
      );
      for (const { idleMs } of givens) expect(Object.values(idleMs).every(Number.isInteger)).toBe(true);
    }),
    { numRuns: 12, seed: 15 },
  );
});
test('of a large group not all orders are tried, and that is said', () => {
  const { all, complete } = idle('many');
  expect(complete).toBe(false);
  expect(new Set(all.map(({ idleMs }) => orderOf('many', idleMs).split(' ')[0])).size).toBe(6);
});
test('in a group that goes round each member’s turn comes', () => {
  const { all } = alternatives({ of: 'turn', id: 'crew' }, FIRST, choices);
  expect(all.map(({ groupLast }) => ((groupLast.crew ?? -1) + 1) % 3).sort()).toEqual([0, 1, 2]);
});
test('what is decided is not open any more, and nothing else is', () => {
  for (const { decided } of alternatives({ of: 'engaged', id: 'ben' }, FIRST, choices).all)
    expect([...decided]).toEqual(['engaged/ben']);
});
