import { differences } from '../../editing';
import { FIELDS, fieldsAt, type Fields } from '../../estate';
import { workedEstate } from '../../tests/worked';
import { namesOf, withNames } from './names';
import { sayBoth, sayPath, sayValue, sayWhere } from './say-change';

test.each([
  ['maxCalls', 'calls at once'],
  ['plan.rules[r-office].stages[0].ring[ines-mobile].acceptAfterMs', 'r-office, ines-mobile: answer guard'],
  ['plan.rules.order', 'order'],
  ['lines[l-4101].forwardAll', 'l-4101: forward all calls'],
  ['people[ines].plan.otherwise.stages[0].forMs', 'ines: ring for'],
  ['settings.move.heldMs', 'a call hung up waits'],
  ['unheard', 'unheard'],
])('the place %s is said as %s', (path, says) => {
  expect(sayPath(path)).toBe(says);
});

test.each([
  ['maxCalls', undefined, 'none'],
  ['lines[l].forwardAll', null, 'none'],
  ['endpoints[e].wakes', true, 'on'],
  ['plan.otherwise.stages[0].forMs', 25_000, '25 s'],
  ['plan.otherwise.stages[0].ring[d].acceptAfterMs', 50, '0.05 s'],
  ['channels', 120, '120'],
  ['settings.servers.outside.port', 5061, '5061'],
  ['settings.hopLimit', 200, '200'],
  ['promise.spread', 0.2, '20 %'],
  ['lines[l].numbers', ['+17785550101'], '+1 778 555 0101'],
  ['plan.rules[r].when.status', ['a', 'b'], 'a, b'],
  ['mode', 'longest-idle', 'longest idle'],
  ['plan.rules[r]', { id: 'r', name: 'Night', stages: [] }, '“Night”'],
  ['plan.otherwise.ending', { kind: 'person', person: 'ben' }, 'person ben'],
  ['plan.otherwise.ending', { kind: 'mailbox' }, 'mailbox'],
  [
    'plan.otherwise.stages[0]',
    { ring: [{ endpoint: 'ines-desk' }], forMs: 25_000 },
    'rings phone ines-desk, ring for 25 s',
  ],
  ['note', 'x'.repeat(100), 'x'.repeat(100)],
  [
    'closed',
    Array.from({ length: 20 }, () => '2026-12-25'),
    `${Array(20).fill('2026-12-25').join(', ').slice(0, 79)}…`,
  ],
])('at %s the value %j is said as %s', (path, value, says) => {
  expect(sayValue(value, path)).toBe(says);
});

test('a rule that comes or goes is said as such, by its name and not its id', () => {
  const rule = { id: 'r-night', name: 'Night' };
  const path = 'plan.rules[r-night]';
  expect(sayWhere({ path, before: undefined, after: rule })).toBe('new rule');
  expect(sayWhere({ path, before: rule, after: undefined })).toBe('rule taken out');
  expect(sayWhere({ path: `${path}.name`, before: 'Night', after: 'Day' })).toBe('r-night: name');
});

test('every setting that an estate has is known with its unit, down to the last', () => {
  const unknown: string[] = [];
  for (const { path, after } of differences({}, { ...workedEstate() })) {
    const look = (value: unknown, fields: Fields, at: string): void => {
      if (Array.isArray(value)) return value.forEach((each) => look(each, fields, at));
      if (typeof value !== 'object' || value === null) return;
      for (const [key, each] of Object.entries(value)) {
        const field = fields[key];
        if (!field) unknown.push(`${at}.${key}`);
        else if (field.of) look(each, field.of(), `${at}.${key}`);
        else if (typeof each === 'number' && !['ms', 'count', 'share'].includes(field.holds))
          unknown.push(`${at}.${key} is a number`);
      }
    };
    look(after, fieldsAt(path, 'estate').at(-1)?.of?.() ?? {}, path);
  }
  expect(unknown).toEqual([]);
});

test('what is called Ms is a time everywhere, and nothing else is', () => {
  const seen = new Set<Fields>();
  const wrong: string[] = [];
  const look = (fields: Fields): void => {
    if (seen.has(fields)) return;
    seen.add(fields);
    for (const [key, field] of Object.entries(fields)) {
      if ((field.holds === 'ms') !== /Ms$/.test(key)) wrong.push(key);
      if (field.of) look(field.of());
    }
  };
  Object.values(FIELDS).forEach(look);
  expect(wrong).toEqual([]);
});

describe('what a change speaks of by id is said by its name', () => {
  const estate = workedEstate();
  const [first] = estate.people;
  const ines = first!;
  const other = estate.statuses.find(({ id }) => id !== ines.status)!;
  const tell = (after: typeof ines) =>
    withNames(differences(ines, after), namesOf(estate), ines, after).map(
      (change) => `${sayWhere(change)}: ${sayBoth(change)}`,
    );

  test('a status, in words of its own', () => {
    const now = estate.statuses.find(({ id }) => id === ines.status)!;
    expect(tell({ ...ines, status: other.id })).toEqual([`status: ${now.name} → ${other.name}`]);
  });

  test('a phone that the path goes through, and one that the value holds', () => {
    const [endpoint] = ines.endpoints;
    const renamed = {
      ...ines,
      endpoints: ines.endpoints.map((each) => ({ ...each, enabled: false })),
    };
    expect(tell(renamed)[0]).toMatch(new RegExp(`^${endpoint!.label}: `));
  });

  test('a rule that is on neither side any more keeps its id; a word that is nobody’s id stays', () => {
    expect(
      withNames([{ path: 'plan.rules[r-gone].name', before: 'a', after: 'b' }], namesOf(estate)),
    ).toEqual([{ path: 'plan.rules[r-gone].name', before: 'a', after: 'b' }]);
  });
});
