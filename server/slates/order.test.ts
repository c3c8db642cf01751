import { demoEstate, testServer, type TestServer } from '../test';
import { slateTools } from '../test/slates';

let server: TestServer;
beforeAll(async () => {
  server = await testServer();
});
afterAll(() => server.stop());
const { ask, newSlate, put } = slateTools(() => server);

const demo = demoEstate();

test('a work order is read, ticked off, and goes out as Markdown, CSV and PDF', async () => {
  const id = await newSlate('Order');
  await put(id, 'priya', (p) => ({ ...p, maxCalls: 9, name: 'Priya R' }));
  const order = await ask('GET', `/api/slates/${id}/order`);
  const steps = order.body.steps as { id: string; kind: string; doneBy: string | null }[];
  expect(steps.map(({ kind }) => kind)).toEqual(['setting', 'setting', 'test']);
  expect((await ask('PUT', `/api/slates/${id}/order`, { step: steps[0]!.id, done: true })).status).toBe(204);
  expect((await ask('GET', `/api/slates/${id}/order`)).body.steps[0].doneBy).toBe('specialist');
  expect((await ask('GET', `/api/slates/${id}/order/md`)).text).toContain('- [x] 1.');
  expect((await ask('GET', `/api/slates/${id}/order/csv`)).text.split('\r\n')[1]).toMatch(/,yes$/);
  const pdf = await ask('GET', `/api/slates/${id}/order/pdf`);
  expect([pdf.text.slice(0, 5), pdf.text.trimEnd().slice(-5)]).toEqual(['%PDF-', '%%EOF']);
  await ask('PUT', `/api/slates/${id}/order`, { step: steps[0]!.id, done: false });
  expect((await ask('PUT', `/api/slates/${id}/order`, { step: 'none', done: true })).status).toBe(404);
});

describe('the route table on a slate', () => {
  const table = async () =>
    (await ask('GET', '/api/routing')).body as {
      table: { hopLimit?: number; peers: object[] };
      version: number;
    };
  const putTable = (slate: number, base: object, after: object) =>
    ask('PUT', `/api/slates/${slate}/entries/routing/routing`, { base, after });

  test('goes live with the rest, is recorded, and is taken back by a slate', async () => {
    const id = await newSlate('Routes');
    const { table: base } = await table();
    expect((await putTable(id, base, { ...base, hopLimit: 'few' })).status).toBe(400);
    const put = await putTable(id, base, { ...base, hopLimit: 9 });
    expect(put.body.entries).toMatchObject([{ kind: 'routing', changes: [{ path: 'hopLimit', after: 9 }] }]);
    expect((await table()).table.hopLimit).toBe(base.hopLimit);
    expect((await ask('POST', `/api/slates/${id}/apply`, {})).status).toBe(200);
    expect((await table()).table.hopLimit).toBe(9);
    const [entry] = (await ask('GET', '/api/record?kind=routes-changed')).body.entries as {
      id: number;
      slateId: number;
    }[];
    expect(entry!.slateId).toBe(id);
    const back = await ask('POST', '/api/record/slate', { entries: [entry!.id] });
    expect((await ask('POST', `/api/slates/${back.body.slate}/apply`, {})).status).toBe(200);
    expect((await table()).table.hopLimit).toBe(base.hopLimit);
  });

  test('is refused where somebody has changed it since, and where a trunk it asks for goes', async () => {
    const id = await newSlate('Old routes');
    const { table: base, version } = await table();
    await putTable(id, base, { ...base, hopLimit: 8 });
    await ask('PUT', '/api/routing', { version, table: { ...base, hopLimit: 5 } });
    expect((await ask('POST', `/api/slates/${id}/apply`, {})).body.refused).toMatchObject({
      kind: 'stale',
      stale: [{ kind: 'routing' }],
    });
    const other = await newSlate('No trunk');
    const trunk = demo.trunks[0]!;
    await ask('PUT', `/api/slates/${other}/entries/trunk/${trunk.id}`, { base: trunk, after: null });
    const refused = await ask('POST', `/api/slates/${other}/apply`, {});
    expect(refused.body.refused.kind).toBe('faults');
    expect(refused.body.faults.map(({ path }: { path: string }) => path).join()).toMatch(
      /route table: peers\[\d\]\.trunk/,
    );
  });
});
