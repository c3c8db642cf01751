import { PLACE, testServer, type TestServer } from '../test';
import { noSwitchboard } from '../switchboard/switchboard';
import { matchAccounts } from '../switchboard/accounts';

const as = 'specialist' as const;
let server: TestServer;
const ask = (method: string, path: string, body?: unknown) => server.ask(method, path, { as, body });

beforeAll(async () => {
  let ready: Promise<unknown> = Promise.resolve();
  server = await testServer(undefined, ({ db, store, secrets }) => {
    ready = store.current().then(({ estate }) => matchAccounts(db, secrets, estate, new Date()));
    return { ...noSwitchboard, place: () => PLACE };
  });
  await ready;
});
afterAll(() => server.stop());

const LAPTOP = 'priya-laptop';

test('which phone places calls is chosen by status, and taken back; somebody else’s phone is refused', async () => {
  const look = async () => (await ask('GET', '/api/people/priya/by-status')).body.statuses;
  const [first] = await look();
  expect(first).toMatchObject({ isChosen: false });
  const set = (endpoint: string | null) =>
    ask('PUT', '/api/people/priya/calls-from', { status: first.status, endpoint });
  expect((await set(LAPTOP)).status).toBe(204);
  expect((await look())[0]).toMatchObject({ callsFrom: LAPTOP, isChosen: true });
  expect((await ask('GET', '/api/people/priya')).body.person.callsFrom).toEqual([
    { status: first.status, endpoint: LAPTOP },
  ]);
  expect((await set('ines-desk')).status).toBe(400);
  expect((await set(null)).status).toBe(204);
  expect((await look())[0]).toEqual(first);
});

test('headset, microphone and camera are noted, kept with the account, and recorded', async () => {
  const path = `/api/phones/${LAPTOP}`;
  expect((await ask('PUT', `${path}/notes`, { headset: 7 })).status).toBe(400);
  await ask('PUT', `${path}/notes`, { headset: ' USB, left drawer ', camera: 'Built in' });
  const { body } = await ask('GET', `${path}/account`);
  expect(body.notes).toEqual({ headset: 'USB, left drawer', microphone: '', camera: 'Built in' });
  expect((await ask('GET', '/api/record?kind=sound-noted')).body.entries).toHaveLength(1);
});

test('servers by where people are come with the account; a name that is none is refused with its path', async () => {
  const { settings } = (await ask('GET', '/api/settings')).body;
  const put = (host: string) =>
    ask('PUT', '/api/settings', {
      before: settings,
      settings: { ...settings, servers: { outside: { host, port: 5061, transport: 'tls' } } },
    });
  expect((await put('no name!')).body.faults).toMatchObject([{ path: 'settings.servers.outside.host' }]);
  expect((await put('calls.ferry.example')).status).toBe(200);
  expect((await ask('GET', `/api/phones/${LAPTOP}/account`)).body.servers).toEqual({
    outside: { host: 'calls.ferry.example', port: 5061, transport: 'tls' },
  });
});

test('people choose their own PIN, and see their own sheet only, which is recorded', async () => {
  const own = (method: string, path: string, body?: unknown) =>
    server.ask(method, path, { as: 'staff', body });
  const { person } = (await own('GET', '/api/me')).body;
  expect((await own('POST', '/api/me/pin', { pin: '111111' })).body.faults).toMatchObject([{ path: 'pin' }]);
  expect((await own('POST', '/api/me/pin', { pin: '480263' })).body.pinSetAt).toEqual(expect.any(String));
  expect((await own('POST', '/api/me/handover/priya-laptop', {})).status).toBe(404);
  expect(person.id).not.toBe('priya');
});

test('somebody’s own softphone: the sheet has the password, and the record says who was shown it', async () => {
  await server.db.execute("UPDATE account SET person_id = 'jonah' WHERE role = 'staff'");
  const { status, body } = await server.ask('POST', '/api/me/handover/jonah-app', { as: 'staff', body: {} });
  expect([status, body.user]).toEqual([200, 'jonah-app']);
  expect(body.password).toMatch(/^\w{24}$/);
  expect(body.placing).toMatch(/^Place your calls from/);
  const { entries } = (await ask('GET', '/api/record?kind=password-shown')).body;
  expect(entries[0]).toMatchObject({ who: 'staff', personId: 'jonah', detail: 'on their own page' });
  expect(JSON.stringify(entries)).not.toContain(body.password);
});
