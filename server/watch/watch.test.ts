import { hostname } from 'node:os';
import type { StatsFs } from 'node:fs';
import type { ServerPage, ServerRun } from '../../api/server';
import { testServer, type TestServer } from '../test';
import { certificateAlerts, clockAlert, diskAlert, jobAlerts, serverAlerts } from './alerts';
import { openMetrics } from './metrics';
import { beginRun, readRuns } from './runs';

let server: TestServer;
beforeAll(async () => {
  server = await testServer();
});
afterAll(() => server.stop());

describe('metrics', () => {
  const samples = async (headers: Record<string, string> = {}) => {
    const answer = await server.ask('GET', '/api/metrics', { as: 'specialist', headers });
    expect(answer.status).toBe(200);
    expect(answer.headers.get('content-type')).toMatch(/^text\/plain;.* version=0\.0\.4$/);
    return new Map(
      answer.text
        .split('\n')
        .filter((line) => line !== '' && !line.startsWith('#'))
        .map((line) => [line.slice(0, line.lastIndexOf(' ')), Number(line.slice(line.lastIndexOf(' ') + 1))]),
    );
  };

  // First: the question for work is asked no oftener than every few seconds.
  test('work is counted by kind and state', async () => {
    const { body: slate } = await server.ask('POST', '/api/slates', {
      as: 'specialist',
      body: { name: 'Later' },
    });
    await server.db.query("UPDATE slate SET state = 'held', held_why = 'drills fail' WHERE id = ?", [
      slate.id,
    ]);
    expect((await samples()).get('hostler_jobs{kind="slate",state="failed"}')).toBe(1);
    const { body } = await server.ask('GET', '/api/server', { as: 'manager' });
    expect((body as ServerPage).alerts).toContainEqual({
      kind: 'job',
      weight: 'fault',
      says: 'The slate “Later” was held back when it was due.',
      href: `/slates/${slate.id}`,
    });
    await server.db.query('DELETE FROM slate WHERE id = ?', [slate.id]);
  });

  test('requests are counted by the pattern of their route, never by what was asked', async () => {
    const key = 'hostler_http_requests_total{method="GET",route="/api/people/:id",status="200"}';
    const before = (await samples()).get(key) ?? 0;
    for (const id of ['ines', 'ruth', 'mateo'])
      await server.ask('GET', `/api/people/${id}`, { as: 'specialist' });
    await server.ask('GET', '/api/people/none-such', { as: 'specialist' });
    await server.ask('GET', '/api/none-such-path');
    const after = await samples();
    expect(after.get(key)).toBe(before + 3);
    expect(after.get(key.replace('200', '404'))).toBe(1);
    expect([...after.keys()].filter((each) => each.includes('none-such') || each.includes('ines'))).toEqual(
      [],
    );
    expect(
      after.get('hostler_http_request_duration_seconds_count{method="GET",route="/api/people/:id"}'),
    ).toBe(before + 4);
    expect(after.get('hostler_database_up')).toBe(1);
    expect(after.get('hostler_database_connections')).toBeGreaterThan(0);
    // The one that asks.
    expect(after.get('hostler_http_requests_in_progress')).toBe(1);
  });

  test('a page that follows what happens is a stream, and no work', async () => {
    const leave = new AbortController();
    const stream = await fetch(`${server.url}/api/phones/events`, {
      headers: { Cookie: server.cookies.specialist },
      signal: leave.signal,
    });
    expect(stream.headers.get('content-type')).toContain('text/event-stream');
    const now = await samples();
    leave.abort();
    expect([now.get('hostler_event_streams'), now.get('hostler_http_requests_in_progress')]).toEqual([1, 1]);
    expect([...now.keys()].filter((key) => key.includes('/events"'))).toEqual([]);
  });

  test.each(['help-desk', 'manager', 'staff', undefined] as const)('%s does not get them', async (as) => {
    expect((await server.ask('GET', '/api/metrics', as ? { as } : {})).status).toBe(401);
  });

  test('a word opens them where one is set, and only that word', () => {
    const services = {} as Parameters<typeof openMetrics>[0];
    const { mayAsk } = openMetrics(services, 'the word');
    expect([
      mayAsk('Bearer the word'),
      mayAsk('Bearer the wor'),
      mayAsk('the word'),
      mayAsk(undefined),
    ]).toEqual([true, false, false, false]);
    expect(openMetrics(services, undefined).mayAsk('Bearer ')).toBe(false);
    expect(openMetrics(services, '').mayAsk('Bearer ')).toBe(false);
  });
});

test('each request has a name; a proxy’s is taken where it is one', async () => {
  const name = async (given?: string) =>
    (
      await server.ask('GET', '/api/people', {
        as: 'specialist',
        ...(given === undefined ? {} : { headers: { 'X-Request-Id': given } }),
      })
    ).headers.get('x-request-id');
  expect(await name('proxy-0001.a')).toBe('proxy-0001.a');
  expect(await name('{"level":50}')).toMatch(/^[\w-]{12}$/);
  expect(await name()).toMatch(/^[\w-]{12}$/);
  expect(await name()).not.toBe(await name());
});

test('live and ready', async () => {
  expect((await server.ask('GET', '/api/health/live')).body).toEqual({ live: true });
  expect(await server.ask('GET', '/api/health/ready')).toMatchObject({
    status: 200,
    body: { ready: true, why: null },
  });
});

test('servers are told of: running, ended with a word, and lost without one', async () => {
  const [a, b] = [await beginRun(server.db, 4001, '1.0'), await beginRun(server.db, 4002, '1.1')];
  await a.end();
  const now = await readRuns(server.db, b.id);
  expect(now.map(({ id, state, isThis, version }) => [id, state, isThis, version])).toEqual([
    [b.id, 'running', true, '1.1'],
    [a.id, 'ended', false, '1.0'],
  ]);
  await b.end();
  await server.db.query(
    'UPDATE server_run SET ended_at = NULL, seen_at = UTC_TIMESTAMP(3) - INTERVAL 3 MINUTE WHERE id = ?',
    [b.id],
  );
  const [lost] = (await readRuns(server.db, null)).filter(({ id }) => id === b.id);
  expect(lost).toMatchObject({ state: 'lost', host: hostname() });
  const { body } = await server.ask('GET', '/api/server', { as: 'specialist' });
  expect((body as ServerPage).alerts.map(({ kind }) => kind)).toEqual(['server']);
  const again = await beginRun(server.db, 4002, '1.1');
  expect((await server.ask('GET', '/api/server', { as: 'specialist' })).body.alerts).toEqual([]);
  await again.end();
});

const disk = (free: number) => () =>
  Promise.resolve({ bavail: free * 1e6, blocks: 1e6, bsize: 4096 } as unknown as StatsFs);
const run = (over: Partial<ServerRun>): ServerRun => ({
  id: 1,
  host: 'a',
  pid: 1,
  port: 1,
  version: '',
  startedAt: '2026-11-30T00:00:00.000Z',
  seenAt: '2026-11-30T01:00:00.000Z',
  state: 'lost',
  isThis: false,
  ...over,
});

test.each([
  [0.5, null],
  [0.09, 'risk'],
  [0.01, 'fault'],
])('a disk with %d free', async (free, weight) => {
  expect((await diskAlert('/tmp/none/such', disk(free) as never))?.weight ?? null).toBe(weight);
});

test.each([
  [100, []],
  [20, ['risk: The certificate authority “Ours” runs out in 20 days.']],
  [1, ['risk: The certificate authority “Ours” runs out within a day.']],
  [-1, ['fault: The certificate authority “Ours” has run out.']],
])('a certificate that ends in %d days', (days, says) => {
  const now = Date.parse('2026-11-30T00:00:00Z');
  const until = new Date(now + days * 86_400_000).toISOString();
  expect(
    certificateAlerts(null, [{ id: 1, name: 'Ours', fingerprint: '', until, isOurs: false }], now).map(
      ({ weight, says: text }) => `${weight}: ${text}`,
    ),
  ).toEqual(says);
});

test.each([
  ['one that is lost', [run({})], 1],
  ['one that was started anew there', [run({}), run({ id: 2, state: 'running' })], 0],
  ['one on another machine goes on', [run({}), run({ id: 2, host: 'b', state: 'running' })], 1],
  ['one that ended', [run({ state: 'ended' })], 0],
])('of servers %s is told', (_what, runs, count) => {
  expect(serverAlerts(runs, Date.parse('2026-11-30T02:00:00Z'))).toHaveLength(count);
  // After a day everybody knows.
  expect(serverAlerts(runs, Date.parse('2026-12-02T02:00:00Z'))).toHaveLength(0);
});

test('a clock that is an hour off is told, one that is a second off is not', () => {
  expect([clockAlert(3_600_000)?.says, clockAlert(-3_600_000)?.kind, clockAlert(1000)]).toEqual([
    expect.stringContaining('differ by 3600 s'),
    'clock',
    null,
  ]);
});

test('work that goes on is no alert', () => {
  const job = { kind: 'round', name: 'r', done: null, total: null, at: null, href: '/' } as const;
  expect(
    jobAlerts([
      { ...job, state: 'under-way' },
      { ...job, state: 'waits' },
    ]),
  ).toEqual([]);
});
