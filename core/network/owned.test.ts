import fc from 'fast-check';
import { forgetIn, ownedIn, ownerKey } from './owned';

test('whatever is remembered, taken back at the end of a list and gone in its middle, each is found by whose it is, in its order', () => {
  const one = fc.record({
    proto: fc.constantFrom('udp' as const, 'tcp' as const),
    inside: fc.record({ address: fc.constant('192.168.1.2'), port: fc.integer({ min: 1, max: 3 }) }),
    key: fc.constantFrom('', 'a'),
  });
  const steps = fc.array(
    fc.oneof(
      fc.record({ push: one }),
      fc.constant({ pop: true as const }),
      fc.record({ forget: fc.integer({ min: 1, max: 3 }) }),
      fc.constant({ look: true as const }),
    ),
    { maxLength: 60 },
  );
  fc.assert(
    fc.property(steps, (all) => {
      const memories: object[] = [];
      type One = typeof one extends fc.Arbitrary<infer T> ? T : never;
      const list = memories as One[];
      for (const step of all) {
        if ('push' in step) list.push(step.push);
        else if ('pop' in step) list.pop();
        else if ('forget' in step) {
          const left = list.filter(({ inside }) => inside.port !== step.forget);
          forgetIn(list, ({ inside }) => inside.port === step.forget);
          expect(list).toEqual(left);
        } else ownedIn(list);
      }
      for (const each of list) {
        const key = ownerKey(each.proto, each.inside, each.key);
        expect(ownedIn(list).by.get(key)).toEqual(
          list.filter((other) => ownerKey(other.proto, other.inside, other.key) === key),
        );
      }
      const found = [...ownedIn(list).by.values()].reduce((sum, { length }) => sum + length, 0);
      expect(found).toBe(list.length);
    }),
  );
});
