import fc from 'fast-check';
import type { Estate, Person } from '../../estate';
import { wholeEstate } from '../../tests/whole';
import { workedEstate } from '../../tests/worked';
import { audit, auditorOf, sortFindings } from './audit';
import { checkContext } from './context';

const FROM = Date.parse('2026-11-24T18:00:00Z');
const told = (estate: Estate) => audit(checkContext(estate, FROM));

/** What an auditor says after each of some changes, made of what it said before and of what it says became other. */
function followed(first: Estate, later: readonly Estate[]): readonly (readonly unknown[])[] {
  const auditor = auditorOf(first, FROM);
  let known = auditor.findings;
  return later.map((estate) => {
    const change = auditor.change(estate);
    if (!change) throw new Error('only people were changed');
    const old = new Set([...change.gone, ...change.fresh.map(({ key }) => key)]);
    known = sortFindings([...known.filter(({ key }) => !old.has(key)), ...change.fresh]);
    expect(auditor.findings).toEqual(known);
    return known;
  });
}

test('after changes of people the findings are those of the whole estate', () => {
  const changes = fc
    .tuple(wholeEstate, wholeEstate, fc.nat(), fc.nat())
    .map(([first, other, one, two]): readonly Estate[] => {
      const swap = (estate: Estate, at: number) => ({
        ...estate,
        people: estate.people.map((person, i) => {
          if (i !== at % estate.people.length) return person;
          const found = other.people.find(({ id }) => id === person.id) ?? person;
          return { ...found, lines: person.lines };
        }),
      });
      const second = swap(first, one);
      return [first, second, swap(second, two), first];
    });
  fc.assert(
    fc.property(changes, ([first, ...later]) => {
      expect(followed(first!, later)).toEqual(later.map(told));
    }),
    { numRuns: 40 },
  );
});

test('what somebody leaves behind is found at whoever leads to them, and is gone again', () => {
  const estate = workedEstate();
  const ines = estate.people.find(({ id }) => id === 'ines')!;
  const put = (person: Person): Estate => ({
    ...estate,
    people: estate.people.map((each) => (each.id === person.id ? person : each)),
  });
  const silent = put({
    ...ines,
    plan: {
      rules: [],
      otherwise: { stages: [], ending: { kind: 'number', number: '+19005550100' } },
    },
  });
  const [after, again] = followed(estate, [silent, estate]);
  expect(after).toEqual(told(silent));
  expect(after).not.toEqual(told(estate));
  expect(again).toEqual(told(estate));
});

test('where more than people is changed all is gone through anew', () => {
  const estate = workedEstate();
  expect(auditorOf(estate, FROM).change({ ...estate, trunks: [] })).toBeNull();
});
