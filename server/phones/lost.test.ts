import pino from 'pino';
import { workedEstate } from '../../core/tests/worked';
import { ask, udpWire } from '../../standins/tests/wire';
import { openCollector, type Collector } from '../collected';
import { openSwitchboard } from '../switchboard/switchboard';
import { testServer, type TestServer } from '../test';
import { until } from '../../standins/tests/until';

let server: TestServer;
let collector: Collector;
beforeAll(async () => {
  process.env.HOSTLER_SIP_PORT = '0';
  const log = pino({ level: 'silent' });
  server = await testServer(workedEstate(), (services) => {
    collector = openCollector({ db: services.db, keeper: services.keeper, log });
    return openSwitchboard({ ...services, log, collect: collector });
  });
});
afterAll(async () => {
  await collector.close();
  await server.stop();
});

const phones = async () => (await server.ask('GET', '/api/phones', { as: 'specialist' })).body;

test('names that somebody made up do not become phones that were lost', async () => {
  const place = await until(async () => {
    const body = await phones();
    return body.registrations.length > 0 && (body.place as { address: string; udp: number });
  });
  const wire = await udpWire({ transport: 'udp', host: place.address, port: place.udp }, '127.0.48.66');
  const known = 'ines-desk';
  const register = async (user: string, seq: number) => {
    const uri = `sip:${place.address}`;
    const headers = [['Contact', `<sip:${user}@127.0.48.66:9>`] as const];
    const whole = { callId: `c-${user}`, from: `<sip:${user}@x>;tag=1`, to: `<sip:${user}@x>` };
    wire.send(ask('REGISTER', uri, { ...whole, seq, headers }));
    const [, nonce = ''] = /nonce="([^"]+)"/.exec(await wire.next()) ?? [];
    const digest = `Digest username="${user}", realm="hostler", nonce="${nonce}", uri="${uri}", response="${'0'.repeat(32)}"`;
    wire.send(
      ask('REGISTER', uri, { ...whole, seq: seq + 1, headers: [...headers, ['Authorization', digest]] }),
    );
    return wire.answer();
  };
  for (let n = 0; n < 60; n += 1) expect((await register(`made-up-${n}`, 1)).status).toBe(403);
  const before = await phones();
  expect(before.lost.filter(({ user }: { user: string }) => user.startsWith('made-up'))).toEqual([]);
  // One that there is, and is not registered from elsewhere, is told of.
  expect((await register(known, 1)).status).toBe(403);
  wire.close();
});

test('each phone that registers is noted once, however often it refreshes', async () => {
  await collector.flush();
  const history = async (endpoint: string) =>
    (await server.ask('GET', `/api/phones/${endpoint}/registrations`, { as: 'help-desk' })).body.changes as {
      state: string;
    }[];
  const registered = (await phones()).registrations as { endpoint: string }[];
  const first = registered[0]!.endpoint;
  expect((await history(first)).map(({ state }) => state)).toEqual(['registered']);
  expect(await history('no-such-phone')).toEqual([]);
  expect((await server.ask('GET', `/api/phones/${first}/registrations`, { as: 'staff' })).status).toBe(403);
});
