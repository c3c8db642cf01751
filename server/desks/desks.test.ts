import type { EnoughPage, RosterPreview, SavingsPage, SittingPage } from '../../api/desks';
import { testServer, type TestServer } from '../test';

let server: TestServer;
beforeAll(async () => {
  server = await testServer();
});
afterAll(() => server.stop());
const as = 'specialist' as const;
const enough = (query = '') => server.ask('GET', `/api/desks/enough/harbour${query}`, { as });
const put = (id: string, version: number | null, object: object) =>
  server.ask('PUT', `/api/objects/desk/${id}`, { as, body: { version, object } });

test('whether there are enough, by week and chance', async () => {
  const page = (await enough('?week=2026-11-25')).body as EnoughPage;
  expect([page.desks, page.halfHours.length, page.halfHours[0]?.fromMs]).toEqual([
    17,
    336,
    Date.parse('2026-11-23T07:00:00Z'),
  ]);
  expect(((await enough('?week=2026-11-25&chance=1')).body as EnoughPage).needed).toBe(0);
  for (const query of ['?week=soon', '?chance=0', '?chance=x', '?chance=2'])
    expect((await enough(query)).status).toBe(400);
  expect((await server.ask('GET', '/api/desks/enough/moon', { as })).status).toBe(404);
  expect((await server.ask('GET', '/api/desks/enough/harbour', { as: 'staff' })).status).toBe(403);
});

test('what moving a shift would save, and who of each shift is there', async () => {
  const savings = async (query: string, role: 'specialist' | 'staff' = as) =>
    server.ask('GET', `/api/desks/savings/harbour${query}`, { as: role });
  const found = ((await savings('?week=2026-11-25')).body as SavingsPage).savings;
  const { needed } = (await enough('?week=2026-11-25')).body as EnoughPage;
  expect(found.length).toBeGreaterThan(0);
  for (const each of found) {
    expect(each.needed).toBeLessThanOrEqual(needed);
    expect([each.byMinutes, each.less].filter((value) => value !== null)).toHaveLength(1);
    expect(each.shift).toMatch(/[a-z]/);
  }
  expect((await savings('?chance=7')).status).toBe(400);
  expect((await savings('', 'staff')).status).toBe(403);
  const sitting = (await server.ask('GET', '/api/desks/sitting', { as })).body as SittingPage;
  expect(sitting.shifts.length).toBeGreaterThan(0);
  for (const { here, expected } of sitting.shifts) expect(here).toBeLessThanOrEqual(Math.ceil(expected) + 5);
});

test('a desk is added, refused where it cannot be, changed and removed; it counts at once', async () => {
  const before = ((await enough()).body as EnoughPage).desks;
  const taken = await put('new', null, { id: 'new', name: 'New', device: 'shared-desk-1' });
  expect([taken.status, taken.body.faults[0].message]).toEqual([
    400,
    expect.stringContaining('is the phone of Hall desk 1 already'),
  ]);
  const device = { id: 'spare', name: 'Spare', model: 'gannet-20', site: 'harbour' };
  await server.ask('PUT', '/api/objects/device/spare', { as, body: { version: null, object: device } });
  const desk = { id: 'new', name: 'New', device: 'spare', credential: 'page', signOff: { dailyAt: '20:00' } };
  expect((await put('new', null, desk)).status).toBe(200);
  expect(((await enough()).body as EnoughPage).desks).toBe(before + 1);
  const stored = (await server.ask('GET', '/api/objects/desk/new', { as })).body as {
    version: number;
    object: object;
  };
  expect(stored.object).toEqual(desk);
  const wrong = await put('new', stored.version, { ...desk, signOff: { dailyAt: '25:00' } });
  expect([wrong.status, wrong.body.faults[0].path]).toEqual([
    400,
    expect.stringContaining('signOff.dailyAt'),
  ]);
  // A phone that a desk has cannot go.
  expect((await server.ask('DELETE', '/api/objects/device/spare', { as })).status).toBe(409);
  expect((await server.ask('DELETE', '/api/objects/desk/new', { as })).status).toBe(204);
  expect((await server.ask('DELETE', '/api/objects/device/spare', { as })).status).toBe(204);
});

test('whom no desk allows is named once they are rostered there', async () => {
  for (let n = 1; n <= 17; n += 1) {
    const { body } = await server.ask('GET', `/api/objects/desk/hall-${n}`, { as });
    const changed = { ...body.object, allowed: { templates: ['agents-early'] } };
    expect((await put(`hall-${n}`, body.version, changed)).status).toBe(200);
  }
  const { without } = (await enough()).body as EnoughPage;
  expect(without.length).toBeGreaterThan(5);
  expect(without.map(({ id }) => id)).not.toContain('viggo-fenwright');
});

test('rosters of many are shown first, then go on a slate; nothing is taken over while any row has a fault', async () => {
  const send = (path: string, list: string, role: 'specialist' | 'manager' = as) =>
    server.ask('POST', `/api/rosters/${path}`, { as: role, body: list });
  const written = (await server.ask('GET', '/api/rosters.csv', { as })).text;
  expect(written.split('\r\n')[0]).toBe('Extension,Name,Site,Hours,Share');
  const same = (await send('preview', written)).body as RosterPreview;
  expect([same.count, same.faults]).toEqual([0, []]);
  expect(same.same).toBeGreaterThan(10);
  expect((await send('import', written)).status).toBe(409);
  const list = 'Extension,Site,Hours,Share\n4101,Harbour terminal,Office hours,40 %\n';
  expect((await send('preview', list)).body).toMatchObject({
    count: 1,
    changed: [{ id: 'ines', name: 'Ines Okafor' }],
    faults: [],
  });
  const wrong = `${list}4101,Nowhere,Office hours,\n`;
  expect(((await send('preview', wrong)).body as RosterPreview).faults).toEqual([
    { line: 3, column: 2, message: '“Nowhere” is no site' },
  ]);
  expect((await send('import', wrong)).status).toBe(422);
  expect((await send('preview', '')).status).toBe(400);
  expect((await send('preview', list, 'manager')).status).toBe(403);
  const { status, body } = await send('import', list);
  expect(status).toBe(201);
  const slate = await server.ask('GET', `/api/slates/${body.slate}`, { as });
  expect(JSON.stringify(slate.body)).toContain('"share":0.4');
  // What is live is as it was until the slate is put live.
  const ines = (await server.ask('GET', '/api/people/ines', { as })).body;
  expect(JSON.stringify(ines.person.roster ?? [])).not.toContain('0.4');
});
