import { createHash } from 'node:crypto';
import { createServer, type IncomingMessage, type Server, type ServerResponse } from 'node:http';
import type { AddressInfo } from 'node:net';
import { writeSettingsJson, writeSettingsXml, type PhoneSettings } from '../../core/devices/provisioning';
import { setItselfUp, type ProvisioningOrder } from './provisioning';

const ADDRESS = '02F0AA000001';
const IMAGE = Buffer.from('a made-up image');
const LOAD = {
  version: '3.5.0',
  path: '/provisioning/firmware/gannet-20/3.5.0',
  bytes: IMAGE.length,
  sha256: createHash('sha256').update(IMAGE).digest('hex'),
};
const settings = (more: Partial<PhoneSettings> = {}): PhoneSettings => ({
  format: 'hostler-phone/1',
  macAddress: '02:F0:AA:00:00:01',
  model: 'gannet-20',
  name: 'Yard',
  serial: 'abc',
  accounts: [
    {
      line: 1,
      label: '4101',
      user: 'ines-desk',
      password: 'secret',
      realm: 'hostler',
      server: '127.0.0.1',
      port: 5060,
      transport: 'udp',
      expiresS: 30,
    },
  ],
  keys: [],
  again: { token: 'a token', everyS: 3600 },
  firmware: { least: '3.4.0' },
  restart: false,
  ...more,
});

/** A service that answers as a test wants, and what it was asked. */
interface Fake {
  readonly url: string;
  readonly asked: {
    readonly line: string;
    readonly authorization: string | undefined;
    readonly from: string;
  }[];
  answer: (request: IncomingMessage, response: ServerResponse) => void;
}
let server: Server;
let fake: Fake;
beforeEach(async () => {
  const asked: Fake['asked'] = [];
  server = createServer((request, response) => {
    asked.push({
      line: `${request.method} ${request.url}`,
      authorization: request.headers.authorization,
      from: request.socket.remoteAddress ?? '',
    });
    fake.answer(request, response);
  });
  await new Promise<void>((done) => server.listen(0, '127.0.0.1', done));
  fake = {
    url: `http://127.0.0.1:${(server.address() as AddressInfo).port}`,
    asked,
    answer: (_request, response) => response.end(writeSettingsJson(settings())),
  };
});
afterEach(() => {
  server.closeAllConnections();
  server.close();
});

const order = (more: Partial<ProvisioningOrder> = {}): ProvisioningOrder => ({
  endpoint: 'ines-desk',
  macAddress: ADDRESS,
  model: 'gannet-20',
  firmware: '3.4.0',
  form: 'json',
  url: fake.url,
  ...more,
});
const stop = new AbortController();
const run = (given: ProvisioningOrder, onStep?: (says: string) => void) =>
  setItselfUp(given, { from: '127.0.51.77', signal: stop.signal, ...(onStep ? { onStep } : {}) });
const basic = (secret: string) => `Basic ${Buffer.from(`${ADDRESS}:${secret}`).toString('base64')}`;

test('it asks from its own address, shows nothing before it is asked to, then what was typed', async () => {
  fake.answer = (request, response) => {
    if (request.headers.authorization === basic('CODE')) response.end(writeSettingsJson(settings()));
    else response.writeHead(401, { 'WWW-Authenticate': 'Basic realm="x"' }).end('Prove who you are for.\n');
  };
  expect(await run(order({ typed: 'CODE' }))).toMatchObject({ ok: true, firmware: '3.4.0' });
  expect(fake.asked.map(({ authorization }) => authorization)).toEqual([undefined, basic('CODE')]);
  expect(new Set(fake.asked.map(({ from }) => from))).toEqual(new Set(['127.0.51.77']));
  expect(fake.asked[0]!.line).toBe(`GET /provisioning/${ADDRESS}.json?model=gannet-20&firmware=3.4.0`);
  expect(await run(order())).toEqual({ ok: false, why: 'Prove who you are for.' });
  expect(await run(order({ typed: 'WRONG' }))).toMatchObject({ ok: false });
});

test('one that was set up before asks again with its token only', async () => {
  await run(order({ settings: settings(), typed: 'CODE' }));
  expect(fake.asked.map(({ authorization }) => authorization)).toEqual(['Bearer a token']);
});

test('XML is read as JSON is, and a restart is told of', async () => {
  fake.answer = (_request, response) => response.end(writeSettingsXml(settings({ restart: true })));
  const steps: string[] = [];
  expect(await run(order({ form: 'xml' }), (says) => steps.push(says))).toMatchObject({
    ok: true,
    settings: { serial: 'abc' },
  });
  expect(steps).toEqual(['restarts']);
  expect(fake.asked.at(-1)).toMatchObject({
    line: `POST /provisioning/${ADDRESS}/did`,
    authorization: 'Bearer a token',
  });
});

describe('old firmware', () => {
  const old = settings({ accounts: [], firmware: { least: '3.4.0', load: LOAD } });
  const answering =
    (image: Buffer): Fake['answer'] =>
    (request, response) => {
      const { url = '' } = request;
      if (url.startsWith('/provisioning/firmware')) response.end(image);
      else if (request.method === 'POST') response.end('Noted.\n');
      else response.end(writeSettingsJson(url.includes('firmware=3.5.0') ? settings() : old));
    };

  test('is loaded, verified, and then asked with', async () => {
    fake.answer = answering(IMAGE);
    expect(await run(order({ firmware: '3.1.0' }))).toMatchObject({ ok: true, firmware: '3.5.0' });
    expect(fake.asked.map(({ line }) => line.split('?')[0])).toEqual([
      `GET /provisioning/${ADDRESS}.json`,
      `POST /provisioning/${ADDRESS}/did`,
      `GET ${LOAD.path}`,
      `GET /provisioning/${ADDRESS}.json`,
    ]);
  });

  test('an image that is not what it should be is not taken', async () => {
    fake.answer = answering(Buffer.from('b made-up image'));
    expect(await run(order({ firmware: '3.1.0' }))).toEqual({
      ok: false,
      why: 'the firmware file 3.5.0 is not what it should be',
    });
  });

  test('nothing to load, and being told to load for ever, end', async () => {
    fake.answer = (_request, response) =>
      response.end(writeSettingsJson(settings({ accounts: [], firmware: { least: '3.4.0' } })));
    expect(await run(order({ firmware: '3.1.0' }))).toEqual({ ok: false, why: 'needs firmware 3.4.0' });
    fake.answer = (request, response) =>
      request.url?.startsWith('/provisioning/firmware')
        ? response.end(IMAGE)
        : response.end(writeSettingsJson(old));
    expect(await run(order({ firmware: '3.1.0' }))).toMatchObject({
      why: 'it is told again and again to load firmware',
    });
  });
});

test('what cannot be read, a service that is not there, and being stopped are told', async () => {
  fake.answer = (_request, response) => response.end('{"format":"other"}');
  expect(await run(order())).toMatchObject({ ok: false, why: expect.stringContaining('cannot be read') });
  expect(await run(order({ url: 'http://127.0.0.1:9' }))).toMatchObject({ ok: false });
  const halt = new AbortController();
  fake.answer = () => halt.abort();
  expect(await setItselfUp(order(), { from: '127.0.51.77', signal: halt.signal })).toMatchObject({
    ok: false,
  });
});
