import type { Person } from '../../core/estate';
import { testServer, type TestServer } from '../test';

let server: TestServer;
beforeAll(async () => {
  server = await testServer();
});
afterAll(() => server.stop());

const ask = (method: string, path: string, body?: unknown) =>
  server.ask(method, path, { as: 'specialist', ...(body === undefined ? {} : { body }) });
const change = async (id: string, edit: (person: Person) => Person) => {
  const { body } = await ask('GET', `/api/people/${id}`);
  return ask('PUT', `/api/people/${id}`, { version: body.version, person: edit(body.person as Person) });
};
const newest = async (query = '') =>
  (await ask('GET', `/api/record?${query}`)).body.entries as { id: number; kind: string; subject: string }[];

test('the record is filtered by person, kind, who, time and words', async () => {
  await change('ines', (p) => ({ ...p, maxCalls: 4 }));
  await ask('PUT', '/api/people/ruth/status', { status: 'away' });
  expect((await newest('person=ines')).map(({ kind }) => kind)).toEqual(['person-changed']);
  expect((await newest('kind=status-set')).map(({ subject }) => subject)).toEqual(['Ruth Adeyemi']);
  expect(await newest('who=nobody')).toEqual([]);
  expect((await newest('text=adeyemi')).length).toBe(0);
  expect((await newest('text=Adeyemi')).length).toBe(1);
  expect(await newest('text=%25')).toEqual([]);
  expect(await newest('from=2100-01-01T00:00:00Z')).toEqual([]);
  expect((await ask('GET', '/api/record?from=soon')).body.faults[0].path).toBe('from');
});

test('a change is taken back on a new slate, without what was changed since', async () => {
  await change('mateo', (p) => ({ ...p, maxCalls: 9, name: 'Mateo Wrong' }));
  const [wrong] = await newest('person=mateo');
  await ask('PUT', '/api/people/mateo/status', { status: 'on-leave' });
  const made = await ask('POST', '/api/record/slate', { entries: [wrong!.id] });
  expect([made.status, made.body.clashes]).toEqual([201, []]);
  const slate = await ask('GET', `/api/slates/${made.body.slate}`);
  expect(slate.body.entries[0].changes.map((each: { path: string }) => each.path).sort()).toEqual([
    'maxCalls',
    'name',
  ]);
  expect((await ask('POST', `/api/slates/${made.body.slate}/apply`, {})).status).toBe(200);
  expect((await ask('GET', '/api/people/mateo')).body.person).toMatchObject({
    name: 'Mateo Sundqvist',
    maxCalls: 2,
    status: 'on-leave',
  });
  expect((await ask('POST', '/api/record/slate', { entries: [wrong!.id] })).status).toBe(409);
});

test('it goes out as CSV and as JSON lines, each entry once', async () => {
  const csv = await ask('GET', '/api/record/export?form=csv');
  const lines = (await ask('GET', '/api/record/export?form=jsonl')).text.trim().split('\n');
  const ids = lines.map((line) => (JSON.parse(line) as { id: number }).id);
  expect(new Set(ids).size).toBe(ids.length);
  expect(csv.text.split('\r\n')[0]).toBe('id,at,who,kind,person,subject,detail,why,slate,before,after');
  expect(csv.text.trim().split('\r\n')).toHaveLength(ids.length + 1);
  expect((await server.ask('GET', '/api/record/export', { as: 'help-desk' })).status).toBe(403);
});

test('nothing alters it, and what the estate was at a moment can be asked', async () => {
  await expect(server.db.query("UPDATE record_entry SET who = 'x'")).rejects.toThrow(/denied to user/);
  await expect(server.db.query('DELETE FROM record_entry')).rejects.toThrow(/denied to user/);
  const [[before]] = (await server.db.query('SELECT UNIX_TIMESTAMP(NOW(6)) AS at')) as unknown as [
    [{ at: number }],
  ];
  const from = new Date(Math.ceil(Number(before.at) * 1000)).toISOString();
  // The clock of the database goes on by itself; a change is written until it has.
  let changed: string[] = [];
  for (let n = 5; changed.length === 0 && n < 50; n += 1) {
    await change('priya', (p) => ({ ...p, maxCalls: n }));
    const between = await ask('GET', `/api/record/between?from=${from}&to=2100-01-01T00:00:00Z`);
    changed = between.body.objects.map(
      (each: { id: string; changes: { path: string }[] }) => `${each.id} ${each.changes[0]!.path}`,
    );
  }
  expect(changed).toEqual(['priya maxCalls']);
  expect((await ask('GET', `/api/record/between?from=${from}&to=${from}`)).body.total).toBe(0);
  expect((await ask('GET', '/api/record/between?from=2001-01-01T00:00:00Z')).status).toBe(404);
  expect((await ask('GET', '/api/record/between?from=then')).body.faults[0].path).toBe('from');
});

test('the route table and its lists of numbers are compared between two moments like the rest', async () => {
  const [[before]] = (await server.db.query('SELECT UNIX_TIMESTAMP(NOW(6)) AS at')) as unknown as [
    [{ at: number }],
  ];
  const from = new Date(Math.ceil(Number(before.at) * 1000)).toISOString();
  let paths: string[] = [];
  // As above, until the clock of the database has gone on.
  for (let n = 0; paths.length < 2 && n < 50; n += 1) {
    await server.db.query("UPDATE route_table SET body = JSON_SET(body, '$.peers[0].name', ?)", [
      `Renamed ${n}`,
    ]);
    await server.db.query("UPDATE route_list SET numbers = CONCAT(numbers, '\n+1250555', ?) LIMIT 1", [
      7000 + n,
    ]);
    const { body } = await ask('GET', `/api/record/between?from=${from}&to=2100-01-01T00:00:00Z`);
    paths = body.objects.flatMap((each: { kind: string; changes: { path: string }[] }) =>
      each.changes.map(({ path }) => `${each.kind} ${path}`),
    );
  }
  expect(paths.some((path) => path.startsWith('routing peers'))).toBe(true);
  expect(paths.some((path) => path.startsWith('list numbers'))).toBe(true);
});
