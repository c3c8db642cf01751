import { testServer, type TestServer } from '../test';
import { until } from '../../standins/tests/until';

let server: TestServer;
beforeAll(async () => {
  server = await testServer();
});
afterAll(() => server.stop());

const as = 'specialist' as const;
const ask = (method: string, path: string, body?: unknown) => server.ask(method, path, { as, body });
const send = (path: string, text: string) =>
  server.ask('PUT', path, { as, body: text, headers: { 'Content-Type': 'text/plain' } });
async function newSlate(name: string): Promise<string> {
  const { body } = await ask('POST', '/api/slates', { name });
  return `/api/slates/${String(body.id)}`;
}
const numbersOf = async (id: string, slate = '') =>
  (await ask('GET', `/api/routing/lists/${id}?${slate.replace('/api/slates/', 'slate=')}`)).body.numbers;
const listed = async (slate = '') =>
  (await ask('GET', `/api/routing?${slate.replace('/api/slates/', 'slate=')}`)).body.lists.map(
    ({ id, onSlate }: { id: string; onSlate?: string }) => (onSlate ? `${id} ${onSlate}` : id),
  );
const impactOf = (slate: string) =>
  until(async () => {
    const { body } = await ask('POST', `${slate}/impact`);
    return body.state !== 'running' && body;
  });

const NEW = '+12505550199';

test('a list is replaced on a slate: shown there, seen at the route table, put live, recorded and taken back', async () => {
  const before = await numbersOf('two-systems');
  const [gone, ...kept] = before as [string, ...string[]];
  const slate = await newSlate('Two systems');
  const put = await send(
    `${slate}/lists/two-systems?name=Phones%20on%20two%20systems`,
    [...kept, NEW].join('\n'),
  );
  expect(put.body.entries).toMatchObject([{ kind: 'list', id: 'two-systems', action: 'change', more: 0 }]);
  expect(put.body.entries[0].changes).toEqual([
    { path: `numbers[${gone}]`, before: gone },
    { path: `numbers[${NEW}]`, after: NEW },
  ]);
  expect(await numbersOf('two-systems')).toEqual(before);
  expect(await numbersOf('two-systems', slate)).toEqual([...kept, NEW]);
  expect(await listed(slate)).toContain('two-systems changed');

  const impact = await impactOf(slate);
  expect(impact).toMatchObject({ state: 'done', groups: [], table: { complete: true } });
  const concerned = impact.table.groups.map(({ call }: { call: { dialled: string } }) => call.dialled);
  // Dialled at our own lines they have the outside code before them.
  const bare = concerned.map((dialled: string) => dialled.slice(-10));
  expect(bare).toEqual(expect.arrayContaining([gone.slice(-10), NEW.slice(-10)]));
  expect(impact.table.tried).toBeGreaterThan(10);

  expect((await ask('POST', `${slate}/apply`, { overrule: 'for the test' })).status).toBe(200);
  expect(await numbersOf('two-systems')).toEqual([...kept, NEW]);
  const [entry] = (await ask('GET', '/api/record?kind=list-replaced')).body.entries;
  expect(entry).toMatchObject({ canTakeBack: true, detail: `${before.length} numbers: 1 new, 1 gone` });

  // What was changed since stays as it is when the change is taken back.
  const later = '+12505550188';
  await send('/api/routing/lists/two-systems?name=Phones', [...kept, NEW, later].join('\n'));
  const back = await ask('POST', '/api/record/slate', { entries: [entry.id] });
  expect(back.body.clashes).toEqual([]);
  await ask('POST', `/api/slates/${back.body.slate}/apply`, { overrule: 'for the test' });
  expect(new Set(await numbersOf('two-systems'))).toEqual(new Set([gone, ...kept, later]));
});

test('a list changed live since is refused with both sides, and carried over without losing either', async () => {
  const before = (await numbersOf('yard-people')) as string[];
  const slate = await newSlate('Yard');
  await send(`${slate}/lists/yard-people?name=Yard%20people`, [...before, '+12505550101'].join('\n'));
  await send('/api/routing/lists/yard-people?name=Yard%20people', [...before, '+12505550102'].join('\n'));
  const refused = await ask('POST', `${slate}/apply`, { overrule: 'for the test' });
  expect(refused.status).toBe(409);
  expect(refused.body.refused).toMatchObject({ kind: 'stale', stale: [{ kind: 'list', id: 'yard-people' }] });
  const carried = await ask('POST', `${slate}/carry`);
  expect(carried.body.clashes).toEqual([]);
  expect((await ask('POST', `${slate}/apply`, { overrule: 'for the test' })).status).toBe(200);
  expect(await numbersOf('yard-people')).toEqual(
    expect.arrayContaining([...before, '+12505550101', '+12505550102']),
  );
});

test('a new list and the route that asks for it are put live together; a list that a route needs is not removed', async () => {
  const slate = await newSlate('Night crew');
  const broken = await send(`${slate}/lists/night?name=Night`, 'no number at all');
  expect(broken.status).toBe(400);
  expect((await send(`${slate}/lists/night?name=Night`, NEW)).body.entries).toMatchObject([
    { kind: 'list', action: 'add' },
  ]);
  expect(await listed(slate)).toContain('night added');
  const { table } = (await ask('GET', '/api/routing')).body;
  const route = {
    id: 'night',
    name: 'Night crew',
    enabled: true,
    when: { list: { id: 'night', of: 'dialled' } },
    then: { refuse: { cause: 480 } },
  };
  const after = { ...table, routes: [route, ...table.routes] };
  const draft = (query: string) =>
    ask('POST', `/api/routing/trace${query}`, {
      table: after,
      call: { from: table.peers[0].id, dialled: NEW },
    });
  expect((await draft('')).status).toBe(400);
  expect((await draft(slate.replace('/api/slates/', '?slate='))).body.trace.end).toMatchObject({
    cause: 480,
  });
  await ask('PUT', `${slate}/entries/routing/routing`, { base: table, after });
  expect((await impactOf(slate)).table.groups[0]).toMatchObject({ weight: 'lost', call: { dialled: NEW } });
  expect((await ask('POST', `${slate}/apply`, { overrule: 'for the test' })).status).toBe(200);
  expect(await listed()).toContain('night');

  const without = await newSlate('Without');
  const removed = await ask('POST', `${without}/lists/night/remove`);
  expect(removed.body.faults.map(({ message }: { message: string }) => message).join()).toContain('night');
  const refused = await ask('POST', `${without}/apply`, { overrule: 'for the test' });
  expect(refused.body.refused).toMatchObject({ kind: 'faults' });
  expect(await listed()).toContain('night');
  expect((await ask('POST', `${without}/lists/nowhere/remove`)).status).toBe(404);
});

test('a list of 40,000 numbers goes onto a slate and into force', async () => {
  const many = Array.from({ length: 40_000 }, (_, i) => `+1250${String(2_000_000 + i)}`);
  const slate = await newSlate('Many');
  const put = await send(`${slate}/lists/many?name=Many`, many.join('\n'));
  expect(put.status).toBe(200);
  expect((await ask('POST', `${slate}/apply`, { overrule: 'for the test' })).status).toBe(200);
  const { lists } = (await ask('GET', '/api/routing')).body;
  expect(lists).toContainEqual(expect.objectContaining({ id: 'many', count: 40_000 }));
});
