import { connect as tlsConnect } from 'node:tls';
import { request } from 'node:https';
import pino from 'pino';
import type { Device } from '../../core/estate';
import { workedEstate } from '../../core/tests/worked';
import { readSettings } from '../../core/devices/provisioning';
import { issueFor, newAuthority } from '../../standins/certificate';
import { noSwitchboard, openSwitchboard } from '../switchboard/switchboard';
import { demoEstate, PLACE, testServer, type TestServer } from '../test';
import { until } from '../../standins/tests/until';
import { isPrivate } from '../http/host';
import { knownPhones } from './settings';

const as = 'specialist' as const;
const ADDRESS = '02F0AA000001';
const LIST = (model = 'Gannet 20') => `hardware address,model,extension\n02:F0:AA:00:00:01,${model},4101\n`;
const estate = { ...demoEstate(), devices: [], sites: [] };

let server: TestServer;
const ask = (method: string, path: string, body?: unknown) => server.ask(method, path, { as, body });
const list = (text: string, path = '') =>
  server.ask('POST', `/api/provisioning/list${path}`, {
    as,
    body: text,
    headers: { 'Content-Type': 'text/csv' },
  });
const phone = async () => (await ask('GET', '/api/provisioning')).body.phones[0];
const fetchAs = (secret: string | null, more = '', ending = 'json') =>
  fetch(`${server.url}/provisioning/${ADDRESS}.${ending}?model=gannet-20&firmware=3.4.0${more}`, {
    headers:
      secret === null
        ? {}
        : { Authorization: `Basic ${Buffer.from(`${ADDRESS}:${secret}`).toString('base64')}` },
  });
const newCode = async (): Promise<string> =>
  (await ask('POST', '/api/provisioning/codes', { addresses: [ADDRESS] })).body.codes[0].code;
const YEAR_MS = 365 * 24 * 3600_000;

describe('the service', () => {
  beforeEach(async () => {
    server = await testServer(estate, () => ({ ...noSwitchboard, place: () => PLACE }));
  });
  afterEach(() => server.stop());

  test('a list is previewed with its faults, then taken: phones are there, wait, and are recorded', async () => {
    const text = `${LIST()}zz,Gannet 20,4102\n`;
    const preview = await list(text, '/read');
    expect(preview.body.rows).toMatchObject([
      { line: 2, action: 'add', whose: 'Ines Okafor' },
      { line: 3, action: 'refuse', faults: [{ field: 'address' }] },
    ]);
    expect((await ask('GET', '/api/objects/device')).body.objects).toEqual([]);
    expect((await list(text)).body.phones).toEqual([ADDRESS]);
    expect(await phone()).toMatchObject({ state: 'waiting', person: { id: 'ines' }, hasCode: false });
    const kinds = (await ask('GET', '/api/record')).body.entries.map(({ kind }: { kind: string }) => kind);
    expect(kinds.slice(0, 2)).toEqual(['provisioning-added', 'object-added']);
    expect((await list('nothing')).status).toBe(400);
  });

  test('nobody else than a specialist changes anything, and phones need nobody signed in', async () => {
    for (const [method, path] of [
      ['POST', '/api/provisioning/codes'],
      ['PUT', '/api/provisioning/policy'],
      ['POST', `/api/provisioning/${ADDRESS}/plug-in`],
      ['POST', '/api/people/ines/pin'],
    ] as const)
      expect((await server.ask(method, path, { as: 'help-desk', body: {} })).status).toBe(403);
    // On no list: told no more than one that is on it.
    expect((await fetchAs(null)).status).toBe(401);
    expect((await ask('GET', '/api/provisioning')).body.strangers).toMatchObject([{ address: ADDRESS }]);
  });

  test('without proof it is asked for; wrong codes are counted and lock it, until it is unlocked', async () => {
    await list(LIST());
    const code = await newCode();
    const first = await fetchAs(null);
    expect([first.status, first.headers.get('www-authenticate')]).toEqual([
      401,
      expect.stringContaining('Basic'),
    ]);
    expect(await phone()).toMatchObject({ state: 'asked', firmware: null, hasCode: true });
    for (let n = 0; n < 5; n += 1) expect((await fetchAs('AAAAA-AAAAA')).status).toBe(401);
    expect(await phone()).toMatchObject({ state: 'locked', tries: 5 });
    const locked = await fetchAs(code);
    expect([locked.status, locked.headers.get('retry-after')]).toEqual([429, '900']);
    await ask('POST', `/api/provisioning/${ADDRESS}/unlock`);
    expect(await phone()).toMatchObject({ state: 'waiting', tries: 0 });
    const { events } = (await ask('GET', `/api/provisioning/${ADDRESS}/events`)).body;
    expect(events.map(({ says }: { says: string }) => says)).toContain('The code is wrong');
    expect(JSON.stringify(events)).not.toContain('AAAAA');
  });

  test('tries at the same moment are counted one by one', async () => {
    await list(LIST());
    await newCode();
    const statuses = (await Promise.all(Array.from({ length: 12 }, () => fetchAs('wrong')))).map(
      ({ status }) => status,
    );
    expect(statuses.filter((status) => status === 401)).toHaveLength(5);
    expect(statuses.filter((status) => status === 429)).toHaveLength(7);
  });

  test('another model than the list has, a code of another phone and one that ran out are told apart', async () => {
    await list(LIST('Gannet 60'));
    const code = await newCode();
    expect(await (await fetchAs(code)).text()).toContain(
      'It says it is a Gannet 20; the list has a Gannet 60',
    );
    expect(await phone()).toMatchObject({ state: 'refused', tries: 0 });
    const said = async () => (await ask('GET', `/api/provisioning/${ADDRESS}/events`)).body.events[0].says;
    const other = await fetch(`${server.url}/provisioning/${ADDRESS}`, {
      headers: { Authorization: `Basic ${Buffer.from(`02F0AA000002:${code}`).toString('base64')}` },
    });
    // Whoever asks is told nothing; the specialist reads why.
    expect(await other.text()).toBe('Prove who you are for.\n');
    expect(await said()).toContain('given for another phone');
    await server.db.query("UPDATE provisioned_phone SET code_until = '2026-01-01'");
    const late = await fetch(`${server.url}/provisioning/${ADDRESS}`, {
      headers: { Authorization: `Basic ${Buffer.from(`${ADDRESS}:${code}`).toString('base64')}` },
    });
    expect(await late.text()).toBe('Prove who you are for.\n');
    expect(await said()).toContain('run out');
  });

  test('a source that asks too often is told so', async () => {
    const answers = await Promise.all(
      Array.from({ length: 70 }, () => fetch(`${server.url}/provisioning/firmware/none/1`)),
    );
    expect(answers.filter(({ status }) => status === 429)).toHaveLength(10);
  });

  test('settings go where nobody listens in', () => {
    expect(isPrivate({ remoteAddress: '127.0.51.3' }, {})).toBe(true);
    expect(isPrivate({ remoteAddress: '::ffff:127.0.0.1' }, {})).toBe(true);
    expect(isPrivate({ remoteAddress: '192.0.2.7' }, {})).toBe(false);
    expect(isPrivate({ remoteAddress: '192.0.2.7', encrypted: true }, {})).toBe(true);
    // What a proxy on this machine passes on comes from elsewhere.
    expect(isPrivate({ remoteAddress: '127.0.0.1' }, { 'x-forwarded-for': '192.0.2.7' })).toBe(false);
  });

  test('weak PINs are refused beside the field; a good one is made and told once, and kept as a hash', async () => {
    const weak = await ask('POST', '/api/people/ines/pin', { pin: '123456' });
    expect(weak.body.faults).toEqual([{ path: 'pin', message: 'counts up or down' }]);
    const { pin } = (await ask('POST', '/api/people/ines/pin', {})).body;
    expect(pin).toMatch(/^\d{6}$/);
    const [rows] = await server.db.query('SELECT * FROM person_pin');
    expect(JSON.stringify(rows)).toContain('$argon2id$');
    expect(JSON.stringify([rows, (await ask('GET', '/api/record')).text])).not.toContain(pin);
    expect((await ask('POST', '/api/people/ines/pin', { pin: '480263' })).body.pin).toBeNull();
    // It can be taken away, once, and by nobody who may not set one.
    const away = (as: 'specialist' | 'help-desk') => server.ask('DELETE', '/api/people/ines/pin', { as });
    expect((await away('help-desk')).status).toBe(403);
    expect([(await away('specialist')).status, (await away('specialist')).status]).toEqual([200, 404]);
    expect((await ask('GET', '/api/people/ines/pin')).body).toEqual({ setAt: null });
    expect((await ask('GET', '/api/record')).body.entries.slice(0, 3)).toMatchObject([
      { kind: 'pin-removed', subject: 'Ines Okafor' },
      { kind: 'pin-set' },
      { kind: 'pin-set' },
    ]);
  });

  test('makers are believed by their certificate; one that is none is refused beside the field', async () => {
    const add = (certificate: string) =>
      ask('POST', '/api/provisioning/authorities', { name: 'Gannet works', certificate });
    expect((await add('no certificate')).body.faults).toMatchObject([{ path: 'certificate' }]);
    const maker = await newAuthority('Gannet works', new Date('2026-11-24T18:00:00Z'));
    const leaf = await issueFor(maker, ADDRESS, new Date('2026-11-24T18:00:00Z'));
    expect((await add(leaf.cert)).body.faults).toEqual([
      { path: 'certificate', message: 'is not one that may issue others' },
    ]);
    const { authorities } = (await add(maker.cert)).body;
    expect(authorities).toMatchObject([{ name: 'Gannet works', isOurs: false }]);
    expect(
      (await ask('DELETE', `/api/provisioning/authorities/${authorities[0].id}`)).body.authorities,
    ).toEqual([]);
  });
});

describe('stand-ins that are provisioned', () => {
  beforeEach(async () => {
    process.env.HOSTLER_SIP_PORT = '0';
    server = await testServer(
      workedEstate(),
      (services, url) =>
        openSwitchboard({
          ...services,
          log: pino({ level: 'silent' }),
          provisioning: () => knownPhones(services, url()),
        }),
      () => new Date(),
    );
    await until(async () => ((await ask('GET', '/api/phones')).body.registrations.length > 2 ? true : null));
    await list(LIST());
    await until(async () => (registered(await registrations()) ? null : true));
  });
  afterEach(() => server.stop());

  const registrations = async () =>
    (await ask('GET', '/api/phones')).body.registrations as { endpoint: string }[];
  const registered = (all: readonly { readonly endpoint: string }[]) =>
    all.some(({ endpoint }) => endpoint === 'ines-desk');
  const plugIn = (body: object) => ask('POST', `/api/provisioning/${ADDRESS}/plug-in`, body);
  const reaches = (state: string) => until(async () => ((await phone()).state === state ? true : null));
  const device = async (): Promise<Device> => (await ask('GET', '/api/objects/device')).body.objects[0];

  test.each(['json', 'xml'] as const)(
    'with its code, by %s: asked, fetched, registered; the code is used up',
    async (form) => {
      const code = await newCode();
      expect((await plugIn({ typed: code, form })).status).toBe(202);
      await reaches('registered');
      expect(registered(await registrations())).toBe(true);
      expect(await phone()).toMatchObject({ hasCode: false, isBehind: false, firmware: '3.4.0' });
      const again = await fetchAs(code);
      expect([again.status, await again.text()]).toEqual([401, 'Prove who you are for.\n']);
    },
  );

  test('with a wrong code it stays bare, and says why', async () => {
    await newCode();
    await plugIn({ typed: 'WRONG-WRONG' });
    await until(async () => ((await phone()).tries === 1 ? true : null));
    expect(await phone()).toMatchObject({ state: 'asked', why: 'The code is wrong' });
    expect(registered(await registrations())).toBe(false);
  });

  test('old firmware gets no secrets: it loads the image that is here, asks again and registers, and the estate knows', async () => {
    const code = await newCode();
    await plugIn({ typed: code, firmware: '3.1.0' });
    await reaches('old-firmware');
    expect(await phone()).toMatchObject({ next: 'Add the firmware file that it needs.' });
    const answer = await fetch(`${server.url}/provisioning/${ADDRESS}?firmware=3.1.0`, {
      headers: { Authorization: `Basic ${Buffer.from(`${ADDRESS}:${code}`).toString('base64')}` },
    });
    const read = readSettings(await answer.text());
    expect(read).toMatchObject({ ok: true, settings: { accounts: [], keys: [] } });
    await server.ask('PUT', '/api/provisioning/firmware/gannet-20/3.5.1', {
      as,
      body: 'a made-up image',
      headers: { 'Content-Type': 'application/octet-stream' },
    });
    await plugIn({ typed: code, firmware: '3.1.0' });
    await reaches('registered');
    expect((await device()).firmware).toBe('3.5.1');
    const { events } = (await ask('GET', `/api/provisioning/${ADDRESS}/events`)).body;
    expect(events.map(({ says }: { says: string }) => says)).toEqual(
      expect.arrayContaining(['It loads 3.5.1']),
    );
  });

  test('with the person’s PIN, and by a certificate over TLS', async () => {
    const policy = { credential: 'pin', tries: 5, lockMinutes: 15, codeHours: 72 };
    await ask('PUT', '/api/provisioning/policy', policy);
    await plugIn({ typed: '480263' });
    await until(async () => ((await phone()).why === 'Its person has no PIN yet' ? true : null));
    await ask('POST', '/api/people/ines/pin', { pin: '480263' });
    await plugIn({ typed: '480263' });
    await reaches('registered');

    await ask('PUT', '/api/provisioning/policy', { ...policy, credential: 'certificate' });
    await ask('POST', `/api/provisioning/${ADDRESS}/anew`);
    await reaches('waiting');
    expect((await fetchAs('480263')).status).toBe(401);
    expect((await phone()).why).toBe('It must ask over TLS, and show its certificate');
    await plugIn({});
    await reaches('registered');
  });

  test('a certificate of another phone or of a maker that is not believed is refused', async () => {
    await ask('PUT', '/api/provisioning/policy', {
      credential: 'certificate',
      tries: 5,
      lockMinutes: 15,
      codeHours: 72,
    });
    const { tlsPort } = (await ask('GET', '/api/provisioning')).body;
    const at = new Date('2026-11-24T18:00:00Z');
    const maker = await newAuthority('Gannet works', at);
    const askWith = (certificate: { readonly key: string; readonly cert: string } | null) =>
      new Promise<string>((resolve, reject) => {
        request(
          {
            host: '127.0.0.1',
            port: tlsPort,
            path: `/provisioning/${ADDRESS}`,
            rejectUnauthorized: false,
            ...certificate,
          },
          (response) => {
            let text = '';
            response.on('data', (part: Buffer) => (text += part.toString()));
            response.on('end', () => resolve(text.trim()));
          },
        )
          .on('error', reject)
          .end();
      });
    // Whoever asks is told nothing; the specialist reads why.
    const said = async (shows: { readonly key: string; readonly cert: string } | null) => {
      expect(await askWith(shows)).toBe('Prove who you are for.');
      const { events } = (await ask('GET', `/api/provisioning/${ADDRESS}/events`)).body;
      return events[0].says;
    };
    expect(await said(null)).toBe('It shows no certificate');
    const mine = await issueFor(maker, ADDRESS, at);
    expect(await said(mine)).toBe('Its certificate is from a certificate authority that is not trusted');
    await ask('POST', '/api/provisioning/authorities', { name: 'Gannet works', certificate: maker.cert });
    expect(await said(await issueFor(maker, '02F0AA000009', at))).toBe(
      'Its certificate is of another MAC address',
    );
    const runsOut = (ms: number) => issueFor(maker, ADDRESS, new Date(at.getTime() - YEAR_MS + ms));
    expect(await said(await runsOut(-2000))).toBe('Its certificate has run out, or is not good yet');
    expect(await said(await issueFor(maker, ADDRESS, at, 'server'))).toBe(
      'Its certificate is for servers, not for phones',
    );
  });

  test('over TLS 1.2 nothing of CBC mode is spoken, and nothing older', async () => {
    const { tlsPort } = (await ask('GET', '/api/provisioning')).body;
    const shake = (options: object) =>
      new Promise<string>((resolve) => {
        const socket = tlsConnect(
          { host: '127.0.0.1', port: tlsPort, rejectUnauthorized: false, ...options },
          () => {
            resolve(socket.getCipher().name);
            socket.destroy();
          },
        );
        socket.on('error', () => resolve('refused'));
      });
    expect(await shake({ maxVersion: 'TLSv1.2', ciphers: 'ECDHE-ECDSA-AES128-SHA256' })).toBe('refused');
    expect(await shake({ maxVersion: 'TLSv1.2' })).toMatch(/GCM|CHACHA20/);
  });

  test('keys that are laid out anew are pushed, fetched by the token, and taken up', async () => {
    await plugIn({ typed: await newCode() });
    await reaches('registered');
    const before = await device();
    const { version } = (await ask('GET', `/api/objects/device/${before.id}`)).body;
    await ask('PUT', `/api/objects/device/${before.id}`, {
      version,
      object: { ...before, keys: [{ at: 1, use: 'line', extension: '4101' }] },
    });
    expect((await phone()).isBehind).toBe(true);
    expect((await ask('POST', '/api/provisioning/push', { devices: [before.id] })).body).toEqual({
      pushed: 1,
      absent: 0,
    });
    await until(async () => ((await phone()).isBehind ? null : true));
    await reaches('registered');
  });

  test('the same list read in again leaves a phone alone that has set itself up', async () => {
    await plugIn({ typed: await newCode() });
    await reaches('registered');
    expect((await list(LIST())).status).toBe(201);
    expect((await phone()).state).toBe('registered');
    expect(registered(await registrations())).toBe(true);
  });

  test('taken off the list, it asks in vain, and its stand-in is as any other', async () => {
    expect((await ask('DELETE', `/api/provisioning/${ADDRESS}`)).body.phones).toEqual([]);
    expect((await fetchAs('x')).status).toBe(401);
    await until(async () => (registered(await registrations()) ? true : null));
  });
});
