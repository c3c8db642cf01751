import { mkdtempSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { OwnPlaces, SafetyPage } from '../../api/safety';
import { readPidfLo } from '../../core/emergency';
import type { Estate } from '../../core/estate';
import { workedEstate } from '../../core/tests/worked';
import type { Registration } from '../../standins/messages';
import { noSwitchboard } from '../switchboard/switchboard';
import { estateStore } from '../estate';
import { openKeyring } from '../secrets';
import { testServer, type TestServer } from '../test';
import { emergencyAnswer } from './emergency';

let clock = Date.parse('2026-11-24T18:00:00Z');
const DAY = 86_400_000;
const worked = workedEstate();
const tomasz = worked.people.find(({ id }) => id === 'tomasz')!;
const estate: Estate = {
  ...worked,
  people: [tomasz, ...worked.people.filter((person) => person !== tomasz)],
  sites: [
    {
      id: 'quay',
      name: 'Quay',
      kind: 'office',
      civic: { country: 'CA', A3: 'Port Ansel', RD: 'Quay Street', HNO: '12' },
    },
  ],
  devices: [{ id: 'd1', name: 'Ines', model: 'gannet-20', endpoint: 'ines-desk', site: 'quay' }],
};
let host = '198.51.100.7';
const registration = () =>
  ({ endpoint: 'tomasz-app', from: { host, port: 5060 } }) as unknown as Registration;
let server: TestServer;
beforeAll(async () => {
  server = await testServer(
    estate,
    () => ({ ...noSwitchboard, registrations: () => [registration()] }),
    () => new Date(clock),
  );
});
afterAll(() => server.stop());
type As = 'specialist' | 'help-desk' | 'manager' | 'staff';
const ask = (method: string, path: string, body?: unknown, as: As = 'specialist') =>
  server.ask(method, path, { as, body });
const page = async (as: As = 'specialist') =>
  (await ask('GET', '/api/safety', undefined, as)).body as SafetyPage;
const row = async (endpoint: string, as: As = 'specialist') =>
  (await page(as)).rows.find((each) => each.endpoint === endpoint);

test('each phone that calls by the organisation is listed, with its place and what is wrong', async () => {
  const { rows, numbers } = await page();
  expect(numbers).toContain('911');
  expect(rows.some(({ kind }) => kind === 'mobile' || kind === 'landline')).toBe(false);
  expect(await row('ines-desk')).toMatchObject({
    basis: 'site-of-phone',
    place: '12 Quay Street, Port Ansel, CA',
    siteName: 'Quay',
    callBack: '+12505550101',
    faults: [],
  });
  expect(await row('tomasz-app')).toMatchObject({ basis: 'unknown', place: null });
  expect((await row('tomasz-app'))?.faults).toContain('unknown');
  expect((await ask('GET', '/api/safety', undefined, 'help-desk')).status).toBe(403);
});

test('somebody says where their softphone is; it grows stale with time and from another address', async () => {
  const civic = { country: 'CA', A3: 'North Landing', RD: 'Gull Lane', HNO: '3' };
  const say = (body: object) => ask('PUT', '/api/own/place', body, 'staff');
  expect((await say({ endpoint: 'ines-desk', civic })).status).toBe(404);
  expect((await say({ endpoint: 'tomasz-app', civic: { country: 'Canada' } })).body.faults[0].path).toBe(
    'civic.country',
  );
  expect((await say({ endpoint: 'tomasz-app', civic: {} })).status).toBe(400);
  const done = await say({ endpoint: 'tomasz-app', civic });
  expect(done.status).toBe(200);
  const mine = (done.body as OwnPlaces).phones.find(({ endpoint }) => endpoint === 'tomasz-app');
  expect(mine).toMatchObject({ place: '3 Gull Lane, North Landing, CA', faults: [], maySay: true });
  expect(await row('tomasz-app')).toMatchObject({
    basis: 'said',
    said: { on: '2026-11-24', by: tomasz.name },
  });
  // The address itself is kept nowhere.
  const [rows] = await server.db.query('SELECT body FROM endpoint');
  expect(JSON.stringify(rows)).not.toContain(host);
  host = '198.51.100.8';
  expect((await row('tomasz-app'))?.faults).toContain('stale');
  host = '198.51.100.7';
  expect((await row('tomasz-app'))?.faults).not.toContain('stale');
  clock += 92 * DAY;
  expect((await row('tomasz-app'))?.faults).toContain('stale');
  clock -= 92 * DAY;
});

test('where somebody lives is for the specialist; others are told the town', async () => {
  expect((await row('tomasz-app', 'manager'))?.place).toBe('North Landing, CA');
  expect((await row('ines-desk', 'manager'))?.place).toBe('12 Quay Street, Port Ansel, CA');
  const person = async (as: As) =>
    (await ask('GET', '/api/people/tomasz', undefined, as)).body.person.endpoints.find(
      ({ id }: { id: string }) => id === 'tomasz-app',
    ).place.civic;
  expect(await person('specialist')).toMatchObject({ RD: 'Gull Lane' });
  expect(await person('manager')).toEqual({ country: 'CA', A3: 'North Landing' });
});

test('a place leaves as PIDF-LO', async () => {
  const { status, text, headers } = await ask('GET', '/api/safety/ines-desk/location');
  expect([status, headers.get('content-type')?.split(';')[0]]).toEqual([200, 'application/pidf+xml']);
  expect(readPidfLo(text)).toMatchObject({ ok: true, location: { civic: estate.sites![0]!.civic } });
  expect((await ask('GET', '/api/safety/gone/location')).status).toBe(404);
  expect((await ask('GET', '/api/safety/ines-desk/location', undefined, 'manager')).status).toBe(403);
});

test('an emergency call carries the place of the phone as it is now, and the number that rings it back', async () => {
  const services = {
    db: server.db,
    store: estateStore(server.db),
    now: () => new Date(clock),
    phones: noSwitchboard,
    secrets: openKeyring(join(mkdtempSync(join(tmpdir(), 'hostler-safe-')), 'keys.json')),
  };
  const known = await emergencyAnswer(services, 'ines-desk');
  expect(known.callerId).toBe('+12505550101');
  const read = readPidfLo(known.pidf ?? '');
  expect(read.ok && read.location).toMatchObject({
    device: 'phone-ines-desk',
    civic: { country: 'CA', A3: 'Port Ansel', RD: 'Quay Street', HNO: '12' },
  });
  expect(await emergencyAnswer(services, 'nobody')).toEqual({ callerId: null, pidf: null });
  // Where no phone stands in, nothing is dialled, and that is said.
  const tried = await ask('POST', '/api/safety/ines-desk/try', {});
  expect([tried.status, tried.body.message]).toEqual([409, expect.stringContaining('is not there')]);
  expect((await ask('POST', '/api/safety/nobody/try', {})).status).toBe(404);
  expect((await ask('POST', '/api/safety/ines-desk/try', {}, 'manager')).status).toBe(403);
});
