import { ROUTES } from './app';
import { asOwner, openDb } from './db';
import { ROLES, type Role } from './base/account';
import { PASSWORD, testServer, type TestServer } from './test';

let server: TestServer;
beforeAll(async () => {
  server = await testServer();
});
afterAll(() => server.stop());

const filled = (path: string) =>
  path
    .replace(':kind', 'group')
    .replace(':number', '4000')
    .replace(':id', path.includes('imports') ? '999' : path.includes('objects') ? 'bookings' : 'ines')
    .replace(':endpoint', 'ines-mobile');
const PRIVATE = '+17785550101';

/** Questions that are too long for an address: they write nothing. */
const ASKING = [
  '/api/slates/:slate/strips',
  '/api/tries',
  '/api/routing/analysis',
  '/api/routing/trace',
  '/api/routing/way',
  '/api/sheet',
];

describe('each route for each role', () => {
  const cases = ROUTES.filter(
    // Those end the sessions that the others are asked with.
    (route) => !(route.method === 'DELETE' && ['/api/session', '/api/account/sessions'].includes(route.path)),
  ).flatMap((route) =>
    ([...ROLES, undefined] as (Role | undefined)[]).map(
      (role) => [route.method, route.path, role, route] as const,
    ),
  );
  test.each(cases)('%s %s as %s', async (method, path, role, route) => {
    const body = method === 'GET' ? undefined : {};
    const { status } = await server.ask(method, filled(path), { ...(role ? { as: role } : {}), body });
    if (route.roles === 'everybody') expect(status).not.toBe(403);
    else if (!role) expect(status).toBe(401);
    else if (!route.roles.includes(role)) expect(status).toBe(403);
    else expect([401, 403, 500]).not.toContain(status);
  });
  test('a manager writes nothing, and approves rounds of calls that somebody else has made', () => {
    const writes = ROUTES.filter(
      (route) =>
        (route.method === 'PUT' || (route.method === 'POST' && !ASKING.includes(route.path))) &&
        // Their own account is everybody's.
        !route.path.startsWith('/api/account') &&
        route.path !== '/api/rounds/:id/approve',
    );
    for (const route of writes) if (route.roles !== 'everybody') expect(route.roles).not.toContain('manager');
  });
});

describe('sessions', () => {
  const signIn = (name: string, password: string, headers = {}) =>
    server.ask('POST', '/api/session', { body: { name, password }, headers });
  test('the cookie is out of reach for scripts and other sites, and is another at each sign-in', async () => {
    const first = await signIn('manager', PASSWORD);
    const cookie = first.headers.get('set-cookie') ?? '';
    expect(cookie).toMatch(/HttpOnly/);
    expect(cookie).toMatch(/SameSite=Strict/);
    const second = await signIn('manager', PASSWORD, { Cookie: cookie.split(';')[0] });
    const now = (second.headers.get('set-cookie') ?? '').split(';')[0]!;
    expect(now).not.toBe(cookie.split(';')[0]);
    expect(
      (await server.ask('GET', '/api/session', { headers: { Cookie: cookie.split(';')[0]! } })).status,
    ).toBe(401);
    expect((await server.ask('GET', '/api/session', { headers: { Cookie: now } })).status).toBe(200);
  });
  test('signing out ends it', async () => {
    const cookie = ((await signIn('manager', PASSWORD)).headers.get('set-cookie') ?? '').split(';')[0]!;
    expect((await server.ask('DELETE', '/api/session', { headers: { Cookie: cookie } })).status).toBe(204);
    expect((await server.ask('GET', '/api/session', { headers: { Cookie: cookie } })).status).toBe(401);
  });
  test('an expired one is none', async () => {
    const cookie = ((await signIn('manager', PASSWORD)).headers.get('set-cookie') ?? '').split(';')[0]!;
    await server.db.query(
      "UPDATE session SET seen_at = seen_at - INTERVAL 9 HOUR WHERE account_id = (SELECT id FROM account WHERE name = 'manager') ORDER BY created_at DESC LIMIT 1",
    );
    expect((await server.ask('GET', '/api/session', { headers: { Cookie: cookie } })).status).toBe(401);
  });
  test('after some failures not even the right password helps', async () => {
    for (let i = 0; i < 5; i += 1) expect((await signIn('help-desk', 'wrong')).status).toBe(401);
    expect((await signIn('help-desk', PASSWORD)).status).toBe(429);
    await server.db.query('DELETE FROM attempt');
  });
  test.each([{}, { name: 'x' }, { name: 'x', password: 5 }, { name: 'x', password: 'y', more: 1 }])(
    '%j is told field by field',
    async (body) => {
      const answer = await server.ask('POST', '/api/session', { body });
      expect([answer.status, answer.body.faults.length > 0]).toEqual([400, true]);
    },
  );
});

describe('where requests come from', () => {
  test('a write from another origin, or from none, is refused', async () => {
    const put = (Origin: string) =>
      server.ask('PUT', '/api/people/ines/status', {
        as: 'specialist',
        body: { status: 'at-sea' },
        headers: { Origin },
      });
    expect((await put('http://evil.example')).status).toBe(403);
    expect((await put('null')).status).toBe(403);
    const { person } = (await server.ask('GET', '/api/people/ines', { as: 'specialist' })).body;
    expect(person.status).toBe('on-shift');
  });
  test('the policies of content and caching are sent', async () => {
    const { headers } = await server.ask('GET', '/api/people', { as: 'manager' });
    expect(headers.get('content-security-policy')).toMatch(/default-src 'none'.*script-src 'self'/);
    expect(headers.get('cache-control')).toBe('no-store');
    expect(headers.get('x-powered-by')).toBeNull();
  });
  test('a body that is no JSON or too large is told so', async () => {
    const headers = { 'Content-Type': 'application/json' };
    expect((await server.ask('POST', '/api/tries', { as: 'manager', body: '{', headers })).status).toBe(400);
    expect(
      (await server.ask('POST', '/api/tries', { as: 'manager', body: `"${'x'.repeat(2 << 20)}"`, headers }))
        .status,
    ).toBe(413);
    expect((await server.ask('GET', '/api/nothing')).status).toBe(404);
  });
});

describe('private numbers', () => {
  const paths = ROUTES.filter((route) => route.method === 'GET').map((route) => filled(route.path));
  test.each(['help-desk', 'manager'] as const)('nothing that %s can read holds one', async (role) => {
    for (const path of paths)
      expect((await server.ask('GET', path, { as: role })).text).not.toMatch(/\+1(778|604|236|672)555\d{4}/);
  });
  test('the specialist sees them, and the organisation’s own are for everybody', async () => {
    expect((await server.ask('GET', '/api/people/ines', { as: 'specialist' })).text).toContain(PRIVATE);
    expect((await server.ask('GET', '/api/people/ines', { as: 'manager' })).text).toContain('+12505550101');
  });
  test('a try by the manager gives the same result with the numbers masked', async () => {
    const call = { from: '+16045550188', to: '4114', at: '2026-11-24T10:00:00-07:00' };
    const [open, masked] = await Promise.all(
      (['specialist', 'manager'] as const).map((as) => server.ask('POST', '/api/tries', { as, body: call })),
    );
    expect(open!.body.trace.outcome).toEqual({
      kind: 'carrier-voicemail',
      atMs: 25_200,
      endpoint: '+16045550114',
    });
    expect(masked!.body.trace.outcome).toEqual({
      kind: 'carrier-voicemail',
      atMs: 25_200,
      endpoint: '+1604••••14',
    });
    expect(masked!.text).not.toContain('5550114');
  });
  test('the help desk is shown one on demand, and the record says so', async () => {
    const path = '/api/people/ines/numbers/ines-mobile';
    expect((await server.ask('POST', path, { as: 'help-desk', body: {} })).body).toEqual({ number: PRIVATE });
    const [entry] = (await server.ask('GET', '/api/record?person=ines', { as: 'manager' })).body.entries;
    expect(entry).toMatchObject({
      who: 'help-desk',
      kind: 'number-shown',
      subject: 'Ines Okafor',
      detail: 'Mobile',
    });
    expect(
      (await server.ask('POST', path.replace('ines-mobile', 'ines-desk'), { as: 'help-desk', body: {} }))
        .status,
    ).toBe(404);
  });
});

describe('changing a person', () => {
  const page = async () => (await server.ask('GET', '/api/people/ines', { as: 'specialist' })).body;
  const put = (version: number, person: unknown) =>
    server.ask('PUT', '/api/people/ines', { as: 'specialist', body: { version, person } });
  test('the first of two wins; the second is given the other version and nothing is written', async () => {
    const { person, version } = await page();
    const first = await put(version, { ...person, name: 'Ines First' });
    expect([first.status, first.body.person.name, first.body.version]).toEqual([
      200,
      'Ines First',
      version + 1,
    ]);
    const second = await put(version, { ...person, name: 'Ines Second' });
    expect([second.status, second.body.theirs]).toEqual([
      409,
      { person: { ...person, name: 'Ines First' }, version: version + 1 },
    ]);
    expect((await page()).person.name).toBe('Ines First');
    await put(version + 1, person);
  });
  test.each<
    [string, (p: { lines: { extension: string }[]; endpoints: object[]; plan: object }) => object, string]
  >([
    [
      'a wrong time',
      (p) => ({
        ...p,
        plan: { rules: [], otherwise: { stages: [{ ring: [], forMs: 0 }], ending: { kind: 'mailbox' } } },
      }),
      'person.plan.otherwise.stages[0].forMs',
    ],
    [
      'an endpoint that nobody has',
      (p) => ({
        ...p,
        plan: {
          rules: [],
          otherwise: { stages: [{ ring: [{ endpoint: 'x' }], forMs: 1 }], ending: { kind: 'mailbox' } },
        },
      }),
      'person.plan.otherwise.stages[0].ring[0].endpoint',
    ],
    [
      "somebody else's extension",
      (p) => ({ ...p, lines: [{ ...p.lines[0], extension: '4102' }] }),
      'person.lines[0].extension',
    ],
    [
      "a group's extension",
      (p) => ({ ...p, lines: [{ ...p.lines[0], extension: '4300' }] }),
      'person.lines[0].extension',
    ],
    [
      "somebody else's endpoint id",
      (p) => ({ ...p, endpoints: [...p.endpoints, { id: 'ruth-desk', label: 'X', kind: 'desk' }] }),
      'person.endpoints[2].id',
    ],
    [
      'a phone gone that a colleague’s plan rings',
      (p) => ({
        ...p,
        endpoints: p.endpoints.slice(1),
        plan: { rules: [], otherwise: { stages: [], ending: { kind: 'mailbox' } } },
      }),
      'people[2].plan.otherwise.stages[1].ring[0].endpoint',
    ],
    ['another id', (p) => ({ ...p, id: 'other' }), 'person.id'],
    ['a field that is none', (p) => ({ ...p, nickname: 'x' }), 'person.nickname'],
  ])('%s is refused at its path', async (_name, change, path) => {
    const { person, version } = await page();
    const answer = await put(version, change(person));
    expect([answer.status, answer.body.faults.map((f: { path: string }) => f.path)]).toEqual([
      400,
      expect.arrayContaining([path]),
    ]);
    expect((await page()).version).toBe(version);
  });
  test('a status and a switch take effect at once, in the list too, and are in the record', async () => {
    const status = await server.ask('PUT', '/api/people/ines/status', {
      as: 'help-desk',
      body: { status: 'on-leave' },
    });
    expect(status.status).toBe(200);
    const off = await server.ask('PUT', '/api/people/ines/switch', {
      as: 'help-desk',
      body: { endpoint: 'ines-mobile', enabled: false },
    });
    expect(off.body.person.plan.rules[2].stages[0].ring[1].enabled).toBe(false);
    const list = (await server.ask('GET', '/api/people', { as: 'manager' })).body.people;
    expect(list.find((p: { id: string }) => p.id === 'ines')).toMatchObject({ status: 'on-leave' });
    const { entries } = (await server.ask('GET', '/api/record?person=ines', { as: 'specialist' })).body;
    expect(
      entries.slice(0, 2).map((e: { kind: string; changes: unknown[] }) => [e.kind, e.changes.length]),
    ).toEqual([
      ['switched', 1],
      ['status-set', 1],
    ]);
  });
  test('nothing can alter the record: not the application, and not the account that owns the tables either', async () => {
    const tries = [
      "UPDATE record_entry SET who = 'nobody'",
      'DELETE FROM record_entry',
      'TRUNCATE record_entry',
      'DROP TABLE record_entry',
    ];
    for (const sql of tries) await expect(server.db.query(sql)).rejects.toThrow(/denied to user/);
    const owner = openDb(asOwner(server.config));
    for (const sql of tries.slice(0, 2))
      await expect(owner.query(sql)).rejects.toThrow('the record cannot be altered');
    await owner.end();
  });
});
