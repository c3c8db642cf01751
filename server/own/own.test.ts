import { ROUTES } from '../app';
import { testServer, type TestServer } from '../test';

let server: TestServer;
beforeAll(async () => {
  server = await testServer();
});
afterAll(() => server.stop());

const mine = (method: string, path: string, body?: unknown) =>
  server.ask(method, path, { as: 'staff', body });
const theirs = (method: string, path: string, body?: unknown) =>
  server.ask(method, path, { as: 'specialist', body });
const page = async () => (await mine('GET', '/api/me')).body;
const wish = (body: object) => mine('POST', '/api/me/wishes', { wish: body });

test('staff see their own page and nothing else: every other route refuses them', async () => {
  const body = await page();
  expect(body.person.id).toBe('ines');
  const others = ROUTES.filter(
    ({ roles }) => roles !== 'everybody' && !roles.some((role) => role === 'staff'),
  );
  expect(others.length).toBeGreaterThan(60);
  for (const { method, path } of others) {
    const { status } = await mine(method, path.replace(/:\w+/g, 'x'), method === 'GET' ? undefined : {});
    expect({ path, status }).toEqual({ path, status: 403 });
  }
});

test('their own private number stands whole, a colleague’s nowhere', async () => {
  const text = (await mine('GET', '/api/me')).text;
  const { people } = (await theirs('GET', '/api/people')).body;
  const numbersOf = (id: string): readonly string[] =>
    people.find((each: { id: string }) => each.id === id).numbers;
  const own = (await page()).person.endpoints.find(({ kind }: { kind: string }) => kind === 'mobile').number;
  expect(own).toMatch(/^\+1\d{10}$/);
  for (const number of numbersOf('tomasz').filter(
    (each) => each.startsWith('+1778') || each.startsWith('+1672'),
  ))
    expect(text).not.toContain(number);
});

test('a status is set at once, seen by the specialist and recorded', async () => {
  const { body } = await wish({ kind: 'status', status: 'away' });
  expect(body.person.status).toBe('away');
  expect((await theirs('GET', '/api/people/ines')).body.person.status).toBe('away');
  const record = (await theirs('GET', '/api/record?kind=own-change')).body.entries[0];
  expect(record).toMatchObject({ who: 'staff', personId: 'ines', detail: 'the status “Away”' });
});

test('what is wrong is told beside its field, and nothing is written', async () => {
  const before = await page();
  const { status, body } = await wish({ kind: 'number', endpoint: 'ines-mobile', number: '12' });
  expect([status, body.faults[0].path]).toEqual([400, 'number']);
  expect((await page()).person).toEqual(before.person);
});

test('what goes beyond the limits is asked for, granted by the specialist, and then done', async () => {
  await theirs('PUT', '/api/own/limits?person=ines', {
    limits: { ...(await page()).limits, twinning: false },
  });
  const body = { kind: 'twinning', endpoint: 'ines-mobile', on: false };
  const refused = await wish(body);
  expect([refused.status, refused.body.mayAsk]).toEqual([409, true]);
  const asked = await mine('POST', '/api/me/requests', { wish: body, note: 'It rings in class.' });
  expect(asked.status).toBe(201);
  const [open] = (await theirs('GET', '/api/own/requests')).body.requests;
  expect(open).toMatchObject({
    name: 'Ines Okafor',
    says: 'Mobile switched off',
    note: 'It rings in class.',
  });
  expect((await theirs('POST', `/api/own/requests/${open.id}`, { grant: true })).status).toBe(204);
  const after = await page();
  expect(after.requests[0]).toMatchObject({ state: 'granted', answeredBy: 'specialist' });
  expect(JSON.stringify(after.person.plan)).toContain('"enabled":false');
  expect((await theirs('POST', `/api/own/requests/${open.id}`, { grant: true })).status).toBe(404);
});

test('a request is declined with a reason that the person reads, or taken back', async () => {
  const body = { kind: 'ring-time', at: 'otherwise', stage: 0, forMs: 300_000 };
  await mine('POST', '/api/me/requests', { wish: body });
  await mine('POST', '/api/me/requests', { wish: { ...body, forMs: 200_000 } });
  const [second, first] = (await theirs('GET', '/api/own/requests')).body.requests;
  expect((await theirs('POST', `/api/own/requests/${first.id}`, { grant: false })).status).toBe(400);
  await theirs('POST', `/api/own/requests/${first.id}`, { grant: false, answer: 'Callers give up before.' });
  await mine('DELETE', `/api/me/requests/${second.id}`);
  const states = (await page()).requests
    .slice(0, 2)
    .map(({ state, answer }: { state: string; answer: string }) => [state, answer]);
  expect(states).toEqual([
    ['taken-back', ''],
    ['declined', 'Callers give up before.'],
  ]);
  expect((await mine('DELETE', `/api/me/requests/${second.id}`)).status).toBe(404);
});

test('a note says where somebody is today, and is gone when it is stale', async () => {
  const set = (more: object) => mine('PUT', '/api/me/note', { note: 'In the yard', ...more });
  const { body } = await set({ at: 'ines-mobile', until: '2026-11-24T20:00:00Z' });
  expect(body.note).toMatchObject({ note: 'In the yard', at: 'ines-mobile' });
  expect((await set({ until: '2026-11-24T17:00:00Z' })).status).toBe(400);
  expect((await set({ at: 'tomasz-app' })).body.faults[0].path).toBe('at');
  await server.db.query("UPDATE own_note SET stale_at = '2026-11-24 17:59:00'");
  expect((await page()).note).toBeNull();
});

test('ten requests are the most that one person has open', async () => {
  const ask = () =>
    mine('POST', '/api/me/requests', {
      wish: { kind: 'ring-time', at: 'otherwise', stage: 0, forMs: 90_000 },
    });
  for (let i = 0; i < 10; i += 1) expect((await ask()).status).toBe(201);
  expect((await ask()).status).toBe(409);
});

test('a sign-in is given to a person with a password shown once, and works', async () => {
  const { body } = await theirs('POST', '/api/people/tomasz/sign-in', {});
  const answer = await server.ask('POST', '/api/session', { body });
  expect(answer.body).toEqual({ name: body.name, role: 'staff', timeZone: 'America/Vancouver' });
  const cookie = answer.headers.get('set-cookie')!.split(';')[0]!;
  const own = await fetch(`${server.url}/api/me`, { headers: { Cookie: cookie } });
  expect(((await own.json()) as { person: { id: string } }).person.id).toBe('tomasz');
});

test('somebody ticks what their mobile lets its app do, and the specialist sees it', async () => {
  const { body: given } = await theirs('POST', '/api/people/tomasz/sign-in', {});
  const session = await server.ask('POST', '/api/session', { body: given });
  const headers = { Cookie: session.headers.get('set-cookie')!.split(';')[0]! };
  const tick = (body: object) => server.ask('PUT', '/api/me/checks', { body, headers });
  const done = await tick({ endpoint: 'tomasz-app', item: 'notifications', done: true });
  expect(done.body.checks).toEqual([
    expect.objectContaining({ endpoint: 'tomasz-app', item: 'notifications' }),
  ]);
  expect((await theirs('GET', '/api/phones')).body.checks).toHaveLength(1);
  expect((await tick({ endpoint: 'tomasz-app', item: 'notifications', done: false })).body.checks).toEqual(
    [],
  );
  expect((await tick({ endpoint: 'tomasz-app', item: 'dance', done: true })).status).toBe(400);
  expect((await tick({ endpoint: 'tomasz-home', item: 'battery', done: true })).body.faults[0].path).toBe(
    'endpoint',
  );
});
