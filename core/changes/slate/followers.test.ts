import fc from 'fast-check';
import { compileEstate, recompileEstate, type EstateIndex } from '../../calls/engine';
import { LayeredMap, type Estate, type Person } from '../../estate';
import { wholeEstate } from '../../tests/whole';
import { affectedBy } from './affected';
import { faultsBrought } from './apply';
import { changedPeople, followersOf } from './followers';

/** Two estates of the whole model with the same people; some of the second stand in for those of the first. */
const CHANGES = fc
  .tuple(wholeEstate, wholeEstate, fc.array(fc.nat(), { minLength: 1, maxLength: 3 }), fc.nat())
  .map(([before, other, which, nth]) => {
    const swap = (people: readonly Person[], at: readonly number[]) =>
      people.map((person, i) => {
        if (!at.some((each) => each % people.length === i)) return person;
        const found = other.people.find(({ id }) => id === person.id) ?? person;
        // Extensions and numbers stay apart, as in every valid estate.
        return { ...found, lines: person.lines, name: `${person.name} again` };
      });
    const once = { ...before, people: swap(before.people, which) };
    return { before, once, twice: { ...once, people: swap(once.people, [nth]) } };
  });
const kindsAndIds = (starts: readonly { kind: string; id: string }[]) =>
  starts.map(({ kind, id }) => `${kind}/${id}`).sort();

const touched = (before: Estate, after: Estate) =>
  affectedBy(
    before,
    after,
    changedPeople(before, after)!.map(({ before: base, after: now }) => ({
      kind: 'person' as const,
      id: now.id,
      name: now.name,
      base,
      after: now,
    })),
  );

test('whom changes of people can touch is found from who follows whom as from the whole estate', () => {
  fc.assert(
    fc.property(CHANGES, ({ before, once, twice }) => {
      const followers = followersOf(before);
      for (const [from, to] of [
        [before, once],
        [once, twice],
      ] as const) {
        const changed = changedPeople(from, to)!;
        followers.change(changed);
        const found = new Set(kindsAndIds(followers.affected(changed)));
        // Whoever led to somebody only before was changed: none is left out.
        for (const each of kindsAndIds(touched(from, to))) expect(found).toContain(each);
        // Nobody is looked at who leads nowhere near.
        const both = new Set([...kindsAndIds(touched(from, to)), ...kindsAndIds(touched(to, from))]);
        for (const each of found) expect(both).toContain(each);
      }
    }),
    { numRuns: 150 },
  );
});

const shown = ({ estate: _estate, classOf: _classOf, ...index }: EstateIndex) =>
  Object.fromEntries(
    Object.entries(index).map(([key, value]: [string, unknown]) => [
      key,
      value instanceof Map || value instanceof LayeredMap
        ? [...(value as ReadonlyMap<string, unknown>)].sort(([a], [b]) => (a < b ? -1 : 1))
        : value,
    ]),
  );

test('an index of which some people were looked at anew is that of the whole estate', () => {
  fc.assert(
    fc.property(CHANGES, ({ before, once, twice }) => {
      const first = compileEstate(before);
      const second = recompileEstate(first, once, changedPeople(before, once)!);
      const third = recompileEstate(second, twice, changedPeople(once, twice)!);
      expect(shown(second)).toEqual(shown(compileEstate(once)));
      expect(shown(third)).toEqual(shown(compileEstate(twice)));
      // What was made of the first is as it was.
      expect(shown(first)).toEqual(shown(compileEstate(before)));
    }),
    { numRuns: 150 },
  );
});

test('more than people, and people who come or go, are no change of people alone', () => {
  const [before] = fc.sample(wholeEstate, { numRuns: 1, seed: 7 });
  expect(changedPeople(before!, before!)).toEqual([]);
  expect(changedPeople(before!, { ...before!, trunks: [] })).toBeNull();
  expect(changedPeople(before!, { ...before!, people: before!.people.slice(1) })).toBeNull();
  expect(changedPeople(before!, { ...before!, people: [...before!.people].reverse() })).toBeNull();
});

test('what people bring by themselves is found at them alone as in the whole estate', () => {
  const nothing = (estate: Estate) => {
    const [status] = estate.statuses;
    return { kind: 'status' as const, id: status!.id, name: status!.name, base: status, after: status };
  };
  fc.assert(
    fc.property(CHANGES, fc.boolean(), ({ before, once }, isSpoilt) => {
      const spoil = (person: Person, i: number): Person =>
        isSpoilt && i === 0 ? { ...person, status: 'nowhere', template: 'none' } : person;
      const changed = changedPeople(before, once)!.map(({ before: was, after }, i) => ({
        was,
        // What others know them by stays.
        after: spoil({ ...after, endpoints: was.endpoints }, i),
      }));
      const after = {
        ...before,
        people: before.people.map((person) => changed.find(({ was }) => was === person)?.after ?? person),
      };
      const entries = changed.map(({ was, after: now }) => ({
        kind: 'person' as const,
        id: now.id,
        name: now.name,
        base: was,
        after: now,
      }));
      // With something else beside them all of the estate is gone through.
      const whole = faultsBrought(before, after, [...entries, nothing(before)]);
      const told = (faults: typeof whole) =>
        faults.map(({ entry, path, message }) => `${entry} ${path} ${message}`).sort();
      expect(told(faultsBrought(before, after, entries))).toEqual(told(whole));
      if (isSpoilt && changed.length > 0) expect(whole.length).toBeGreaterThan(0);
    }),
    { numRuns: 150 },
  );
});
