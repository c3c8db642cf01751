import fc from 'fast-check';
import type { PeopleFound, PeopleHead, PeopleRows, PersonSummary } from '../../api/people';
import type { Judgement } from '../../core/calls/views';
import type { Person } from '../../core/estate';
import { personOf } from '../../core/tests/small';
import { openDb, openKeeper } from '../db';
import { serve, testServer, type TestServer } from '../test';
import { cutIntoParts, peopleParts } from './list';

const many = (count: number): readonly Person[] =>
  Array.from({ length: count }, (_, n) => personOf(`somebody-${n}`, n, {}));
const reached: ReadonlyMap<string, Judgement> = new Map();
const versions: ReadonlyMap<string, number> = new Map();
const rowsOf = (people: readonly Person[]) =>
  peopleParts()
    .now(people, versions, reached)
    .flatMap(({ rows }) => rows);

describe('the list of people in parts', () => {
  test('all parts are all people in their order, none of them long', () => {
    const rows = rowsOf(many(4000));
    fc.assert(
      fc.property(fc.shuffledSubarray([...rows]), (some) => {
        const parts = cutIntoParts(some);
        expect(parts.flat()).toEqual(some);
        expect(Math.max(0, ...parts.map((part) => part.length))).toBeLessThanOrEqual(1000);
        if (parts.length > 1) expect(parts[0]!.length).toBeGreaterThanOrEqual(150);
      }),
      { numRuns: 10 },
    );
  });

  test('one who is changed, comes or goes makes few parts new; the others keep their names and rows', () => {
    const people = many(6000);
    const list = peopleParts();
    const before = list.now(people, versions, reached);
    expect(before.length).toBeGreaterThan(8);
    expect(list.now(people, versions, reached)).toEqual(before);
    const newIn = (now: readonly Person[], of = versions, judged = reached) => {
      const names = new Set(before.map(({ hash }) => hash));
      return list.now(now, of, judged).filter(({ hash }) => !names.has(hash)).length;
    };
    const [changed, ...rest] = people;
    expect(newIn([{ ...changed!, name: 'Another' }, ...rest])).toBe(1);
    expect(newIn(people, new Map([['somebody-3000', 2]]))).toBe(0);
    const renamed = people.map((each) =>
      each.id === 'somebody-3000' ? { ...each, permission: 'other' } : each,
    );
    expect(newIn(renamed)).toBe(1);
    expect(newIn(people, versions, new Map([['somebody-3000', { state: 'reached' } as Judgement]]))).toBe(1);
    const without = people.filter(({ id }) => id !== 'somebody-3000');
    expect(newIn(without)).toBeLessThanOrEqual(3);
    expect(
      newIn([...people.slice(0, 100), personOf('newcomer', 9000, {}), ...people.slice(100)]),
    ).toBeLessThanOrEqual(3);
  });

  test('two servers name the same rows alike; a number alone does not name them, the version does', () => {
    const people = many(10);
    const withNumber = people.map((each, n) =>
      n === 3 ? { ...each, lines: [{ ...each.lines[0]!, numbers: ['+12505550199'] }] } : each,
    );
    const name = (of: readonly Person[], at = versions) => peopleParts().now(of, at, reached)[0]!.hash;
    expect(name(people)).toBe(name(people));
    expect(name(withNumber)).toBe(name(people));
    expect(name(withNumber, new Map([['somebody-3', 2]]))).not.toBe(name(people));
  });

  test('parts of a list of before are given for a while, and let go of then', () => {
    const list = peopleParts();
    const people = many(10);
    const [first] = list.now(people, versions, reached);
    const named = (name: string) => people.map((each) => ({ ...each, name }));
    list.now(named('A'), versions, reached);
    expect(list.part(first!.hash)).toEqual(first!.rows);
    for (const name of ['B', 'C', 'D']) list.now(named(name), versions, reached);
    expect(list.part(first!.hash)).toBeNull();
  });
});

describe('over HTTP', () => {
  let server: TestServer;
  beforeAll(async () => {
    server = await testServer();
  });
  afterAll(() => server.stop());
  const ask = async <T>(path: string, as: 'specialist' | 'help-desk' = 'specialist') =>
    (await server.ask('GET', path, { as })).body as T;

  test('whoever has the first part is not sent it again; after a change it is another', async () => {
    const head = await ask<PeopleHead>('/api/people');
    expect(head.parts.reduce((sum, { count }) => sum + count, 0)).toBe(head.people!.length);
    const have = head.parts[0]!.hash;
    expect((await ask<PeopleHead>(`/api/people?have=${have}`)).people).toBeNull();
    const rows = await ask<{ parts: readonly (readonly PersonSummary[] | null)[] }>(
      `/api/people-parts?names=${have},${'0'.repeat(24)}`,
    );
    expect(rows.parts).toEqual([head.people, null]);
    const { person, version } = (await server.ask('GET', '/api/people/ines', { as: 'specialist' })).body;
    await server.ask('PUT', '/api/people/ines', {
      as: 'specialist',
      body: { version, person: { ...person, name: 'Ines Renamed' } },
    });
    const after = await ask<PeopleHead>(`/api/people?have=${have}`);
    expect(after.people!.find(({ id }) => id === 'ines')).toMatchObject({ name: 'Ines Renamed' });
    // Whoever was fetching the list of before gets it whole.
    expect((await ask<typeof rows>(`/api/people-parts?names=${have}`)).parts).toEqual([head.people]);
  });

  test.each([
    ['/api/people-parts', /One to 20 parts/],
    ['/api/people-parts?names=../x', /One to 20 parts/],
    [`/api/people-parts?names=${Array(21).fill('0'.repeat(24)).join(',')}`, /One to 20 parts/],
    [`/api/people-found?text=${'x'.repeat(201)}`, /too long/],
  ])('%# %s is refused', async (path, why) => {
    expect(await server.ask('GET', path, { as: 'manager' })).toMatchObject({
      status: 400,
      body: { message: expect.stringMatching(why) },
    });
  });

  test('whoever fits is found by name, number, status and reach, and counted', async () => {
    const { people } = await ask<PeopleHead>('/api/people');
    const found = (asked: string, as?: 'help-desk') => ask<PeopleFound>(`/api/people-found?${asked}`, as);
    expect((await found('text=ruth')).people.map(({ id }) => id)).toEqual(['ruth']);
    const lost = people!.filter(({ reach }) => reach === 'lost').length;
    expect((await found('text=&reach=lost')).count).toBe(lost);
    const [{ status }] = people! as readonly [PersonSummary];
    expect((await found(`text=&status=${status}`)).count).toBe(
      people!.filter((each) => each.status === status).length,
    );
    expect(await found('text=nobodyhasthisname')).toEqual({ people: [], count: 0 });
  });

  test('whoever sees a number masked does not find anybody by it', async () => {
    const { people } = await ask<PeopleHead>('/api/people');
    const shown = await ask<PeopleHead>('/api/people', 'help-desk');
    const n = people!.findIndex(({ numbers }, at) => numbers.join() !== shown.people![at]!.numbers.join());
    const number = people![n]!.numbers.find((each) => !shown.people![n]!.numbers.includes(each))!;
    const asked = `/api/people-found?text=${encodeURIComponent(number)}`;
    expect((await ask<PeopleFound>(asked)).people.map(({ id }) => id)).toContain(people![n]!.id);
    expect((await ask<PeopleFound>(asked, 'help-desk')).count).toBe(0);
    // A number of the organisation's own still finds whose it is.
    const own = shown
      .people!.flatMap(({ numbers }) => numbers)
      .find((each) => each.startsWith('+') && !each.includes('•'))!;
    expect(
      (await ask<PeopleFound>(`/api/people-found?text=${encodeURIComponent(own)}`, 'help-desk')).count,
    ).toBeGreaterThan(0);
  });

  test('a second server, just started, gives the parts that the first has named; so do both with thirty-two at once beside changes', async () => {
    const [db, keeper] = [openDb(server.config), openKeeper(server.config)];
    const drop = async () => void (await Promise.all([db.end(), keeper.end()]));
    const second = await serve({ config: server.config, db, keeper, drop });
    const both = [server, second] as const;
    const as = 'specialist';
    const head = await ask<PeopleHead>('/api/people');
    const named = head.parts.map(({ hash }) => hash).join(',');
    const there = await second.ask('GET', `/api/people-parts?names=${named}`, { as });
    expect((there.body as PeopleRows).parts).toEqual([head.people]);
    const changes = Array.from({ length: 8 }, (_, n) =>
      both[n % 2]!.ask('PUT', '/api/people/ruth/status', {
        as,
        body: { status: head.statuses[n % head.statuses.length]!.id },
      }),
    );
    const lists = await Promise.all(
      Array.from({ length: 32 }, async (_, n) => {
        const at = both[n % 2]!;
        const { parts, people } = (await at.ask('GET', '/api/people', { as })).body as PeopleHead;
        const answer = await at.ask('GET', `/api/people-parts?names=${parts[0]!.hash}`, { as });
        return { people, rows: (answer.body as PeopleRows).parts[0] };
      }),
    );
    // Whoever asks gets what they were told there is, or hears that it is there no more.
    for (const { people, rows } of lists) if (rows) expect(rows).toEqual(people);
    expect(lists.some(({ rows }) => rows)).toBe(true);
    for (const { status } of await Promise.all(changes)) expect(status).toBe(200);
    // Once it is quiet both name the list alike.
    const heads = await Promise.all(both.map((each) => each.ask('GET', '/api/people', { as })));
    expect(heads[0]!.body.parts).toEqual(heads[1]!.body.parts);
    await second.stop();
    await second.drop();
  });
});
