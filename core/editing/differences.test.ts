import fc from 'fast-check';
import { differences, isSame } from './differences';

/** Two values of which one may be the other with something put in, taken out or in another order. */
const pairs = fc
  .tuple(fc.jsonValue({ maxDepth: 3 }), fc.jsonValue({ maxDepth: 3 }), fc.nat({ max: 6 }), fc.nat())
  .map(([a, b, how, at]): readonly [unknown, unknown] => {
    const copy = JSON.parse(JSON.stringify(a)) as unknown;
    if (how < 3) return [a, copy];
    if (how === 3) return [a, b];
    if (Array.isArray(copy) && copy.length > 0) {
      const items = copy as unknown[];
      if (how === 4) items.splice(at % items.length, 1, b);
      else if (how === 5) items.push(b);
      else items.reverse();
    } else if (typeof copy === 'object' && copy !== null) {
      const record = copy as Record<string, unknown>;
      const keys = Object.keys(record);
      const key = keys[at % Math.max(1, keys.length)];
      if (how === 4 && key !== undefined) Reflect.deleteProperty(record, key);
      else if (how === 5) record[`key ${at}`] = b;
      else if (key !== undefined) record[key] = undefined;
    }
    return [a, copy];
  });

test('two values are the same where nothing differs, and only there', () => {
  let [same, other] = [0, 0];
  fc.assert(
    fc.property(pairs, ([a, b]) => {
      const isNone = differences(a, b).length === 0;
      expect(isSame(a, b)).toBe(isNone);
      expect(isSame(b, a)).toBe(isNone);
      if (isNone) same += 1;
      else other += 1;
    }),
    { numRuns: 3000 },
  );
  expect([same > 500, other > 500]).toEqual([true, true]);
});

test('what is not there is as what is undefined, and no name that every object has is taken for a part', () => {
  expect(isSame({ a: 1 }, { a: 1, b: undefined })).toBe(true);
  expect(isSame({ a: 1 }, JSON.parse('{ "a": 1, "toString": 2 }'))).toBe(false);
  expect(isSame(undefined, null)).toBe(false);
  expect(isSame([{ id: 'x' }, { id: 'y' }], [{ id: 'y' }, { id: 'x' }])).toBe(false);
});
