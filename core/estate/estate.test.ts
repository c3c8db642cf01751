import {
  addPhone,
  differences,
  editEndpoint,
  editStageTime,
  editTarget,
  finderOf,
  sliceFor,
  switchEndpoint,
} from '../editing';
import { faultLine, readEstate, parts } from '.';
import type { Person, Status } from './types';
import { faultsOf } from './schema';
import { workedEstate } from '../tests/worked';

const fresh = workedEstate;

/** The faults of the worked estate with one place of it set to something else (or taken away). */
function faultsWith(path: string, value: unknown): string[] {
  const estate: unknown = fresh();
  const keys = path.split('.');
  let at = estate as Record<string, unknown>;
  for (const key of keys.slice(0, -1)) at = at[key] as Record<string, unknown>;
  const last = keys.at(-1)!;
  if (value === undefined) Reflect.deleteProperty(at, last);
  else at[last] = value;
  const read = readEstate(estate);
  return read.ok ? [] : read.faults.map(faultLine);
}

describe('faults of form, each with its path', () => {
  test.each([
    ['format', 'hostler-estate/2', 'format: must be "hostler-estate/1"'],
    ['nmae', 'x', 'nmae: is not a known field here'],
    ['timeZone', 'America/Atlantis', 'timeZone: must be an IANA time zone'],
    [
      'people.3.plan.rules.0.stages.1.forMs',
      0,
      'people[3].plan.rules[0].stages[1].forMs: must be a whole number of ms, 1 or more',
    ],
    [
      'people.3.plan.rules.0.stages.1.forMs',
      2.5,
      'people[3].plan.rules[0].stages[1].forMs: must be a whole number of ms, 1 or more',
    ],
    [
      'people.0.plan.rules.2.stages.0.ring.1.acceptAftrMs',
      5,
      'people[0].plan.rules[2].stages[0].ring[1].acceptAftrMs: is not a known field',
    ],
    ['settings', { move: { toDesk: '*1', transfer: '*12' } }, 'settings.move: must have two codes'],
    ['settings', { move: { transfer: '*1' } }, 'settings.move: must have two codes'],
    ['settings', { move: { toDesk: 'x' } }, 'settings.move.toDesk: must be keys of a telephone'],
    [
      'people.0.plan.rules.2.stages.0.ring.1.agreedOn',
      'soon',
      'people[0].plan.rules[2].stages[0].ring[1].agreedOn: must be',
    ],
    ['people.0.endpoints.1.number', undefined, 'people[0].endpoints[1].number: is missing'],
    ['people.0.endpoints.1.number', '778 555 0101', 'people[0].endpoints[1].number: must be an E.164 number'],
    [
      'people.0.endpoints.0.number',
      '+17785550101',
      'people[0].endpoints[0].number: is only for a mobile or landline',
    ],
    ['people.0.endpoints.0.wakeMs', 5, 'people[0].endpoints[0].wakeMs: is only for a softphone on a mobile'],
    ['people.0.endpoints.0.kind', 'pager', 'people[0].endpoints[0].kind: must be one of desk'],
    [
      'people.0.plan.otherwise.ending',
      { kind: 'limbo' },
      'people[0].plan.otherwise.ending.kind: must be one of mailbox',
    ],
    ['people.0.plan.otherwise.ending', undefined, 'people[0].plan.otherwise.ending: is missing'],
    [
      'people.4.plan.rules.0.stages.0.code.wrong',
      { kind: 'queue', maxMs: 5, then: { kind: 'mailbox' } },
      'people[4].plan.rules[0].stages[0].code.wrong: a queue may stand only',
    ],
    ['groups.0.ending', { kind: 'mailbox' }, 'groups[0].ending.person: is missing'],
    [
      'menus.0.rules.1.when',
      { schedule: { id: 'office', inside: true } },
      'menus[0].rules[1].when: must be empty in the last rule',
    ],
    ['menus.0.rules.0.choices.1.key', '1', 'menus[0].rules[0].choices[1].key: is offered already'],
    [
      'people.3.plan.rules.0.when',
      { caller: { class: 'listed' } },
      'people[3].plan.rules[0].when.caller.numbers: is missing',
    ],
    ['schedules.0.weekly.0.from', '8:00', 'schedules[0].weekly[0].from: must be a time HH:MM'],
    ['schedules.0.closed.0', '2026-02-30', 'schedules[0].closed[0]: must be a date'],
    ['trunks.0.channels', -1, 'trunks[0].channels: must be a whole number'],
    ['people', 'nobody', 'people: must be a list'],
    ['people.0', null, 'people[0]: '],
  ])('%s', (path, value, expected) => {
    expect(faultsWith(path, value).some((line) => line.startsWith(expected))).toBe(true);
  });
  test('one wrong field is one fault', () => {
    expect(faultsWith('people.3.plan.rules.0.stages.1.forMs', 0)).toHaveLength(1);
  });
  test.each([null, [], 'text', 7])('%p is no estate', (value) => {
    expect(readEstate(value).ok).toBe(false);
  });
});

describe('faults between objects', () => {
  test.each([
    ['people.0.status', 'asleep', 'people[0].status: there is no status "asleep"'],
    ['people.0.permission', 'x', 'people[0].permission: there is no permission "x"'],
    [
      'people.0.plan.rules.0.ending.person',
      'x',
      'people[0].plan.rules[0].ending.person: there is no person "x"',
    ],
    [
      'people.0.plan.rules.0.when.schedule.id',
      'x',
      'people[0].plan.rules[0].when.schedule.id: there is no schedule "x"',
    ],
    [
      'people.3.plan.otherwise.stages.0.ring.1.whileRegistered',
      'x',
      'people[3].plan.otherwise.stages[0].ring[1].whileRegistered: there is no endpoint "x"',
    ],
    [
      'people.4.plan.rules.0.when.line',
      ['l-4101'],
      'people[4].plan.rules[0].when.line[0]: there is no line of this person "l-4101"',
    ],
    ['people.2.mailbox.copyTo', ['x'], 'people[2].mailbox.copyTo[0]: there is no person "x"'],
    ['groups.1.members.2.endpoint', 'x', 'groups[1].members[2].endpoint: there is no endpoint "x"'],
    ['groups.1.ending.then', { kind: 'menu', menu: 'x' }, 'groups[1].ending.then.menu: there is no menu "x"'],
    [
      'menus.0.rules.0.choices.0.then.group',
      'x',
      'menus[0].rules[0].choices[0].then.group: there is no group "x"',
    ],
    [
      'people.1.lines.0.extension',
      '4101',
      'people[1].lines[0].extension: 4101 belongs to Ines Okafor already',
    ],
    ['menus.0.numbers.0', '+12505550101', 'menus[0].numbers[0]: +12505550101 belongs to Ines Okafor already'],
    ['people.1.id', 'ines', 'people[1].id: there is a person "ines" already'],
    [
      'people.1.endpoints.0.id',
      'ines-desk',
      'people[1].endpoints[0].id: there is an endpoint "ines-desk" already',
    ],
  ])('%s', (path, value, expected) => {
    expect(faultsWith(path, value)).toContain(expected);
  });
});

describe('edits change what they say and nothing else', () => {
  const ines = fresh().people[0]!;
  const at = { treatment: 'r-office', stage: 0, target: 1 };
  const changed = (after: Person) =>
    differences(ines, after).map((d) => `${d.path}: ${String(d.before)} → ${String(d.after)}`);
  const target = 'plan.rules[r-office].stages[0].ring[ines-mobile]';
  test('a target', () => {
    expect(changed(editTarget(ines, at, { acceptAfterMs: 3000 }))).toEqual([
      `${target}.acceptAfterMs: 2300 → 3000`,
    ]);
    expect(changed(editTarget(ines, at, { giveUpAfterMs: undefined }))).toEqual([
      `${target}.giveUpAfterMs: 17500 → undefined`,
    ]);
  });
  test('a stage, an endpoint', () => {
    expect(changed(editStageTime(ines, 'r-office', 0, 30_000))).toEqual([
      'plan.rules[r-office].stages[0].forMs: 25000 → 30000',
    ]);
    expect(changed(editEndpoint(ines, 'ines-mobile', { number: '+17785550199' }))).toEqual([
      'endpoints[ines-mobile].number: +17785550101 → +17785550199',
    ]);
  });
  test('a switch off and on again leaves no trace', () => {
    const off = switchEndpoint(ines, 'ines-mobile', false);
    expect(changed(off)).toEqual([
      `${target}.enabled: undefined → false`,
      `${target}.switchedOff: undefined → true`,
    ]);
    expect(changed(switchEndpoint(off, 'ines-mobile', true))).toEqual([]);
  });
  test('a second mobile gets an id of its own and rings with the first stage', () => {
    const more = addPhone(ines, { kind: 'mobile', label: 'Mobile', number: '+17785550188' }, 'otherwise');
    expect(more.endpoints.at(-1)).toEqual({
      id: 'ines-mobile-2',
      label: 'Mobile',
      kind: 'mobile',
      number: '+17785550188',
    });
    const estate = { ...fresh(), people: fresh().people.map((p) => (p.id === 'ines' ? more : p)) };
    expect(readEstate(estate).ok).toBe(true);
    expect(changed(more).every((line) => /ines-mobile-2/.test(line))).toBe(true);
  });
});

test('a slice is a valid estate of those whom a plan leads to, and no others', () => {
  const estate = fresh();
  const finder = finderOf(estate);
  const slice = (id: string) => sliceFor(estate, finder, id).people.map((p) => p.id);
  expect(slice('tomasz')).toEqual(['tomasz']);
  expect(new Set(slice('ines'))).toEqual(new Set(['ines', 'tomasz', 'ruth']));
  expect(sliceFor(estate, finder, 'jonah').groups.map((g) => g.id)).toEqual(['bookings']);
});

test('things put into another order are a difference, and only that', () => {
  const [a, b, c] = ['a', 'b', 'c'].map((id) => ({ id, at: 1 }));
  expect(differences([a, b], [b, a])).toEqual([{ path: '.order', before: ['a', 'b'], after: ['b', 'a'] }]);
  expect(differences({ rules: [a, b] }, { rules: [c, a, b] })).toEqual([
    { path: 'rules[c]', before: undefined, after: c },
  ]);
});

test('a schema that is said to be of a type has each of its fields and no other, or it does not compile', () => {
  const { closed, requiredText } = parts;
  // @ts-expect-error a field is left out
  closed<Status>({ id: requiredText() });
  // @ts-expect-error there is no such field
  closed<Status>({ id: requiredText(), name: requiredText(), colour: requiredText() });
  expect(
    faultsOf(closed<Status>({ id: requiredText(), name: requiredText() }), { id: 'a', colour: 'red' }),
  ).toEqual([expect.objectContaining({ path: 'name' }), expect.objectContaining({ path: 'colour' })]);
});
