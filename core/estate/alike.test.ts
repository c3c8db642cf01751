import fc from 'fast-check';
import { wholeEstate } from '../tests/whole';
import { manyFormFaults } from './alike';
import { faultsOf, personSchema } from './schema';
import type { Person } from './types';

/** Ways in which somebody becomes wrong, or stays right though other words are in their place. */
const TURNS: readonly ((person: Person) => unknown)[] = [
  (person) => person,
  (person) => ({ ...person, name: `${person.name} too` }),
  (person) => ({ ...person, name: '' }),
  (person) => ({ ...person, name: 'n'.repeat(201) }),
  (person) => ({ ...person, id: 'two words' }),
  (person) => ({ ...person, maxCalls: -1 }),
  (person) => ({ ...person, hat: true }),
  (person) => ({ ...person, lines: person.lines.map((line) => ({ ...line, extension: '12a' })) }),
  (person) => ({ ...person, lines: person.lines.map((line) => ({ ...line, numbers: ['250 555 0100'] })) }),
  (person) => ({ ...person, lines: person.lines.map((line) => ({ ...line, numbers: ['+12505550199'] })) }),
  (person) => ({ ...person, endpoints: person.endpoints.map((each) => ({ ...each, number: '+1' })) }),
  (person) => ({
    ...person,
    endpoints: person.endpoints.map((each) => ({ ...each, number: '+12505550198' })),
  }),
  (person) => ({ ...person, endpoints: person.endpoints.map((each) => ({ ...each, label: '' })) }),
  (person) => ({ ...person, endpoints: person.endpoints.map((each) => ({ ...each, id: '' })) }),
  (person) => ({ ...person, plan: { ...person.plan, rules: [{}] } }),
  ({ lines: _lines, ...person }) => person,
  (person) => ({ ...person, lines: [null], endpoints: 'none' }),
  (person) => ({ ...person, lines: person.lines.map((line) => ({ ...line, numbers: 'none' })) }),
  (person) => ({ ...person, endpoints: person.endpoints.map((each) => ({ ...each, id: 7, number: null })) }),
  () => null,
];

test('many people checked together are right or wrong as each by themselves', () => {
  const some = fc.tuple(
    wholeEstate,
    fc.array(fc.nat({ max: TURNS.length - 1 }), { minLength: 8, maxLength: 8 }),
  );
  let [right, wrong] = [0, 0];
  fc.assert(
    fc.property(fc.array(some, { minLength: 1, maxLength: 3 }), (all) => {
      const check = manyFormFaults();
      for (const [{ people }, turns] of all) {
        const turned = people.map((person, n) => TURNS[turns[n % turns.length]!]!(person));
        // Wrong ones one at a time, so that those after them are looked at too.
        for (const person of turned) {
          const faults = faultsOf(personSchema, person, 'person');
          expect(check([person])).toEqual(faults.length > 0 ? { person, faults } : null);
          if (faults.length > 0) wrong += 1;
          else right += 1;
        }
        const first = turned.find((person) => faultsOf(personSchema, person).length > 0);
        expect(check(turned)?.person).toBe(first);
      }
    }),
    { numRuns: 80 },
  );
  // A quarter of some five hundred is right.
  expect([right > 30, wrong > 60]).toEqual([true, true]);
});
