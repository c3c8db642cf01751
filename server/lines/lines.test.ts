import type { LineCheck, LineMeasured, LineTools } from '../../api/lines';
import { noSwitchboard } from '../switchboard/switchboard';
import { testServer, type TestServer } from '../test';

let server: TestServer;
let nowMs = Date.parse('2026-11-25T18:00:00Z');
beforeAll(async () => {
  server = await testServer(
    undefined,
    () => ({
      ...noSwitchboard,
      relay: () => ({
        host: '127.0.0.1',
        port: 3478,
        tlsPort: 5349,
        secret: 'a secret of the test',
        stun: [{ host: '127.0.0.1', port: 3478 }],
      }),
    }),
    () => new Date(nowMs),
  );
});
afterAll(() => server.stop());
beforeEach(() => {
  nowMs += 60_000;
});

const MEASURED: LineMeasured = {
  by: 'udp',
  figures: {
    delayMs: 31.5,
    jitterMs: 4.2,
    lossPercent: 0.4,
    burst: 1.5,
    sent: 1000,
    received: 992,
    seconds: [{ delayMs: 31, worstMs: 60, sent: 50, lost: 1 }],
  },
  mapping: 'same',
  outside: '203.0.113.77',
};
const send = (body: object) => server.ask('POST', '/api/me/lines', { as: 'staff', body });
const line = (more: Partial<LineMeasured> = {}, where: object = { site: null, place: 'The cabin' }) =>
  send({ ...where, measured: { ...MEASURED, ...more } });
const lines = async () =>
  (await server.ask('GET', '/api/me/lines', { as: 'staff' })).body as {
    lines: LineCheck[];
    sites: { id: string }[];
  };

test('what a browser measures with holds for minutes, and is told to whom it belongs alone', async () => {
  const tools = (await server.ask('POST', '/api/me/lines/begin', { as: 'staff', body: {} }))
    .body as LineTools;
  expect(tools).toMatchObject({
    relays: {
      udp: ['turn:127.0.0.1:3478?transport=udp'],
      tcp: ['turn:127.0.0.1:3478?transport=tcp'],
      tls: ['turns:127.0.0.1:5349?transport=tcp'],
    },
    stun: ['stun:127.0.0.1:3478'],
    username: expect.stringMatching(/^\d+:ines$/),
  });
  expect(JSON.stringify(tools)).not.toContain('secret of the test');
  expect((await server.ask('POST', '/api/me/lines/begin', { as: 'specialist', body: {} })).status).toBe(403);
});

test('a line is kept with its place, shown to its person and to the specialist', async () => {
  expect((await line()).status).toBe(200);
  expect((await lines()).lines[0]).toMatchObject({
    place: 'The cabin',
    name: expect.any(String),
    ...MEASURED,
  });
  const seen = (await server.ask('GET', '/api/lines?person=ines', { as: 'specialist' })).body as {
    lines: LineCheck[];
  };
  expect(seen.lines[0]).toMatchObject({ person: 'ines', by: 'udp' });
  expect((await server.ask('GET', '/api/lines?person=ines', { as: 'staff' })).status).toBe(403);
  expect((await server.ask('GET', '/api/lines', { as: 'specialist' })).status).toBe(400);
});

test('at a site only where one has a phone; then it stands with the site', async () => {
  const [site] = (await lines()).sites;
  expect((await line({}, { site: 'nowhere', place: null })).body.faults[0].path).toBe('site');
  if (!site) throw new Error('they have no phone at a site');
  expect((await line({}, { site: site.id, place: null })).status).toBe(200);
  const kept = (await server.ask('GET', `/api/lines?site=${site.id}`, { as: 'specialist' })).body;
  expect(kept.lines[0]).toMatchObject({ site: site.id });
});

test('a private address is not kept, nor one of this machine', async () => {
  for (const outside of ['192.168.1.20', '127.0.0.1', '100.70.1.1', 'nonsense']) {
    nowMs += 60_000;
    expect((await line({ outside })).status).toBe(200);
    expect((await lines()).lines[0]?.outside).toBeNull();
  }
});

test('of thirty at once one is kept; of very many the last twenty', async () => {
  const answers = await Promise.all(Array.from({ length: 30 }, () => line()));
  const count = (status: number) => answers.filter((each) => each.status === status).length;
  expect([count(200), count(429)]).toEqual([1, 29]);
  for (let i = 0; i < 22; i += 1) {
    nowMs += 60_000;
    expect((await line({}, { site: null, place: `place ${i}` })).status).toBe(200);
  }
  const [[{ n }]] = (await server.db.query('SELECT COUNT(*) AS n FROM line_check')) as unknown as [
    [{ n: number }],
  ];
  expect([Number(n), (await lines()).lines[0]?.place]).toEqual([20, 'place 21']);
});

test.each([
  ['measured.figures', { ...MEASURED, figures: null }],
  ['measured.figures', { ...MEASURED, by: null }],
  ['measured.by', { ...MEASURED, by: 'smoke' }],
  ['measured.figures.lossPercent', { ...MEASURED, figures: { ...MEASURED.figures, lossPercent: 101 } }],
  ['measured.figures.delayMs', { ...MEASURED, figures: { ...MEASURED.figures, delayMs: null } }],
  ['measured.figures.received', { ...MEASURED, figures: { ...MEASURED.figures, received: 1001 } }],
  [
    'measured.figures.seconds',
    { ...MEASURED, figures: { ...MEASURED.figures, seconds: Array(41).fill(MEASURED.figures?.seconds[0]) } },
  ],
  ['measured.colour', { ...MEASURED, colour: 'red' }],
])('%s that cannot be is told at its path, and nothing is kept', async (path, measured) => {
  const before = (await lines()).lines.length;
  const answer = await send({ site: null, place: null, measured });
  expect([answer.status, answer.body.faults[0].path]).toEqual([400, path]);
  expect((await lines()).lines).toHaveLength(before);
});

test('a line on which nothing passed is kept as that', async () => {
  expect((await line({ by: null, figures: null, mapping: null, outside: null })).status).toBe(200);
  expect((await lines()).lines[0]).toMatchObject({ by: null, figures: null });
});

test('without a relay it is said', async () => {
  const bare = await testServer();
  expect((await bare.ask('POST', '/api/me/lines/begin', { as: 'staff', body: {} })).status).toBe(503);
  await bare.stop();
});
