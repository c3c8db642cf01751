import fc from 'fast-check';
import type { Person } from '../../estate';
import { entryFor, personOf, smallEstate } from '../../tests/small';
import { affectedBy } from './affected';
import { applyEntries, faultsBrought, staleEntries } from './apply';
import { entriesBetween } from './between';
import { mergeThree } from './merge';
import { takenBack } from './take-back';

const ada = personOf('ada', 1, {});
const ben = personOf('ben', 2, { otherwise: { stages: [], ending: { kind: 'person', person: 'ada' } } });
const cleo = personOf('cleo', 3, {});
const estate = smallEstate([ada, ben, cleo]);
const renamed = (name: string) => entryFor(estate, 'person', 'ada', (p: Person) => ({ ...p, name }));

describe('the changes of a slate', () => {
  test('objects are changed in their places, added at the end and taken out', () => {
    const after = applyEntries(estate, [
      renamed('Ada New'),
      entryFor(estate, 'person', 'ben', () => null),
      entryFor(estate, 'person', 'dora', () => personOf('dora', 4, {})),
      { kind: 'settings', id: 'settings', name: 'Settings', base: null, after: { ringMs: 5000 } },
    ]);
    expect(after.people.map(({ name }) => name)).toEqual(['Ada New', 'Cleo Test', 'Dora Test']);
    expect(after.settings).toEqual({ ringMs: 5000 });
    expect(estate.people[0]!.name).toBe('Ada Test');
  });

  test('what was changed since is told with what is there now; what is live already is not', () => {
    const entry = renamed('Ada New');
    const since = applyEntries(estate, [renamed('Ada Other')]);
    expect(staleEntries(estate, [entry])).toEqual([]);
    expect(staleEntries(applyEntries(estate, [entry]), [entry])).toEqual([]);
    expect(staleEntries(since, [entry])).toEqual([{ entry, theirs: since.people[0] }]);
    expect(
      staleEntries(applyEntries(estate, [entryFor(estate, 'person', 'ada', () => null)]), [entry]),
    ).toEqual([{ entry, theirs: null }]);
  });

  test('a removal that leaves a colleague pointing at nobody is a fault of the colleague', () => {
    const entries = [entryFor(estate, 'person', 'ada', () => null)];
    expect(faultsBrought(estate, applyEntries(estate, entries), entries)).toEqual([
      {
        path: 'Ben Test: plan.otherwise.ending.person',
        message: expect.stringContaining('ada'),
        entry: null,
      },
    ]);
  });

  test('who is affected: those changed and all that lead there, however far', () => {
    const far = smallEstate([
      ada,
      ben,
      personOf('cleo', 3, { otherwise: { stages: [], ending: { kind: 'person', person: 'ben' } } }),
      personOf('dora', 4, {}),
    ]);
    const entries = [entryFor(far, 'person', 'ada', (p: Person) => ({ ...p, maxCalls: 2 }))];
    expect(affectedBy(far, applyEntries(far, entries), entries).map(({ id }) => id)).toEqual([
      'ada',
      'ben',
      'cleo',
    ]);
    const hours = [entryFor(far, 'schedule', 'office', (s: object) => ({ ...s, weekly: [] }))];
    expect(affectedBy(far, applyEntries(far, hours), hours)).toEqual([]);
    const trunk = [entryFor(far, 'trunk', 'quay', (t: object) => ({ ...t, channels: 1 }))];
    expect(affectedBy(far, applyEntries(far, trunk), trunk)).toHaveLength(4);
  });
});

describe('two changes of one thing brought together', () => {
  test('different settings are both taken; the same setting is a clash, in which mine stands', () => {
    const mine = { ...ada, name: 'Mine', maxCalls: 2 };
    const theirs = { ...ada, name: 'Theirs', status: 'leave' };
    const { merged, clashes } = mergeThree(ada, mine, theirs);
    expect(merged).toEqual({ ...ada, name: 'Mine', maxCalls: 2, status: 'leave' });
    expect(clashes).toEqual(['name']);
  });

  test('items of lists are followed by their names, added on both sides, removed on one', () => {
    const item = (id: string, value = 0) => ({ id, value });
    const base = [item('a'), item('b'), item('c')];
    const { merged, clashes } = mergeThree(
      base,
      [item('a', 1), item('c'), item('m')],
      [item('a'), item('b'), item('c', 2), item('t')],
    );
    expect(merged).toEqual([item('a', 1), item('c', 2), item('t'), item('m')]);
    expect(clashes).toEqual([]);
    expect(mergeThree(base, [item('a'), item('c')], [item('a'), item('b', 5), item('c')]).clashes).toEqual([
      '[b]',
    ]);
    expect(
      mergeThree(base, [item('c'), item('a'), item('b')], [item('a', 1), item('b'), item('c')]).merged,
    ).toEqual([item('c'), item('a', 1), item('b')]);
  });

  test('a change against nothing new is itself, whatever it is', () => {
    const json = fc.jsonValue({ maxDepth: 3 });
    fc.assert(
      fc.property(json, json, (base, mine) => {
        expect(mergeThree(base, mine, base)).toEqual({ merged: mine, clashes: [] });
        expect(mergeThree(base, base, mine).merged).toEqual(mine);
        expect(mergeThree(base, mine, mine)).toEqual({ merged: mine, clashes: [] });
      }),
    );
  });
});

describe('between two estates', () => {
  test('what makes one of the other is found, and makes it', () => {
    const entries = [
      renamed('Ada New'),
      entryFor(estate, 'person', 'ben', () => null),
      entryFor(estate, 'person', 'dora', () => personOf('dora', 4, {})),
      { kind: 'settings', id: 'settings', name: 'settings', base: null, after: { ringMs: 5000 } } as const,
    ];
    const after = applyEntries(estate, entries);
    const found = entriesBetween(estate, after);
    expect(found.map(({ kind, id }) => `${kind}/${id}`).sort()).toEqual(
      entries.map(({ kind, id }) => `${kind}/${id}`).sort(),
    );
    expect(applyEntries(estate, found)).toEqual(after);
    expect(entriesBetween(estate, estate)).toEqual([]);
  });

  test('a change is taken back without what was changed since', () => {
    const [before, after] = [ada, { ...ada, maxCalls: 4, name: 'Wrong' }];
    const since = { ...after, status: 'leave' };
    expect(takenBack(before, after, since)).toEqual({
      base: since,
      after: { ...ada, status: 'leave' },
      clashes: [],
    });
    expect(takenBack(before, after, { ...since, maxCalls: 9 })).toMatchObject({
      after: { name: 'Ada Test', maxCalls: 1 },
      clashes: ['maxCalls'],
    });
    expect(takenBack(before, after, before)).toBeNull();
    expect(takenBack(null, after, after)).toEqual({ base: after, after: null, clashes: [] });
    expect(takenBack(before, null, null)).toEqual({ base: null, after: before, clashes: [] });
  });
});
