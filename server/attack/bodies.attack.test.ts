import { connect, type Socket } from 'node:net';
import { createServer, type Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import { gzipSync } from 'node:zlib';
import { limitServer, HTTP_LIMITS } from '../http/limits';
import { PASSWORD, testServer, type TestServer } from '../test';
import { until } from '../../standins/tests/until';

let server: TestServer;
beforeAll(async () => {
  server = await testServer();
});
afterAll(() => server.stop());

describe('before anybody is known', () => {
  test('what is sent is not read: no size and no packing makes the server work', async () => {
    const large = JSON.stringify({ name: 'x'.repeat(1 << 20) });
    const packed = gzipSync(Buffer.alloc(16 << 20, ' '));
    const answers = await Promise.all([
      server.ask('PUT', '/api/slates/1/entries', {
        body: large,
        headers: { 'Content-Type': 'application/json' },
      }),
      server.ask('PUT', '/api/slates/1/entries', {
        body: packed,
        headers: { 'Content-Type': 'application/json', 'Content-Encoding': 'gzip' },
      }),
      server.ask('POST', '/api/session', { body: large, headers: { 'Content-Type': 'application/json' } }),
      server.ask('POST', '/api/session', {
        body: packed,
        headers: { 'Content-Type': 'application/json', 'Content-Encoding': 'gzip' },
      }),
      server.ask('POST', '/api/session', { body: large, headers: { Origin: 'http://elsewhere.example' } }),
    ]);
    expect(answers.map(({ status }) => status)).toEqual([401, 401, 413, 415, 403]);
  });
  test('what is packed is not taken from anybody', async () => {
    const answer = await server.ask('PUT', '/api/settings', {
      as: 'specialist',
      body: gzipSync('{}'),
      headers: { 'Content-Type': 'application/json', 'Content-Encoding': 'gzip' },
    });
    expect(answer.status).toBe(415);
  });
});

describe('faults', () => {
  test('however many there are, twenty are told', async () => {
    const many = Object.fromEntries(Array.from({ length: 3000 }, (_, n) => [`k${n}`, 1]));
    const unknown = await server.ask('PUT', '/api/settings', { as: 'specialist', body: many });
    const { person, version } = (await server.ask('GET', '/api/people/ines', { as: 'specialist' })).body;
    const wrong = await server.ask('PUT', '/api/people/ines', {
      as: 'specialist',
      body: { version, person: { ...person, endpoints: Array.from({ length: 500 }, () => ({ a: 1 })) } },
    });
    for (const { status, body, text } of [unknown, wrong]) {
      expect([status, body.faults.length]).toEqual([400, 20]);
      expect(text.length).toBeLessThan(20_000);
    }
  });
  test('a body of too many parts, or nested too deep, is refused as a whole', async () => {
    const parts = await server.ask('POST', '/api/tries', {
      as: 'manager',
      body: { call: Array(5000).fill(0) },
    });
    const deep = `${'['.repeat(500)}${']'.repeat(500)}`;
    const nested = await server.ask('POST', '/api/tries', {
      as: 'manager',
      body: deep,
      headers: { 'Content-Type': 'application/json' },
    });
    expect([parts.status, nested.status]).toEqual([413, 413]);
  });
  test('text that is no well-formed Unicode is refused at the border', async () => {
    for (const name of ['\\ud800', 'a\\u0000b'])
      expect(
        (
          await server.ask('POST', '/api/slates', {
            as: 'specialist',
            body: `{"name":"${name}"}`,
            headers: { 'Content-Type': 'application/json' },
          })
        ).status,
      ).toBe(400);
  });
  test('a parameter that is given twice is refused', async () => {
    expect((await server.ask('GET', '/api/record?kind=a&kind=b', { as: 'specialist' })).status).toBe(400);
  });
});

describe('health', () => {
  test('is answered while bodies, sign-ins and scripts come in', async () => {
    const busy: Promise<unknown>[] = [];
    for (let n = 0; n < 30; n += 1)
      busy.push(
        server.ask('POST', '/api/session', { body: { name: `nobody${n}`, password: 'x' } }),
        server.ask('POST', '/api/people/ines/script', {
          as: 'specialist',
          body: { script: '<!--'.repeat(40_000) },
        }),
        server.ask('GET', '/api/people', { as: 'manager' }),
      );
    const order: string[] = [];
    const all = Promise.all(busy).then(() => order.push('all'));
    for (let n = 0; n < 10; n += 1) {
      expect((await server.ask('GET', '/api/health')).status).toBe(200);
      order.push('health');
    }
    await all;
    // Whoever asks is answered long before what is worked on is through.
    expect(order.slice(0, 5)).toEqual(Array(5).fill('health'));
  });
  test('a flood of sign-ins is put off early, and static answers go on', async () => {
    const statuses = (
      await Promise.all(
        Array.from({ length: 120 }, (_, n) =>
          server.ask('POST', '/api/session', { body: { name: 'manager', password: `wrong ${n}` } }),
        ),
      )
    ).map(({ status }) => status);
    expect(statuses.every((status) => [401, 429, 503].includes(status))).toBe(true);
    expect(statuses.filter((status) => status === 401).length).toBeLessThanOrEqual(5);
  });
});

describe('connections', () => {
  let own: Server;
  let port = 0;
  const silent = { warn: () => undefined };
  beforeAll(async () => {
    own = createServer(
      { ...HTTP_LIMITS, headersTimeout: 200, connectionsCheckingInterval: 50 },
      (_request, response) => response.end('here'),
    );
    limitServer(own, silent, { altogether: 40, perSource: 10 });
    await new Promise<void>((ready) => own.listen(0, '0.0.0.0', ready));
    port = (own.address() as AddressInfo).port;
  });
  afterAll(() => new Promise((done) => own.close(done)));

  const open = (from: string): Promise<Socket & { ended: Promise<void> }> =>
    new Promise((resolve) => {
      // Half open: this end never closes its side.
      const socket = connect({
        port,
        host: '127.0.0.1',
        localAddress: from,
        allowHalfOpen: true,
      }) as Socket & {
        ended: Promise<void>;
      };
      socket.ended = new Promise<void>((done) => socket.once('close', () => done()));
      socket.on('error', () => undefined);
      socket.resume();
      socket.once('connect', () => resolve(socket));
    });
  const count = () => new Promise<number>((done) => own.getConnections((_error, n) => done(n)));

  test('silent ones whose peer ignores the end are let go all the same, and one source cannot take all places', async () => {
    const held = await Promise.all(Array.from({ length: 30 }, () => open('127.0.60.1')));
    const answer = await new Promise<string>((resolve) => {
      const socket = connect({ port, host: '127.0.0.1', localAddress: '127.0.60.2' }, () =>
        socket.write('GET / HTTP/1.1\r\nHost: x\r\nConnection: close\r\n\r\n'),
      );
      let got = '';
      socket.on('data', (data) => (got += data.toString()));
      socket.on('close', () => resolve(got));
    });
    expect(answer).toContain('here');
    // Not by their own doing: the server lets go of them.
    await until(async () => (await count()) === 0, 100_000);
    for (const each of held) each.destroy();
  });
});

test('the password in all of this was never taken for a wrong one', async () => {
  const cookie = await server.ask('POST', '/api/session', {
    body: { name: 'help-desk', password: PASSWORD },
  });
  expect([200, 429]).toContain(cookie.status);
});
