import type { NetworksPage, RelayPage, WayAsked } from '../../api/networks';
import { networkAround, networkOf } from '../../core/network';
import { testServer, type TestServer } from '../test';

let server: TestServer;
beforeAll(async () => {
  server = await testServer();
});
afterAll(() => server.stop());
const as = 'specialist' as const;
const page = async () => (await server.ask('GET', '/api/networks', { as })).body as NetworksPage;

test('it holds what ways are computed from, and of people no number and no plan', async () => {
  const { sites, servers, devices, people } = await page();
  expect(sites.some(({ network }) => network)).toBe(true);
  expect(servers.map(({ kind }) => kind)).toContain('system');
  expect(devices.every(({ site }) => site !== undefined)).toBe(true);
  const priya = people.find(({ id }) => id === 'priya');
  expect(priya?.endpoints.map(({ id }) => id)).toContain('priya-app');
  expect(JSON.stringify(people)).not.toMatch(/\+1\d{10}/);
  expect(people.every(({ lines, plan }) => lines.length + plan.rules.length === 0)).toBe(true);
});

test('what becomes of calls when a branch relay stops is told by person, with the call that shows it', async () => {
  const answer = await server.ask('GET', '/api/sites/north-landing/relay', { as });
  const { losses } = answer.body as RelayPage;
  expect(losses.map(({ person }) => person.id)).toEqual(['gita-yarrow']);
  expect(losses[0]).toMatchObject({
    isSilent: false,
    call: { world: { endpoints: { 'gita-yarrow-desk': { state: 'unregistered' } } } },
    outcome: { kind: 'answered', endpoint: 'gita-yarrow-mobile' },
  });
  expect((await server.ask('GET', '/api/sites/yard/relay', { as })).body).toEqual({ losses: [] });
  expect((await server.ask('GET', '/api/sites/nowhere/relay', { as })).status).toBe(404);
});

test('staff are not shown it, and nobody who is not signed in', async () => {
  expect((await server.ask('GET', '/api/networks', { as: 'staff' })).status).toBe(403);
  expect((await server.ask('GET', '/api/networks')).status).toBe(401);
});

test('a server is added, changed, refused where it cannot stand, and removed; each is in the record', async () => {
  const vpn = { id: 'vpn', name: 'VPN server', kind: 'vpn', in: 'internet', address: '198.51.100.31' };
  const put = (version: number | null, object: object) =>
    server.ask('PUT', '/api/objects/server/vpn', { as, body: { version, object } });
  expect((await put(null, vpn)).status).toBe(200);
  const stored = (await server.ask('GET', '/api/objects/server/vpn', { as })).body as { version: number };
  const wrong = await put(stored.version, { ...vpn, in: 'harbour/attic' });
  expect([wrong.status, wrong.body.faults[0].message]).toEqual([
    400,
    expect.stringContaining('there is no network "harbour/attic"'),
  ]);
  expect((await put(stored.version, { ...vpn, address: '198.51.100.999' })).status).toBe(400);
  expect((await put(stored.version, { ...vpn, in: 'harbour/office', address: '10.0.0.20' })).status).toBe(
    200,
  );
  expect((await page()).servers.find(({ id }) => id === 'vpn')).toMatchObject({ in: 'harbour/office' });
  // A site keeps the box that a server stands behind.
  const site = (await server.ask('GET', '/api/objects/site/harbour', { as })).body as {
    version: number;
    object: Record<string, unknown>;
  };
  const { network: _network, ...bare } = site.object;
  const taken = await server.ask('PUT', '/api/objects/site/harbour', {
    as,
    body: { version: site.version, object: bare },
  });
  expect([taken.status, taken.body.faults.length > 0]).toEqual([400, true]);
  expect((await server.ask('DELETE', '/api/objects/server/vpn', { as })).status).toBe(204);
  const record = JSON.stringify((await server.ask('GET', '/api/record', { as })).body);
  expect(record).toContain('VPN server');
});

test('the way of a phone and of a softphone is kept as it is set, and a site that is not there is refused', async () => {
  const { object, version } = (await server.ask('GET', '/api/objects/device/phone-ruth-desk', { as })).body;
  const device = { ...object, natMethod: 'border-controller', path: { transport: 'tls', keepAliveS: 25 } };
  const put = await server.ask('PUT', '/api/objects/device/phone-ruth-desk', {
    as,
    body: { version, object: device },
  });
  expect(put.status).toBe(200);
  expect((await page()).devices.find(({ id }) => id === 'phone-ruth-desk')?.path).toEqual({
    transport: 'tls',
    keepAliveS: 25,
  });
  const { person, version: of } = (await server.ask('GET', '/api/people/priya', { as })).body;
  const withPath = (path: object) => ({
    ...person,
    endpoints: person.endpoints.map((each: { id: string }) =>
      each.id === 'priya-app' ? { ...each, path } : each,
    ),
  });
  const bad = await server.ask('PUT', '/api/people/priya', {
    as,
    body: { version: of, person: withPath({ site: 'nowhere' }) },
  });
  expect(bad.status).toBe(400);
  expect(JSON.stringify(bad.body.faults)).toContain('path.site');
  const good = await server.ask('PUT', '/api/people/priya', {
    as,
    body: { version: of, person: withPath({ site: 'home-priya', method: 'turn', turnTransport: 'tls' }) },
  });
  expect(good.status).toBe(200);
});

test('every setting of a box comes back as it was put, and may be put again', async () => {
  const box = {
    id: 'router',
    name: 'Router',
    in: 'internet',
    inside: '192.168.7.1',
    outside: '203.0.113.77',
    nat: true,
    mapping: 'address-dependent',
    filtering: 'endpoint-independent',
    portPreserving: false,
    hairpin: true,
    udpTimeoutS: 31,
    tcpTimeoutS: 600,
    inboundRefreshes: false,
    sharesPorts: true,
    udpStreamTimeoutS: 120,
    sipHelper: 'breaks-sdp',
    blocked: ['udp:10000-20000'],
    forwards: [{ proto: 'tcp', ports: '5060-5061', to: '192.168.7.20' }],
  };
  for (const _twice of [1, 2]) {
    const { object, version } = (await server.ask('GET', '/api/objects/site/yard', { as })).body;
    const put = await server.ask('PUT', '/api/objects/site/yard', {
      as,
      body: { version, object: { ...object, network: { boxes: [box] } } },
    });
    expect([put.status, put.body.faults]).toEqual([200, undefined]);
    const yard = (await page()).sites.find(({ id }) => id === 'yard');
    expect(yard?.network?.boxes).toEqual([box]);
  }
});

test('of two phone systems that are added at the same time one is refused; thirty-two who look are all answered', async () => {
  const vpn = (id: string, address: string) => ({ id, name: id, kind: 'vpn', in: 'internet', address });
  const put = (id: string, address: string) =>
    server.ask('PUT', `/api/objects/server/${id}`, { as, body: { version: null, object: vpn(id, address) } });
  const [answers, looks] = await Promise.all([
    Promise.all([put('one', '198.51.100.61'), put('other', '198.51.100.62')]),
    Promise.all(Array.from({ length: 32 }, () => server.ask('GET', '/api/networks', { as }))),
  ]);
  expect(answers.map(({ status }) => status).sort()).toEqual([200, 400]);
  expect(looks.every(({ status }) => status === 200)).toBe(true);
  expect((await page()).servers.filter(({ kind }) => kind === 'vpn')).toHaveLength(1);
});

test('a network of megabytes is refused before it is looked at', async () => {
  const { object, version } = (await server.ask('GET', '/api/objects/site/yard', { as })).body;
  const boxes = Array.from({ length: 40_000 }, (_, n) => ({
    id: `b${n}`,
    name: 'Router',
    in: 'internet',
    inside: '192.168.7.1',
    outside: '203.0.113.77',
  }));
  const put = await server.ask('PUT', '/api/objects/site/yard', {
    as,
    body: { version, object: { ...object, network: { boxes } } },
  });
  expect([400, 413]).toContain(put.status);
});

/** What a screen asks to be tried of one phone of a site. */
async function askedOf(site: string, id: string): Promise<WayAsked> {
  const of = networkOf(await page(), site);
  if (typeof of === 'string') throw new Error(of);
  return { network: networkAround(of, id), phone: id };
}
const tries = (body: object, who: Parameters<TestServer['ask']>[2] = { as }) =>
  server.ask('POST', '/api/networks/try', { ...who, body });

test('what cannot be tried is refused in words, and what is no network with each fault and its place', async () => {
  const relayed = await tries(await askedOf('north-landing', 'device:phone-gita-yarrow-desk'));
  expect([relayed.status, relayed.body.message]).toEqual([409, expect.stringContaining('branch relay')]);
  const ruth = await askedOf('home-ruth', 'device:phone-ruth-desk');
  const gone = await tries({ ...ruth, phone: 'device:nobody' });
  expect([gone.status, gone.body.message]).toEqual([409, expect.stringContaining('not in the network')]);
  const [box, ...others] = ruth.network.boxes;
  const looped = await tries({
    ...ruth,
    network: { ...ruth.network, boxes: [{ ...box, in: box?.id }, ...others] },
  });
  expect([looped.status, looped.body.faults[0].path]).toEqual([
    400,
    expect.stringMatching(/^network\.boxes/),
  ]);
  const many = Array.from({ length: 10_000 }, (_each, n) => ({ ...box, id: `b${n}` }));
  expect((await tries({ ...ruth, network: { ...ruth.network, boxes: many } })).status).toBe(413);
  expect((await tries({ phone: 'device:phone-ruth-desk' })).status).toBe(400);
});

test('without stand-ins nothing is tried, and staff may not ask', async () => {
  const ruth = await askedOf('home-ruth', 'device:phone-ruth-desk');
  expect((await tries(ruth)).status).toBe(503);
  expect((await tries(ruth, { as: 'staff' })).status).toBe(403);
});
