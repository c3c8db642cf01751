import type { ManyChange } from '../../core/editing';
import type { Person } from '../../core/estate';
import { estateStore } from '../estate';
import { testServer, type TestServer } from '../test';
import { workKilledAt } from '../test/killed';
import { changeMany } from './routes';

let server: TestServer;
beforeAll(async () => {
  server = await testServer();
});
afterAll(() => server.stop());

const ask = (method: string, path: string, body?: unknown) =>
  server.ask(method, path, { as: 'specialist', ...(body === undefined ? {} : { body }) });
const person = async (id: string) =>
  (await ask('GET', `/api/people/${id}`)).body as { version: number; person: Person };
const withVersions = (ids: readonly string[]) =>
  Promise.all(ids.map(async (id) => ({ id, version: (await person(id)).version })));
const record = async () =>
  (await ask('GET', '/api/record')).body.entries as readonly {
    id: number;
    kind: string;
    slateId: number | null;
    slate?: { name: string; changes: number; names: string[] };
  }[];

const atSea: ManyChange = { kind: 'status', to: 'at-sea' };
const deckCrew: ManyChange = { kind: 'template', to: 'deck-crew' };

test('what a status does to each is told before; nothing is written', async () => {
  const before = await person('ruth');
  const { rows } = (await ask('POST', '/api/many/look', { people: ['ruth', 'jonah', 'ruth'], change: atSea }))
    .body;
  expect(rows.map((row: { id: string; changes: number }) => [row.id, row.changes])).toEqual([
    ['ruth', 1],
    // At sea already.
    ['jonah', 0],
  ]);
  expect(await person('ruth')).toEqual(before);
});

test.each([
  ['a status', { kind: 'status', to: 'away' }, ['ruth', 'tomasz', 'amara'], 'Status Away for 3 people'],
  ['a template', deckCrew, ['mateo', 'ines'], 'Template Deck crew for 2 people'],
] as const)(
  '%s for several stands in the record as one, and is taken back as one',
  async (_what, change, ids, name) => {
    const before = await Promise.all(ids.map(person));
    const done = await ask('POST', '/api/many', { people: await withVersions(ids), change });
    expect(done).toMatchObject({ status: 200, body: { live: true, changed: ids.length } });
    for (const id of ids) expect((await person(id)).person).toMatchObject({ [change.kind]: change.to });
    const [first, second] = await record();
    expect(first).toMatchObject({
      slateId: done.body.slate,
      slate: { name, changes: ids.length, names: before.map((each) => each.person.name) },
    });
    expect(second?.slateId).not.toBe(done.body.slate);
    const entries = (await ask('GET', `/api/record?slate=${done.body.slate}`)).body.entries;
    expect(entries).toHaveLength(ids.length);
    const back = await ask('POST', '/api/record/slate', { slate: done.body.slate, live: true });
    expect(back).toMatchObject({ status: 200, body: { live: true, changed: ids.length } });
    for (const was of before) expect((await person(was.person.id)).person).toEqual(was.person);
    const twice = await ask('POST', '/api/record/slate', { slate: done.body.slate, live: true });
    expect(twice).toMatchObject({ status: 409, body: { message: 'All of this is as it was already.' } });
  },
);

test('what was changed again since is not undone at once; on a slate it can be looked at', async () => {
  const done = await ask('POST', '/api/many', {
    people: await withVersions(['ruth', 'tomasz']),
    change: atSea,
  });
  await ask('PUT', '/api/people/ruth/status', { status: 'away' });
  const at = await ask('POST', '/api/record/slate', { slate: done.body.slate, live: true });
  expect(at).toMatchObject({ status: 409 });
  expect(at.body.message).toMatch(/^Ruth Adeyemi was changed again since/);
  expect((await person('tomasz')).person.status).toBe('at-sea');
  const slate = await ask('POST', '/api/record/slate', { slate: done.body.slate });
  expect(slate.status).toBe(201);
  expect(slate.body.clashes).toMatchObject([{ name: 'Ruth Adeyemi', paths: ['status'] }]);
});

test('one of them changed since: nothing is written for any, and no slate stays', async () => {
  const [ines, mateo] = await Promise.all(['ines', 'mateo'].map(person));
  const slates = (await ask('GET', '/api/slates')).body;
  const answer = await ask('POST', '/api/many', {
    people: [
      { id: 'ines', version: ines!.version },
      { id: 'mateo', version: mateo!.version + 1 },
    ],
    change: deckCrew,
  });
  expect(answer.status).toBe(409);
  expect(answer.body.message).toContain('Mateo Sundqvist');
  expect(await person('ines')).toEqual(ines);
  expect((await ask('GET', '/api/slates')).body).toEqual(slates);
});

test('twice at once: one of them is told that somebody else was first, or all are like that already', async () => {
  const body = {
    people: await withVersions(['ruth', 'amara', 'owen']),
    change: { kind: 'status', to: 'leave' },
  };
  const { body: list } = await ask('GET', '/api/people');
  body.change.to = list.statuses.find(
    ({ id }: { id: string }) => !['away', 'at-sea', 'on-shift'].includes(id),
  ).id;
  const answers = await Promise.all([ask('POST', '/api/many', body), ask('POST', '/api/many', body)]);
  expect(answers.map(({ status }) => status).sort()).toEqual([200, 409]);
  const refused = answers.find(({ status }) => status === 409)!;
  expect(refused.body.message).toMatch(/changed|already/);
  for (const { id } of body.people) expect((await person(id)).person.status).toBe(body.change.to);
});

test.each([
  [
    'a template that is not there',
    { people: ['ines'], change: { kind: 'template', to: 'none' } },
    'change.to',
  ],
  ['a status that is not there', { people: ['ines'], change: { kind: 'status', to: 'none' } }, 'change.to'],
  ['another setting', { people: ['ines'], change: { kind: 'name', to: 'none' } }, 'change.kind'],
  ['somebody who is not there', { people: ['nobody'], change: atSea }, 'people'],
  ['nobody', { people: [], change: atSea }, 'people'],
  ['too many', { people: Array.from({ length: 5001 }, (_, n) => `p${n}`), change: atSea }, 'people'],
])('%s is refused beside its field', async (_what, body, path) => {
  const { status, body: answer } = await ask('POST', '/api/many/look', body);
  expect([status, answer.faults.map((fault: { path: string }) => fault.path)]).toEqual([400, [path]]);
});

test.each([
  ['an entry that is not there', { entries: [987654] }, 409],
  ['no entries', { entries: [] }, 400],
  ['neither entries nor a slate', {}, 400],
  ['both', { entries: [1], slate: 1 }, 400],
  ['a slate that changed nothing', { slate: 987654, live: true }, 409],
])('%s cannot be undone', async (_what, body, status) => {
  expect((await ask('POST', '/api/record/slate', body)).status).toBe(status);
});

test('only a specialist changes many', async () => {
  for (const as of ['help-desk', 'manager', 'staff'] as const)
    expect(
      (await server.ask('POST', '/api/many/look', { as, body: { people: ['ines'], change: atSea } })).status,
    ).toBe(403);
});

test('thirty-two at once on two servers: one makes the change, and it stands in the record once', async () => {
  const ids = ['noor', 'lena', 'owen'];
  const people = await withVersions(ids);
  const { statuses } = (await ask('GET', '/api/people')).body as { statuses: { id: string }[] };
  const now = await Promise.all(ids.map(async (id) => (await person(id)).person.status));
  const to = statuses.find(({ id }) => !now.includes(id))!.id;
  const change = { kind: 'status', to } as const;
  // A second server on the same database has a memory of its own.
  const other = { db: server.db, store: estateStore(server.db), now: () => new Date() };
  const answers = await Promise.all(
    Array.from({ length: 32 }, (_, n) =>
      n % 2 === 0
        ? ask('POST', '/api/many', { people, change }).then(({ status }) => status)
        : changeMany(other, 'elsewhere', { people, change }).then(
            () => 200,
            (error: { status?: number }) => error.status ?? 500,
          ),
    ),
  );
  expect(answers.filter((status) => status === 200)).toHaveLength(1);
  expect(answers.filter((status) => status !== 200).every((status) => status === 409)).toBe(true);
  for (const id of ids) expect((await person(id)).person.status).toBe(to);
  const [first, second] = await record();
  expect(first?.slate?.changes).toBe(ids.length);
  expect(second?.slate?.name).not.toBe(first?.slate?.name);
  // Of those that were refused no slate stays.
  const { slates } = (await ask('GET', '/api/slates')).body as { slates: { name: string }[] };
  expect(slates.filter(({ name }) => name === first?.slate?.name)).toHaveLength(1);
}, 60_000);

test('killed at whichever statement, all of them are changed or none; what was begun is a slate that is not live', async () => {
  const ids = ['amara', 'callum', 'saskia'];
  const before = await Promise.all(ids.map(person));
  const many = JSON.stringify({
    people: await withVersions(ids),
    change: { kind: 'permission', to: 'anywhere' },
  });
  const { permissions } = (await ask('GET', '/api/people')).body as { permissions: { id: string }[] };
  const to = permissions.find(({ id }) => before.every((each) => each.person.permission !== id))!.id;
  let points = 0;
  for (let at = 1; ; at += 3) {
    await workKilledAt(server.config, ['many', many.replace('"anywhere"', JSON.stringify(to))], at);
    const after = await Promise.all(ids.map(person));
    const set = after.filter(({ person: each }) => each.permission === to).length;
    const { slates } = (await ask('GET', '/api/slates')).body as {
      slates: { name: string; state: string }[];
    };
    const own = slates.filter(({ name }) => name.startsWith('Permission '));
    if (set > 0) {
      expect(set).toBe(ids.length);
      expect((await record())[0]?.slate?.changes).toBe(ids.length);
      break;
    }
    points += 1;
    expect(after.map((each) => each.person)).toEqual(before.map((each) => each.person));
    expect(own.every(({ state }) => state === 'work')).toBe(true);
  }
  expect(points).toBeGreaterThan(3);
}, 120_000);
