import { ROUTES } from '../app';
import { inTransaction, openDb } from '../db';
import { ROLES, type Role } from '../base/account';
import { testServer, type TestServer } from '../test';

/** Each route asked 12 times at once, on a pool of two connections: whatever waits for itself would stop everything. */
let server: TestServer;
beforeAll(async () => {
  server = await testServer(undefined, undefined, undefined, { connections: 2 });
});
afterAll(() => server.stop());

const AT_ONCE = 12;
const PLACES: Readonly<Record<string, string>> = {
  kind: 'group',
  number: '4000',
  endpoint: 'ines-desk',
  address: '02F0AA000001',
  model: 'gannet-20',
  version: '3.5.0',
  slate: '1',
};
const filled = (path: string) =>
  path.replace(
    /:(\w+)/g,
    (_all, name: string) =>
      PLACES[name] ??
      // Neither the session nor the sign-in that the others are asked with.
      (path.endsWith('/sign-in')
        ? 'tomasz'
        : path.includes('/access/')
          ? 'call-through'
          : path.includes('/people')
            ? 'ines'
            : path.includes('/sessions')
              ? '999999'
              : '1'),
  );

/** What a route is asked with so that it comes as far as it can; the others are asked with nothing. */
const BODIES: Readonly<Record<string, object | string>> = {
  'PUT /api/people/:id/status': { status: 'away' },
  'PUT /api/people/:id/switch': { endpoint: 'ines-mobile', enabled: false },
  'PUT /api/people/:id/cover': { ending: { kind: 'mailbox' } },
  'POST /api/restarts': { endpoints: ['ines-desk'], when: 'now' },
  'POST /api/slates': { name: 'One of many' },
  'POST /api/imports': 'name,extension\nAda Made,5901\n',
  'POST /api/me/requests': { wish: { kind: 'ring-time', at: 'otherwise', stage: 0, forMs: 300_000 } },
  'PUT /api/phones/:endpoint/notes': { headset: 'left drawer' },
  'POST /api/people/:id/pin': { pin: '480263' },
  'POST /api/people/:id/sign-in': {},
  'POST /api/access/:id/prediction': { from: null, typed: ['4101', '480263'] },
  'POST /api/access/:id/try': { from: null },
};
const LEFT_OUT = [
  // They end the sessions that the others are asked with.
  'DELETE /api/session',
  'DELETE /api/account/sessions',
  // They wait for passwords to be looked at one after the other.
  'POST /api/session',
  'PUT /api/account/password',
];

test('every route, 12 at a time, on a pool of two: all are answered, and the server goes on', async () => {
  const seen = new Map<number, number>();
  for (const route of ROUTES) {
    const name = `${route.method} ${route.path}`;
    if (LEFT_OUT.includes(name) || route.path.endsWith('/events')) continue;
    const role: Role | undefined =
      route.roles === 'everybody'
        ? undefined
        : ([...ROLES, 'staff'] as const).find((each) => route.roles.includes(each));
    const body = route.method === 'GET' ? undefined : (BODIES[name] ?? {});
    const answers = await Promise.all(
      Array.from({ length: AT_ONCE }, () =>
        server.ask(route.method, filled(route.path), { ...(role ? { as: role } : {}), body }),
      ),
    );
    for (const { status } of answers) seen.set(status, (seen.get(status) ?? 0) + 1);
    // Refused for whatever is not right, or put off; never left hanging, never a fault of ours.
    expect({ name, bad: answers.filter(({ status }) => status === 500).map(({ text }) => text) }).toEqual({
      name,
      bad: [],
    });
  }
  expect(seen.get(200) ?? 0).toBeGreaterThan(550);
  expect((await server.ask('GET', '/api/people', { as: 'specialist' })).status).toBe(200);
}, 240_000);

test('14 phones that fetch at once, 16 restarts and 13 changes beside an import do not stop it', async () => {
  const settled = await Promise.all([
    ...Array.from({ length: 14 }, (_, n) =>
      server.ask('GET', `/provisioning/02F0AA0000${String(10 + n)}`).then(({ status }) => status),
    ),
    ...Array.from({ length: 16 }, () =>
      server
        .ask('POST', '/api/restarts', { as: 'specialist', body: { endpoints: ['ines-desk'], when: 'now' } })
        .then(({ status }) => status),
    ),
    ...Array.from({ length: 13 }, (_, n) =>
      server
        .ask('PUT', '/api/people/ines/status', {
          as: 'help-desk',
          body: { status: n % 2 ? 'away' : 'on-shift' },
        })
        .then(({ status }) => status),
    ),
  ]);
  expect(settled).toHaveLength(43);
  expect(settled.slice(0, 14)).toEqual(Array.from({ length: 14 }, () => 401));
  expect(settled.slice(30)).toEqual(Array.from({ length: 13 }, () => 200));
});

test('inside a transaction nothing else can be asked, and nobody waits without an end', async () => {
  const db = openDb(server.config, { connections: 1, waitMs: 200 });
  await expect(
    inTransaction(db, async (tx) => {
      await tx.query('SELECT 1');
      await db.query('SELECT 2');
    }),
  ).rejects.toThrow('only its own connection');
  let letGo: () => void = () => undefined;
  const holding = inTransaction(db, async (tx) => {
    await tx.query('SELECT 1');
    await new Promise<void>((resolve) => (letGo = resolve));
  });
  await new Promise((resolve) => setImmediate(resolve));
  await expect(db.query('SELECT 3')).rejects.toThrow('too many wait');
  letGo();
  await holding;
  expect(await db.query('SELECT 4 AS four')).toMatchObject([[{ four: 4 }], {}]);
  expect(db.health().ok).toBe(true);
  await db.end();
});
