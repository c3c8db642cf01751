import { importAtRest, testServer, type TestServer, wholeList } from '../test';

let server: TestServer;
beforeAll(async () => {
  server = await testServer();
});
afterAll(() => server.stop());

const as = 'specialist' as const;
async function read(list: string | Uint8Array) {
  const { status, body } = await server.ask('POST', '/api/imports', { as, body: list });
  expect(status).toBe(201);
  return importAtRest(server, body.id as number);
}
const rows = async (id: number, action: string) =>
  (await server.ask('GET', `/api/imports/${id}/rows?action=${action}`, { as })).body.rows;
const people = () => wholeList(server);
const LIST =
  'Name,Extension,Mobile\nOdile Brackwater,4230,778 555 0181\nInes Okafor,4101,778 555 0191\nNobody,1,\n';

test('a list is read, shown, and written only when agreed to', async () => {
  const before = await people();
  const { body } = await read(LIST);
  expect(body).toMatchObject({
    state: 'read',
    summary: { delimiter: ',', counts: { create: 1, change: 1, same: 0, refuse: 1 } },
  });
  expect(await people()).toEqual(before);
  expect(await rows(body.id, 'change')).toMatchObject([
    { line: 3, changes: [{ field: 'mobile', before: '+17785550101', after: '+17785550191' }] },
  ]);
  const faults = await server.ask('GET', `/api/imports/${body.id}/refused.csv`, { as });
  expect(faults.text.split('\r\n')[1]).toMatch(/^4,2,Extension,Nobody,1,/);

  expect((await server.ask('POST', `/api/imports/${body.id}/write`, { as, body: {} })).status).toBe(202);
  expect((await importAtRest(server, body.id)).body.state).toBe('written');
  const after = await people();
  expect(after).toHaveLength(before.length + 1);
  expect(after.at(-1)).toMatchObject({ name: 'Odile Brackwater', extension: '4230' });
  const ines = (await server.ask('GET', '/api/people/ines', { as })).body;
  expect([ines.version, ines.person.endpoints[1].number]).toEqual([2, '+17785550191']);
  expect((await server.ask('POST', `/api/imports/${body.id}/write`, { as, body: {} })).status).toBe(409);
});

test('if the staff change in between, nothing is written; read again, it is', async () => {
  const { body } = await read('Name,Extension\nBram Tideswell,4231');
  await server.ask('PUT', '/api/people/ruth/status', { as, body: { status: 'on-leave' } });
  await server.ask('POST', `/api/imports/${body.id}/write`, { as, body: {} });
  expect((await importAtRest(server, body.id)).body).toMatchObject({
    state: 'failed',
    summary: { failed: expect.stringContaining('changed since') },
  });
  expect((await people()).some((p) => p.extension === '4231')).toBe(false);
  await server.ask('PUT', `/api/imports/${body.id}`, { as, body: { readAs: null, columns: null } });
  expect((await importAtRest(server, body.id)).body.state).toBe('read');
  await server.ask('POST', `/api/imports/${body.id}/write`, { as, body: {} });
  expect((await importAtRest(server, body.id)).body.state).toBe('written');
});

test('one row that the database refuses takes all others with it', async () => {
  const { body } = await read('Name,Extension\nYsolde Kerrick,4232\nFelix Oarsman,4233');
  await server.db.query(
    `UPDATE staff_import_row SET body = JSON_SET(body, '$.person.lines[0].extension', '4232') WHERE import_id = ? AND line = 3`,
    [body.id],
  );
  await server.ask('POST', `/api/imports/${body.id}/write`, { as, body: {} });
  expect((await importAtRest(server, body.id)).body.state).toBe('failed');
  expect((await people()).some((p) => p.name === 'Ysolde Kerrick')).toBe(false);
});

test('columns can be matched by hand, and Latin-1 be read when asked', async () => {
  const latin = new Uint8Array([
    ...new TextEncoder().encode('Wer;Kurzwahl\nS'),
    0xf8,
    ...new TextEncoder().encode('ren Vik;4234'),
  ]);
  const first = await read(latin);
  expect(first.body.summary.faults).toMatchObject([
    { line: 2, column: 2, message: expect.stringContaining('Latin-1') },
  ]);
  await server.ask('PUT', `/api/imports/${first.body.id}`, {
    as,
    body: { readAs: 'latin-1', columns: null },
  });
  const second = await importAtRest(server, first.body.id);
  expect(second.body.summary.faults).toMatchObject([
    { message: expect.stringContaining('No column is matched to the extension') },
  ]);
  await server.ask('PUT', `/api/imports/${first.body.id}`, {
    as,
    body: { readAs: 'latin-1', columns: { name: 0, extension: 1 } },
  });
  await importAtRest(server, first.body.id);
  expect(await rows(first.body.id, 'create')).toMatchObject([{ name: 'Søren Vik', extension: '4234' }]);
});

test.each([
  ['Name,Extension\n"A,1', 2, 'never closed'],
  ['\uFEFF', 0, 'nothing in it'],
  [Array.from({ length: 200 }, (_, i) => `c${i}`).join(','), 1, '200 columns'],
  ['Name,Extension\nA\0,1', 2, 'zero byte'],
])('%j is told by its line', async (list, line, message) => {
  const { body } = await read(list);
  expect(body.summary.faults[0]).toMatchObject({ line, message: expect.stringContaining(message) });
  expect((await server.ask('POST', `/api/imports/${body.id}/write`, { as, body: {} })).status).toBe(409);
});

test('an import is its maker’s alone', async () => {
  const { body } = await read(LIST);
  await server.db.query(
    'UPDATE staff_import SET account_id = (SELECT id FROM account WHERE role = ?) WHERE id = ?',
    ['manager', body.id],
  );
  expect((await server.ask('GET', `/api/imports/${body.id}`, { as })).status).toBe(404);
});

test('5,000 rows go in together', async () => {
  const lines = Array.from({ length: 5000 }, (_, i) => `Person ${i} Made,${5000 + i},,`);
  const { body } = await read(['Name,Extension,Direct,Mobile', ...lines].join('\n'));
  expect(body.summary.counts).toMatchObject({ create: 5000, refuse: 0 });
  await server.ask('POST', `/api/imports/${body.id}/write`, { as, body: {} });
  expect((await importAtRest(server, body.id)).body).toMatchObject({
    state: 'written',
    done: 5000,
    total: 5000,
  });
  expect((await people()).filter((p) => p.name.endsWith('Made'))).toHaveLength(5000);
});
