import type { Role } from '../base';
import { openDb } from '../db';
import { estateStore } from '../estate';
import { testServer, type TestServer } from '../test';
import { workKilledAt } from '../test/killed';
import { addPerson } from './add';

let server: TestServer;
beforeAll(async () => {
  server = await testServer();
});
afterAll(() => server.stop());

const add = (body: object, as: Role = 'specialist') => server.ask('POST', '/api/people', { as, body });
const GIVEN = { name: 'Dalia Wren', status: 'on', permission: 'inside' };

test('what is proposed for somebody new is free, and what there is to choose from is there', async () => {
  const { status, body } = await server.ask('GET', '/api/new-person', { as: 'specialist' });
  expect(status).toBe(200);
  const people = (await server.ask('GET', '/api/people', { as: 'specialist' })).body.people as {
    extension: string;
  }[];
  expect(body.extension).toMatch(/^\d{4}$/);
  expect(people.map(({ extension }) => extension)).not.toContain(body.extension);
  expect(body.permissions.length).toBeGreaterThan(1);
  for (const as of ['help-desk', 'manager'] as const)
    expect((await server.ask('GET', '/api/new-person', { as })).status).toBe(403);
});

test('somebody is added, can be called at once, and stands in the record', async () => {
  const { body: proposed } = await server.ask('GET', '/api/new-person', { as: 'specialist' });
  const [status, permission] = [proposed.statuses[0].id, proposed.permissions.at(-1).id];
  const answer = await add({
    ...GIVEN,
    status,
    permission,
    extension: proposed.extension,
    mobile: '778 555 0177',
    template: proposed.templates[0].id,
  });
  expect(answer).toMatchObject({ status: 201, body: { id: 'dalia-wren' } });
  const { body: page } = await server.ask('GET', '/api/people/dalia-wren', { as: 'specialist' });
  expect(page.person).toMatchObject({
    name: 'Dalia Wren',
    template: proposed.templates[0].id,
    lines: [{ extension: proposed.extension, numbers: [] }],
    endpoints: [{ kind: 'desk' }, { kind: 'mobile', number: '+17785550177' }],
  });
  const { body: record } = await server.ask('GET', '/api/record?person=dalia-wren', { as: 'specialist' });
  expect(record.entries).toMatchObject([{ kind: 'person-added', who: 'specialist', subject: 'Dalia Wren' }]);
  // The next one is proposed another extension, and a namesake gets an id of their own.
  const { body: next } = await server.ask('GET', '/api/new-person', { as: 'specialist' });
  expect(next.extension).not.toBe(proposed.extension);
  const second = await add({ ...GIVEN, status, permission, extension: next.extension });
  expect(second.body.id).toBe(`dalia-wren-${next.extension}`);
});

test.each([
  [{ name: '' }, 'name', /missing/],
  [{ extension: '4101' }, 'extension', /belongs to Ines Okafor already/],
  [{ extension: '12' }, 'extension', /4 digits/],
  [{ direct: '+12505550101' }, 'direct', /belongs to/],
  [{ mobile: 'my mobile' }, 'mobile', /./],
  [{ status: 'gone' }, 'status', /there is no status/],
  [{ permission: 'gone' }, 'permission', /there is no permission/],
  [{ template: 'gone' }, 'template', /not there any more/],
  [{ colleague: 'gone' }, 'colleague', /not there any more/],
])('%j is refused beside its field, and nobody is added', async (wrong, path, message) => {
  const { body: proposed } = await server.ask('GET', '/api/new-person', { as: 'specialist' });
  const before = (await server.ask('GET', '/api/people', { as: 'specialist' })).body.people.length as number;
  const answer = await add({
    ...GIVEN,
    status: proposed.statuses[0].id,
    permission: proposed.permissions[0].id,
    extension: proposed.extension,
    ...wrong,
  });
  expect(answer.status).toBe(400);
  expect(answer.body.faults).toMatchObject([{ path, message: expect.stringMatching(message) as string }]);
  expect((await server.ask('GET', '/api/people', { as: 'specialist' })).body.people).toHaveLength(before);
});

test('two who add at the same moment get two people, or one is told that the extension is taken', async () => {
  const { body: proposed } = await server.ask('GET', '/api/new-person', { as: 'specialist' });
  const body = {
    status: proposed.statuses[0].id,
    permission: proposed.permissions[0].id,
    extension: proposed.extension,
  };
  const answers = await Promise.all(
    ['Early Bird', 'Late Bird', 'Third Bird'].map((name) => add({ ...body, name })),
  );
  expect(answers.map(({ status }) => status).sort()).toEqual([201, 400, 400]);
});

test('only specialists add people', async () => {
  for (const as of ['help-desk', 'manager'] as const)
    expect((await add({ ...GIVEN, extension: '4998' }, as)).status).toBe(403);
});

const proposal = async () => {
  const { body } = await server.ask('GET', '/api/new-person', { as: 'specialist' });
  return {
    status: body.statuses[0].id as string,
    permission: body.permissions[0].id as string,
    extension: body.extension as string,
  };
};
const everybody = async () =>
  (await server.ask('GET', '/api/people', { as: 'specialist' })).body.people as {
    id: string;
    extension: string;
  }[];

test('32 at once by two servers: who is told so is there, nobody twice, and nobody else', async () => {
  const proposed = await proposal();
  const before = await everybody();
  const db = openDb(server.config);
  const other = { db, store: estateStore(db), now: () => new Date() };
  const done = await Promise.all(
    Array.from({ length: 32 }, async (_, i) => {
      // Half of them want one extension, each of the others its own.
      const extension = i % 4 < 2 ? proposed.extension : String(Number(proposed.extension) + 100 + i);
      const given = { ...proposed, extension, name: 'Same Name' };
      if (i % 2 === 0) return (await add(given)).body?.id as string | undefined;
      return addPerson(other, 'specialist', given).catch(() => undefined);
    }),
  );
  await db.end();
  const ids = done.filter((id) => id !== undefined);
  const after = await everybody();
  const added = after.filter(({ id }) => !before.some((each) => each.id === id));
  expect(added.map(({ id }) => id).sort()).toEqual([...ids].sort());
  expect(new Set(after.map(({ extension }) => extension)).size).toBe(after.length);
  // One has the extension that sixteen wanted; the sixteen others got theirs, if it was free.
  expect(added.filter(({ extension }) => extension === proposed.extension)).toHaveLength(1);
  expect(added.length).toBeGreaterThan(1);
});

test('killed at whichever statement, somebody is there with the record of it, or nobody is', async () => {
  const proposed = await proposal();
  const work = ['person', JSON.stringify({ ...proposed, name: 'Killed Amid' })];
  const inRecord = async () =>
    (await server.ask('GET', '/api/record?person=killed-amid', { as: 'specialist' })).body.entries
      .length as number;
  let points = 0;
  for (let at = 1; at < 60; at += 2) {
    await workKilledAt(server.config, work, at);
    const isThere = (await everybody()).some(({ id }) => id === 'killed-amid');
    expect(await inRecord()).toBe(isThere ? 1 : 0);
    if (isThere) break;
    points += 1;
  }
  expect(points).toBeGreaterThan(3);
  expect(await inRecord()).toBe(1);
});

test('a body of megabytes is refused before it is read', async () => {
  const answer = await add({ ...GIVEN, name: 'x'.repeat(4 << 20), extension: '4998' });
  expect(answer.status).toBe(413);
});
