import type { Route } from '../../core/estate';
import { type RouteFinding, type TableMend, applyMend } from '../../core/routes';
import { estateFile } from '../estate/queries';
import { demoEstate, testServer, type Answer, type TestServer } from '../test';

let server: TestServer;
beforeEach(async () => {
  server = await testServer();
});
afterEach(() => server.stop());

const as = 'specialist' as const;
const get = () => server.ask('GET', '/api/routing', { as });
const put = (body: object) => server.ask('PUT', '/api/routing', { as, body });
const analysis = async (table?: object): Promise<RouteFinding[]> =>
  (await server.ask('POST', '/api/routing/analysis', { as, body: { table } })).body.findings;
const file = (id: string, text: string, more = 'name=Two') =>
  server.ask('PUT', `/api/routing/lists/${id}?${more}`, {
    as,
    body: text,
    headers: { 'Content-Type': 'text/plain' },
  });
const record = async (): Promise<{ kind: string; detail: string }> =>
  (await server.ask('GET', '/api/record', { as })).body.entries[0];

test('the table of the estate file is stored, given out without the numbers of its lists, and exported as it was', async () => {
  const { body } = await get();
  const { routing } = demoEstate();
  expect(body.table.routes).toEqual(routing!.routes);
  expect(body.lists).toEqual(
    routing!.lists.map(({ id, name, numbers }) =>
      expect.objectContaining({ id, name, count: numbers.length }),
    ),
  );
  expect(JSON.stringify(body)).not.toContain(routing!.lists[0]!.numbers[0]);
  expect((await estateFile(server.db))?.routing).toEqual(routing);
});

test('a change is written with its record; a second from the same version is refused with theirs; faults have paths', async () => {
  const { body } = await get();
  const routes: Route[] = body.table.routes.slice(1);
  const written = await put({ version: body.version, table: { ...body.table, routes } });
  expect([written.status, written.body.version, written.body.table.routes.length]).toEqual([
    200,
    body.version + 1,
    routes.length,
  ]);
  expect(await record()).toMatchObject({ kind: 'routes-changed' });
  const second = await put({ version: body.version, table: body.table });
  expect([second.status, second.body.theirs.version]).toEqual([409, body.version + 1]);
  const wrong = { ...routes[0]!, then: { send: { peer: 'nobody' } } };
  const refused = await put({ version: written.body.version, table: { ...body.table, routes: [wrong] } });
  expect([refused.status, refused.body.faults]).toEqual([
    400,
    [{ path: 'routes[0].then.send.peer', message: 'there is no peer "nobody"' }],
  ]);
  const trunk = {
    ...body.table,
    peers: [{ ...body.table.peers[0], trunk: 'none' }, ...body.table.peers.slice(1)],
  };
  expect((await put({ version: written.body.version, table: trunk })).body.faults).toMatchObject([
    { path: 'peers[0].trunk' },
  ]);
  for (const role of ['help-desk', 'manager'] as const)
    expect((await server.ask('PUT', '/api/routing', { as: role, body: {} })).status).toBe(403);
});

test('the analysis finds what is wrong, of a draft too, and its mends take that away', async () => {
  const { body } = await get();
  const findings = await analysis();
  expect(findings).toContainEqual(
    expect.objectContaining({ kind: 'fork-bypassed', route: 'both', by: ['own'] }),
  );
  const mend = findings.find(({ kind }) => kind === 'fork-bypassed')!.mend as TableMend;
  const after = await analysis(applyMend({ ...body.table, lists: [] }, mend));
  expect(after.map(({ kind }) => kind)).not.toContain('fork-bypassed');
  expect((await get()).body.version).toBe(body.version);
});

test('the fork for phones on two systems is proposed, and not written', async () => {
  const { body } = await get();
  const { routes } = body.table;
  const table = { ...body.table, routes: routes.filter(({ id }: Route) => id !== 'both') };
  const asked = { list: 'two-systems', first: 'terminals', second: 'fleet', delayMs: 3000 };
  const proposed = await server.ask('POST', '/api/routing/two-systems', { as, body: { table, asked } });
  const ids = proposed.body.table.routes.map(({ id }: Route) => id);
  expect(ids.indexOf(proposed.body.route.id)).toBe(ids.indexOf('own') - 1);
  const after = await analysis(proposed.body.table);
  expect(after.map(({ kind }) => kind)).not.toContain('fork-bypassed');
  expect((await get()).body).toEqual(body);
});

test('a call is traced through the live table, and through a draft', async () => {
  const call = { from: 'terminals', dialled: '916045550101' };
  const trace = async (more: object = {}): Promise<Answer> =>
    server.ask('POST', '/api/routing/trace', { as: 'help-desk', body: { call, ...more } });
  expect((await trace()).body.trace).toMatchObject({
    route: 'form-home',
    branches: [{ route: 'home', end: { kind: 'peer', peer: 'coast' } }],
  });
  const { table } = (await get()).body;
  const draft = await trace({ table: { ...table, routes: [] } });
  expect(draft.body.trace.end).toEqual({ kind: 'no-route', cause: 404 });
  expect((await trace({ call: { from: 'terminals', dialled: 'x' } })).body.faults).toMatchObject([
    { path: 'call.dialled' },
  ]);
});

test('the whole way of what somebody types', async () => {
  const way = async (number: string, person = 'tomasz') =>
    (await server.ask('POST', '/api/routing/way', { as, body: { numbers: [number], person } })).body.ways[0];
  expect(await way('604 555 0101')).toMatchObject({
    end: 'outside',
    understood: { e164: '+16045550101', notes: ['outside-code-added'] },
    enters: { peer: 'terminals', number: '916045550101' },
    trunk: 'terminal',
    sent: '+16045550101',
  });
  expect(await way('4101')).toMatchObject({ end: 'inside', understood: { extension: '4101' } });
  expect(await way('1 900 555 0100')).toMatchObject({ end: 'not-permitted', permission: { ok: false } });
  expect(await way('tomasz')).toMatchObject({ end: 'not-understood', understood: { faults: ['letters'] } });
});

describe('lists', () => {
  const NUMBERS = '+1 250 555 0171\n+1 250 555 0172\nnone\n';
  test('previewed with what changes, replaced as a whole, brought back', async () => {
    const preview = await server.ask('POST', '/api/routing/lists/read?list=yard-people', {
      as,
      body: `+12505550104\n${NUMBERS}`,
      headers: { 'Content-Type': 'text/plain' },
    });
    expect(preview.body).toMatchObject({
      count: 3,
      kept: 1,
      added: { count: 2, some: ['+12505550171', '+12505550172'] },
      removed: { count: 2 },
      refused: 1,
      refusals: [{ line: 4 }],
    });
    expect((await file('yard-people', NUMBERS, 'name=Yard%20people')).status).toBe(200);
    expect(await record()).toMatchObject({ kind: 'list-replaced', detail: '2 numbers: 2 new, 3 gone' });
    const read = () => server.ask('GET', '/api/routing/lists/yard-people?search=0171', { as });
    expect((await read()).body).toMatchObject({ count: 2, matching: 1, numbers: ['+12505550171'] });
    await server.ask('POST', '/api/routing/lists/yard-people/bring-back', { as });
    expect((await read()).body).toMatchObject({ count: 3, matching: 0 });
  });
  test('a new one, with which the table is traced at once; removed only when no route asks for it', async () => {
    await file('late', NUMBERS, 'name=Late');
    expect((await get()).body.lists.map(({ id }: { id: string }) => id)).toContain('late');
    expect((await server.ask('DELETE', '/api/routing/lists/late', { as })).body.numbers).toHaveLength(2);
    const used = await server.ask('DELETE', '/api/routing/lists/two-systems', { as });
    expect([used.status, used.body.message]).toEqual([409, expect.stringContaining('People with phones')]);
  });
  test('a file that cannot be read has its faults with lines, and nothing is written', async () => {
    const before = (await get()).body.lists;
    const bad = await file('late', 'dn: a\nmobile:: ***\n', 'name=Late');
    expect([bad.status, bad.body.placed]).toEqual([
      400,
      [{ line: 2, column: 10, message: expect.stringContaining('base64') }],
    ]);
    expect((await file('late', '', 'name=Late')).status).toBe(400);
    expect((await get()).body.lists).toEqual(before);
  });
  test('50,000 numbers', async () => {
    const many = Array.from({ length: 50_000 }, (_, i) => `+1999${2_000_000 + i}`).join('\n');
    expect((await file('late', many, 'name=Late')).body.lists).toContainEqual(
      expect.objectContaining({ id: 'late', count: 50_000 }),
    );
    expect((await estateFile(server.db))?.routing?.lists.at(-1)?.numbers).toHaveLength(50_000);
  });
});

test('the dial plan, permissions and trunks: read with who holds what, changed with a record', async () => {
  const page = (await server.ask('GET', '/api/dialling', { as: 'manager' })).body;
  expect(page.dialling.outsideCode).toBe('9');
  expect(
    page.permissions
      .map(({ held }: { held: unknown[] }) => held.length)
      .reduce((a: number, b: number) => a + b),
  ).toBe(120);
  const dialling = { ...page.dialling, areaCodes: ['250', '778'] };
  const change = (before: object) => server.ask('PUT', '/api/dialling', { as, body: { dialling, before } });
  expect((await change(page.dialling)).status).toBe(200);
  expect(await record()).toMatchObject({ kind: 'dialling-set' });
  expect((await change(page.dialling)).status).toBe(409);
  const { held: _held, ...permission } = page.permissions[0];
  const object = { ...permission, allow: ['local'] };
  const put_ = await server.ask('PUT', `/api/objects/permission/${permission.id}`, {
    as,
    body: { version: 1, object },
  });
  expect([put_.status, put_.body.object.allow]).toEqual([200, ['local']]);
  const used = await server.ask('DELETE', `/api/objects/permission/${permission.id}`, { as });
  expect(used.status).toBe(409);
});

test('trunks are put in another order, all of them or none', async () => {
  const order = (ids: readonly string[]) => server.ask('PUT', '/api/order/trunk', { as, body: { ids } });
  expect((await order(['overseas', 'terminal'])).status).toBe(200);
  const { trunks } = (await server.ask('GET', '/api/dialling', { as })).body;
  expect(trunks.map(({ id }: { id: string }) => id)).toEqual(['overseas', 'terminal']);
  expect(await record()).toMatchObject({ kind: 'order-set' });
  expect((await order(['terminal'])).status).toBe(409);
});

test('the fraud protection: who can call what is watched, and which route leads there', async () => {
  const { body } = await server.ask('GET', '/api/guard', { as: 'manager' });
  expect(body.premium).toContain('+1900');
  expect(body.permissions.find(({ id }: { id: string }) => id === 'anywhere')).toMatchObject({
    premium: false,
    prefixes: body.guard.prefixes,
  });
  expect(body.findings).toContainEqual(
    expect.objectContaining({ kind: 'route', id: 'abroad', weight: 'risk' }),
  );
  expect(JSON.stringify(body.findings)).not.toContain('begin with +1900');
});
