import { createServer, type AddressInfo, type Socket } from 'node:net';
import { compileEstate } from '../../core/calls/engine';
import { workedEstate } from '../../core/tests/worked';
import { selfSigned } from '../../standins/certificate';
import { clockAt } from '../../standins/sip/clock';
import { openSystem, type PhoneSystem } from '../../standins/system';
import { testServer, type TestServer } from '../test';
import { advised, probe } from './probe';
import { addressFault, addressOf, readRange } from './address';

let server: TestServer;
let system: PhoneSystem;
beforeAll(async () => {
  server = await testServer(workedEstate());
  const index = compileEstate(workedEstate());
  system = await openSystem({
    address: '127.0.45.1',
    port: 0,
    transports: ['udp', 'tcp', 'tls'],
    tls: await selfSigned(),
    estate: () => index,
    account: () => null,
    userOf: (id) => id,
    carrier: null,
    clock: clockAt(),
    at: () => '2026-11-25T10:00:00-07:00',
  });
});
afterAll(async () => {
  await system.close();
  await server.stop();
});
const place = () => {
  const { udp, tls } = system.node.transport.local;
  return { host: udp.host, port: udp.port, tlsPort: tls.port };
};
const listen = (then: (socket: Socket) => void) =>
  new Promise<{ readonly port: number; readonly close: () => void }>((resolve) => {
    const each = createServer(then).listen(0, '127.0.45.9', () =>
      resolve({ port: (each.address() as AddressInfo).port, close: () => each.close() }),
    );
  });

test('each transport of a server is asked, and its certificate looked at', async () => {
  const { host, port, tlsPort } = place();
  const results = await probe(host, port, tlsPort);
  expect(results.map(({ transport, status, trouble }) => [transport, status, trouble])).toEqual([
    ['udp', 200, null],
    ['tcp', 200, null],
    ['tls', 200, null],
  ]);
  expect(results[2]!.certificate).toMatchObject({
    subject: 'Hostler stand-in',
    trouble: expect.stringMatching(/SELF_SIGNED/),
  });
  expect(results[0]!.allow).toContain('REGISTER');
  expect(advised(results)).toBe('tls');
});

test('where nothing listens, something else listens, or it hangs up, it is said so', async () => {
  const other = await listen((socket) => socket.end('HTTP/1.1 400 Bad Request\r\n\r\n'));
  const silent = await listen((socket) => socket.destroy());
  const results = await probe('127.0.45.9', other.port, silent.port);
  expect(results.map(({ trouble }) => trouble)).toEqual([
    'nothing listens there',
    'it answers, but not with SIP',
    expect.stringMatching(/connection was cut|before secure|socket/i),
  ]);
  expect(advised(results)).toBeNull();
  other.close();
  silent.close();
});

test('only addresses on the list are asked, only a specialist puts one on it, and that is recorded', async () => {
  const body = { name: 'Test system', ...place() };
  const range = { name: 'Stand-ins', range: '127.0.45.0/24' };
  expect((await server.ask('POST', '/api/probe-ranges', { as: 'help-desk', body: range })).status).toBe(403);
  expect((await server.ask('POST', '/api/probe-ranges', { as: 'specialist', body: range })).status).toBe(201);
  expect((await server.ask('POST', '/api/probe', { as: 'help-desk', body })).status).toBe(403);
  expect((await server.ask('POST', '/api/probe/1', { as: 'specialist', body: {} })).status).toBe(404);
  const added = await server.ask('POST', '/api/probe', { as: 'specialist', body });
  const [{ id }] = added.body.addresses;
  const asked = await server.ask('POST', `/api/probe/${id}`, { as: 'help-desk', body: {} });
  expect(asked.body).toMatchObject({
    advised: 'tls',
    results: [{ status: 200 }, { status: 200 }, { status: 200 }],
  });
  const record = await server.ask('GET', '/api/record?kind=probe-allowed', { as: 'specialist' });
  expect(record.body.entries[0]).toMatchObject({ who: 'specialist', subject: 'Test system' });
  expect((await server.ask('DELETE', `/api/probe/${id}`, { as: 'specialist' })).status).toBe(204);
  expect((await server.ask('POST', `/api/probe/${id}`, { as: 'specialist', body: {} })).status).toBe(404);
});

test.each([
  [{ host: 'a host' }, 'host'],
  [{ host: '127.0.0.1:5060' }, 'host'],
  [{ port: 0 }, 'port'],
  [{ tlsPort: 70_000 }, 'tlsPort'],
])('an address with %j is refused beside the field', async (more, path) => {
  const body = { name: 'x', host: '127.0.0.1', port: 5060, tlsPort: 5061, ...more };
  const { status, body: answer } = await server.ask('POST', '/api/probe', { as: 'specialist', body });
  expect([status, answer.faults[0].path]).toEqual([400, path]);
});

test('inside addresses are refused until their range is allowed by name; some never are', async () => {
  const at = (address: string, ...allowed: string[]) => addressFault(address, allowed);
  for (const address of [
    '127.0.0.1',
    '10.1.2.3',
    '172.20.0.1',
    '192.168.1.1',
    '100.64.0.1',
    '169.254.169.254',
  ])
    expect([address, at(address)]).toEqual([address, expect.stringContaining('once its range is allowed')]);
  for (const address of ['224.0.0.1', '0.0.0.0', '255.255.255.255', '198.18.0.1'])
    expect(at(address, '127.0.0.0/16')).toContain('it is not asked');
  expect(at('203.0.113.7')).toBeNull();
  expect([at('10.1.2.3', '10.1.0.0/16'), at('10.2.2.3', '10.1.0.0/16')]).toEqual([null, expect.any(String)]);
  expect(['10.0.0.0/8', '8.8.8.0/24', '224.0.0.0/24', 'x', '10.1.0.0/33'].map(readRange)).toEqual(
    Array.from({ length: 5 }, () => null),
  );
  const body = { name: 'Another', ...place(), host: '127.0.99.1' };
  const refused = await server.ask('POST', '/api/probe', { as: 'specialist', body });
  expect([refused.status, refused.body.faults[0].path]).toEqual([400, 'host']);
});

test('a name is looked up once, and what is checked is what is asked', async () => {
  const answers = ['203.0.113.7', '127.0.0.1'];
  let asked = 0;
  const look = () => Promise.resolve(answers[asked++ % 2]!);
  expect(await addressOf('moves.example', [], look)).toEqual({ address: '203.0.113.7' });
  expect(asked).toBe(1);
  expect(await addressOf('moves.example', [], look)).toEqual({
    why: expect.stringContaining('leads to 127.0.0.1'),
  });
});
