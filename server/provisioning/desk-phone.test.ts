import pino from 'pino';
import type { DeskPhone, ProvisionedRow } from '../../api/provisioning';
import type { PersonPage } from '../../api/people';
import { deskEndpoint } from '../../core/desks';
import type { Estate, Person } from '../../core/estate';
import { workedEstate } from '../../core/tests/worked';
import { openDb } from '../db';
import { whoIsSignedOn } from '../desks';
import { signOn } from '../desks/sign-on';
import { estateStore } from '../estate';
import { putPhoneSetting } from '../switchboard';
import { noSwitchboard, openSwitchboard, type Switchboard } from '../switchboard/switchboard';
import { testServer, type TestServer } from '../test';
import { until } from '../../standins/tests/until';
import { knownPhones } from './settings';

const as = 'specialist' as const;
const QUICK = '02F0AA000011';
const SLOW = '02F0AA000012';
const worked = workedEstate();
const [first] = worked.people as readonly [Person];
/** Somebody whose only phone of their own is whichever shared desk they sign on to. */
const ada: Person = {
  ...first,
  id: 'ada',
  name: 'Ada Marlowe',
  language: 'fr',
  lines: [{ id: 'ada-line', extension: '4777', numbers: [] }],
  endpoints: [{ id: 'ada-hot', label: 'Shared desk', kind: 'hot-desk' }],
  plan: {
    rules: [],
    otherwise: {
      stages: [{ ring: [{ endpoint: 'ada-hot' }], forMs: 20_000 }],
      ending: { kind: 'mailbox' },
    },
  },
};
const estate: Estate = {
  ...worked,
  dialling: { ...worked.dialling, codes: [{ code: '*70', does: 'Sign on', acts: 'sign-on' }] },
  people: [...worked.people, ada],
  devices: [
    { id: 'quick', name: 'Window phone', model: 'gannet-60', macAddress: QUICK, firmware: '3.6.2' },
    { id: 'slow', name: 'Wall phone', model: 'gannet-20', macAddress: SLOW, firmware: '3.4.0' },
  ],
  desks: [
    { id: 'window', name: 'Window desk', device: 'quick' },
    { id: 'wall', name: 'Wall desk', device: 'slow' },
  ],
};

let server: TestServer;
let phones: Switchboard;
beforeAll(async () => {
  process.env.HOSTLER_SIP_PORT = '0';
  server = await testServer(
    estate,
    (services) =>
      (phones = openSwitchboard({
        ...services,
        log: pino({ level: 'silent' }),
        signedOn: whoIsSignedOn(services.db),
        provisioning: () => knownPhones(services, server.url),
      })),
    () => new Date(),
  );
  const text = `mac,model,desk\n${QUICK},Gannet 60,Window desk\n${SLOW},Gannet 20,Wall desk\n`;
  const headers = { 'Content-Type': 'text/csv' };
  await until(async () => ((await ask('GET', '/api/phones')).body.registrations.length > 2 ? true : null));
  const taken = await server.ask('POST', '/api/provisioning/list', { as, body: text, headers });
  expect(taken.body.phones).toEqual([QUICK, SLOW]);
});
afterAll(() => server.stop());

const ask = (method: string, path: string, body?: unknown) => server.ask(method, path, { as, body });
const row = async (address: string): Promise<ProvisionedRow> =>
  (await ask('GET', '/api/provisioning')).body.phones.find(
    (each: ProvisionedRow) => each.address === address,
  );
const shows = async (desk: string): Promise<DeskPhone> =>
  (await ask('GET', `/api/provisioning/desks/${desk}`)).body;
const plugIn = async (address: string) => {
  const [{ code }] = (await ask('POST', '/api/provisioning/codes', { addresses: [address] })).body.codes;
  expect((await ask('POST', `/api/provisioning/${address}/plug-in`, { typed: code })).status).toBe(202);
};
const registrations = async (): Promise<readonly (string | null)[]> =>
  (await ask('GET', '/api/phones')).body.registrations.map(
    ({ endpoint }: { endpoint: string | null }) => endpoint,
  );
/** A phone that has been given what it is to have now, and is registered. */
const isUp = (address: string) =>
  until(async () => {
    const { state, isBehind } = await row(address);
    return state === 'registered' && !isBehind ? true : null;
  });

test('a desk’s phone is on the list as the desk’s, takes a code even where PINs are asked for, and shows how to sign on', async () => {
  expect(await row(QUICK)).toMatchObject({
    desk: { id: 'window', name: 'Window desk' },
    person: null,
    state: 'waiting',
    credential: 'code',
  });
  const policy = { credential: 'pin', tries: 5, lockMinutes: 15, codeHours: 72 };
  await ask('PUT', '/api/provisioning/policy', policy);
  expect((await row(QUICK)).credential).toBe('code');
  await plugIn(QUICK);
  await isUp(QUICK);
  await ask('PUT', '/api/provisioning/policy', { ...policy, credential: 'code' });
  expect(await registrations()).toContain(deskEndpoint('window'));
  expect(await shows('window')).toMatchObject({
    display: 'Window desk: free. Sign on: *70',
    language: null,
    keys: [{ at: 1, label: 'Sign on' }],
    state: 'registered',
    isBehind: false,
    restartS: null,
  });
});

test('it becomes that of whoever signs on, fetched by itself, and is bare again after them', async () => {
  const before = (await row(QUICK)).fetchedAt;
  expect((await ask('POST', '/api/desks/window/sign-on', { person: 'ada' })).status).toBe(200);
  await until(async () => ((await registrations()).includes('ada-hot') ? true : null));
  await isUp(QUICK);
  expect(await row(QUICK)).toMatchObject({ person: { id: 'ada' }, desk: { id: 'window' } });
  expect((await row(QUICK)).fetchedAt).not.toBe(before);
  expect(await shows('window')).toMatchObject({
    display: 'Window desk: Ada Marlowe',
    label: '4777 Ada Marlowe',
    language: 'fr',
    keys: [
      { at: 1, label: 'Sign off' },
      { at: 2, label: '4777' },
    ],
    isBehind: false,
  });
  expect((await ask('POST', '/api/desks/window/sign-off', {})).status).toBe(204);
  await until(async () => ((await registrations()).includes(deskEndpoint('window')) ? true : null));
  await isUp(QUICK);
  expect(JSON.stringify([await shows('window'), await row(QUICK)])).not.toMatch(/Ada|4777/);
  // Each sign-on is in the record, and not each fetching that it brings.
  const kinds = (await ask('GET', '/api/record')).body.entries.map(({ kind }: { kind: string }) => kind);
  expect(kinds.slice(0, 2)).toEqual(['desk-sign-off', 'desk-sign-on']);
});

test('two sign-ons one after the other at once leave the phone with the last', async () => {
  await Promise.all([
    ask('POST', '/api/desks/window/sign-on', { person: 'ada' }),
    ask('POST', '/api/desks/window/sign-off', {}),
  ]);
  await ask('POST', '/api/desks/window/sign-off', {});
  await until(async () => ((await shows('window')).isBehind ? null : true));
  expect(await shows('window')).toMatchObject({ display: 'Window desk: free. Sign on: *70' });
});

test('a model that starts again for whoever signs on is away meanwhile, which the person’s page knows', async () => {
  await ask('POST', '/api/desks/wall/sign-on', { person: 'ada' });
  const page = async (): Promise<PersonPage> => (await ask('GET', '/api/people/ada')).body;
  const { signedOn } = await page();
  expect(signedOn.ada).toMatchObject({ desk: 'Wall desk', startsUntil: expect.any(String) });
  expect(await shows('wall')).toMatchObject({ restartS: 12, startsUntil: signedOn.ada!.startsUntil });
  expect(await registrations()).not.toContain('ada-hot');
  // It is signed on all the same, and nobody else is held up.
  await ask('POST', '/api/desks/window/sign-on', { person: 'ada' });
  expect((await page()).signedOn.ada).toEqual({ desk: 'Window desk', startsUntil: null });
  await until(async () => ((await registrations()).includes('ada-hot') ? true : null));
});

test('a phone that was switched off while somebody signed on gets what is theirs once it is back', async () => {
  const turn = async (does: 'off' | 'ready') => {
    await putPhoneSetting(server.db, { endpoint: deskEndpoint('window'), does, answerAfterMs: null });
    await phones.refresh();
  };
  await ask('POST', '/api/desks/window/sign-off', {});
  await isUp(QUICK);
  await turn('off');
  await ask('POST', '/api/desks/window/sign-on', { person: 'ada' });
  expect((await shows('window')).isBehind).toBe(true);
  await turn('ready');
  await until(async () => ((await shows('window')).isBehind ? null : true));
  expect(await shows('window')).toMatchObject({ display: 'Window desk: Ada Marlowe' });
});

test('signed on by another server, the phone gets what is theirs all the same', async () => {
  await ask('POST', '/api/desks/window/sign-off', {});
  await isUp(QUICK);
  const db = openDb(server.config);
  const other = { db, store: estateStore(db), now: () => new Date(), phones: noSwitchboard };
  const wanted = { desk: 'window', person: 'ada', how: 'by-specialist', credential: 'right' } as const;
  expect((await signOn(other, { ...wanted, confirmed: false, who: 'another' })).ok).toBe(true);
  await db.end();
  await until(async () => ((await registrations()).includes('ada-hot') ? true : null));
  await isUp(QUICK);
  expect(await shows('window')).toMatchObject({ display: 'Window desk: Ada Marlowe', isBehind: false });
});

test('many who look at a desk at once, while people sign on and off there, see one or the other, never a mixture', async () => {
  const looks = Array.from({ length: 32 }, async (_each, n) => {
    if (n % 8 === 0)
      await ask(
        'POST',
        `/api/desks/window/${n % 16 ? 'sign-on' : 'sign-off'}`,
        n % 16 ? { person: 'ada' } : {},
      );
    return shows('window');
  });
  for (const { display, label, keys } of await Promise.all(looks))
    expect([display, label, keys.length]).toEqual(
      display.endsWith('Ada Marlowe')
        ? ['Window desk: Ada Marlowe', '4777 Ada Marlowe', 2]
        : ['Window desk: free. Sign on: *70', 'Window desk', 1],
    );
});

test('a desk that is not there, and one whose phone has a model of no catalogue, are told', async () => {
  expect((await ask('GET', '/api/provisioning/desks/nowhere')).status).toBe(404);
  expect((await server.ask('GET', '/api/provisioning/desks/window', { as: 'staff' })).status).toBe(403);
});
