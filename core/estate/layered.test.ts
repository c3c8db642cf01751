import fc from 'fast-check';
import { LayeredMap } from './layered';
import { peopleIn, personIn, placesOf, withOthers } from './people-at';
import { personOf } from '../tests/small';

const turn = fc.oneof(
  fc.record({
    kind: fc.constant('set' as const),
    key: fc.nat({ max: 30 }),
    value: fc.option(fc.nat(), { nil: undefined }),
  }),
  fc.record({ kind: fc.constant('delete' as const), key: fc.nat({ max: 30 }) }),
  fc.record({ kind: fc.constant('copy' as const) }),
);

test('a map over another is what a copy of it would be, whatever is put and taken away, and leaves it alone', () => {
  fc.assert(
    fc.property(
      fc.array(fc.tuple(fc.nat({ max: 20 }), fc.nat())),
      fc.array(turn, { maxLength: 60 }),
      (first, turns) => {
        const below = new Map<number, number | undefined>(first);
        const plain = new Map(below);
        let layered = LayeredMap.over<number, number | undefined>(below);
        for (const each of turns) {
          if (each.kind === 'copy') {
            const [before, all] = [layered, [...layered]];
            layered = LayeredMap.over(layered);
            layered.set(99, 1);
            expect([...before]).toEqual(all);
            layered.delete(99);
          } else if (each.kind === 'set') {
            layered.set(each.key, each.value);
            plain.set(each.key, each.value);
          } else expect(layered.delete(each.key)).toBe(plain.delete(each.key));
        }
        expect(layered.size).toBe(plain.size);
        expect(new Map(layered)).toEqual(plain);
        expect([...layered.keys()].length).toBe(plain.size);
        expect(new Set(layered.values())).toEqual(new Set(plain.values()));
        for (let key = 0; key <= 30; key += 1) {
          expect(layered.has(key)).toBe(plain.has(key));
          expect(layered.get(key)).toBe(plain.get(key));
        }
        expect([...below]).toEqual([...new Map(first)]);
      },
    ),
    { numRuns: 200 },
  );
});

test('of one with much beside it all is put together again', () => {
  const below = new Map(Array.from({ length: 2000 }, (_, n) => [n, n]));
  const many = LayeredMap.over(below);
  for (let n = 1000; n < 2600; n += 1) many.set(n, -n);
  const again = LayeredMap.over(many);
  expect(new Map(again)).toEqual(new Map(many));
  expect([again.size, again.get(1500), again.get(2599), again.get(10)]).toEqual([2600, -1500, -2599, 10]);
});

test('people are found by their places, in a list made of another too', () => {
  const people = ['ada', 'ben', 'cleo'].map((id, n) => personOf(id, n, {}));
  const ben = { ...people[1]!, name: 'Ben Other' };
  const now = withOthers(people, [ben])!;
  expect(now).toEqual([people[0], ben, people[2]]);
  expect(personIn(people, 'ben')).toBe(people[1]);
  expect(personIn(now, 'ben')).toBe(ben);
  expect(placesOf(now)).toBe(placesOf(people));
  expect(peopleIn(now, ['cleo', 'nobody', 'ben'])).toEqual([ben, people[2]]);
  expect(withOthers(people, [personOf('dora', 4, {})])).toBeNull();
});
