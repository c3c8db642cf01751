import { finderOf } from '../../editing';
import type { Estate, Person } from '../../estate';
import { compileEstate, runCall } from '../../calls/engine';
import { affectedBy, applyEntries, type SlateEntry } from '../../changes/slate';
import { crewOf, entryFor, mainMenu, personOf, ringing, smallEstate } from '../../tests/small';
import { changesOf, versionsOf } from './impact';
import { groupChanges, impactNames } from './words';

const FROM = Date.parse('2026-11-23T18:00:00Z');
const side = (estate: Estate) => ({ estate, finder: finderOf(estate) });

function impact(before: Estate, entries: readonly SlateEntry[]) {
  const after = applyEntries(before, entries);
  const versions = versionsOf(side(before), side(after), FROM);
  const changes = affectedBy(before, after, entries).flatMap((start) => changesOf(versions, start));
  return { after, changes, groups: groupChanges(changes, impactNames(after, before)) };
}
const says = (before: Estate, entries: readonly SlateEntry[]) =>
  impact(before, entries).groups.map((group) => group.says);
const person = (estate: Estate, id: string, change: (p: Person) => Person | null) =>
  entryFor(estate, 'person', id, change);

const nightToBen: Person['plan'] = {
  rules: [
    {
      id: 'night',
      name: 'Night',
      when: { schedule: { id: 'office', inside: false } },
      stages: [],
      ending: { kind: 'person', person: 'ben' },
    },
  ],
  otherwise: ringing([{ endpoint: 'ada-desk' }]),
};

describe('what a change does to calls', () => {
  const plain = smallEstate([personOf('ada', 1, {}), personOf('ben', 2, {}), personOf('cleo', 3, {})]);

  test('a change that no call notices has an impact nowhere', () => {
    expect(says(plain, [person(plain, 'ada', (p) => ({ ...p, name: 'Ada Other' }))])).toEqual([]);
  });

  test('a rule for the night is told with its hours, and once', () => {
    expect(says(plain, [person(plain, 'ada', (p) => ({ ...p, plan: nightToBen }))])).toEqual([
      'Ada Test: an unanswered call outside “Office” now ends as voicemail for Ben. Before, it ended as voicemail for them.',
      'Ada Test: a call that would be taken at the desk phone outside “Office” now ends as voicemail for Ben. Before, it was taken by them.',
    ]);
  });

  test('a colleague’s change reaches those who lead there, and is put together where it is the same', () => {
    const leading = (id: string, n: number) =>
      personOf(id, n, { otherwise: { stages: [], ending: { kind: 'person', person: 'ben' } } });
    const estate = smallEstate([leading('ada', 1), personOf('ben', 2, {}), leading('cleo', 3)]);
    const { groups, changes } = impact(estate, [
      person(estate, 'ben', (p) => ({ ...p, mailbox: { enabled: false } })),
    ]);
    expect(groups.map((group) => group.says)).toEqual([
      '2 people: an unanswered call now is lost: the mailbox is switched off. Before, it ended as voicemail for Ben.',
      'Ben Test: an unanswered call now is lost: the mailbox is switched off. Before, it ended as voicemail for them.',
    ]);
    expect(groups[0]).toMatchObject({ weight: 'lost' });
    expect(new Set(changes.map(({ start }) => start.id))).toEqual(new Set(['ada', 'ben', 'cleo']));
  });

  test('a mobile that rings too shows in the call taken there; a longer ring in the time', () => {
    const both = ringing([{ endpoint: 'ada-desk' }, { endpoint: 'ada-mobile', acceptAfterMs: 3000 }]);
    expect(
      says(plain, [person(plain, 'ada', (p) => ({ ...p, plan: { ...p.plan, otherwise: both } }))]),
    ).toContain(
      'Ada Test: a call that would be taken at the mobile now is taken by them. Before, it ended as voicemail for them.',
    );
    const longer = ringing([{ endpoint: 'ada-desk' }], 25_000);
    expect(
      says(plain, [person(plain, 'ada', (p) => ({ ...p, plan: { ...p.plan, otherwise: longer } }))]),
    ).toEqual(['Ada Test: an unanswered call ends as voicemail for them 5 s later than before.']);
  });

  test('a rule for a status that the person does not have now is found', () => {
    const rule = {
      id: 'l',
      name: 'Leave',
      when: { status: ['leave'] },
      stages: [],
      ending: { kind: 'hang-up', message: '' },
    } as const;
    expect(
      says(plain, [person(plain, 'ada', (p) => ({ ...p, plan: { ...p.plan, rules: [rule] } }))]),
    ).toEqual([
      'Ada Test: an unanswered call while “On leave” now is ended. Before, it ended as voicemail for them.',
      'Ada Test: a call that would be taken at the desk phone while “On leave” now is ended. Before, it was taken by them.',
    ]);
  });

  test('groups and menus are asked too; somebody who is gone is not reached any more', () => {
    const estate = smallEstate([personOf('ada', 1, {}), personOf('ben', 2, {})], {
      groups: [
        crewOf({
          members: [{ person: 'ada' }, { person: 'ben' }],
          ending: { kind: 'hang-up', message: 'later' },
        }),
      ],
      menus: [mainMenu({ choices: [{ key: '1', then: { kind: 'group', group: 'crew' } }] })],
    });
    const smaller = entryFor(estate, 'group', 'crew', (g: object) => ({
      ...g,
      members: [{ person: 'ben' }],
    }));
    const gone = person(estate, 'ada', () => null);
    const menu = entryFor(estate, 'menu', 'main', (m: { rules: object[] }) => ({
      ...m,
      rules: m.rules.map((rule) => ({ ...rule, otherwise: { kind: 'group', group: 'crew' } })),
    }));
    const { groups } = impact(estate, [smaller, gone, menu]);
    const all = groups.map((group) => group.says);
    expect(all).toContain(
      'Ada Test: an unanswered call now is lost: nobody has this number. Before, it ended as voicemail for them.',
    );
    expect(all).toContain(
      'Main: an unanswered call now is ended with “later”. Before, it ended as voicemail for Ada.',
    );
    expect(all).toContain(
      'Crew: a call that Ada Test would take now is ended with “later”. Before, it was taken by Ada Test.',
    );
  });

  test('each line of a person is called, and one that goes to somebody else rings there', () => {
    const two = (id: string, n: number) =>
      personOf(
        id,
        n,
        {},
        { lines: [...personOf(id, n, {}).lines, { id: `second-${id}`, extension: `420${n}`, numbers: [] }] },
      );
    const estate = smallEstate([two('ada', 1), personOf('ben', 2, {})]);
    const second = estate.people[0]!.lines[1]!;
    const forwarded = { ...second, forwardAll: { kind: 'hang-up', message: 'closed' } as const };
    expect(
      says(estate, [person(estate, 'ada', (p) => ({ ...p, lines: [p.lines[0]!, forwarded] }))]),
    ).toContain(
      'Ada Test: an unanswered call for 4201 now is ended with “closed”. Before, it ended as voicemail for them.',
    );
    const moved = says(estate, [
      person(estate, 'ada', (p) => ({ ...p, lines: [p.lines[0]!] })),
      person(estate, 'ben', (p) => ({ ...p, lines: [...p.lines, second] })),
    ]);
    expect(moved).toContain(
      'Ada Test: an unanswered call for 4201 now ends as voicemail for Ben. Before, it ended as voicemail for them.',
    );
  });

  test('each call shown does differ as it is said', () => {
    const { after, changes } = impact(plain, [
      person(plain, 'ada', (p) => ({ ...p, plan: nightToBen })),
      person(plain, 'ben', (p) => ({
        ...p,
        lines: p.lines.map((l) => ({ ...l, forwardAll: { kind: 'number', number: '+12505550199' } })),
      })),
    ]);
    expect(changes.length).toBeGreaterThan(3);
    for (const { call, from, to } of changes) {
      expect(runCall(compileEstate(plain), call).outcome.kind).toBe(from.kind);
      expect(runCall(compileEstate(after), call).outcome.kind).toBe(to.kind);
    }
  });
});
