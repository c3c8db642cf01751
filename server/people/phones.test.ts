import { MODELS } from '../../core/devices/phones';
import type { Device, Person } from '../../core/estate';
import { openDb } from '../db';
import { estateStore } from '../estate';
import { testServer, type TestServer } from '../test';
import { workKilledAt } from '../test/killed';
import { givePhone } from './phones';

let server: TestServer;
beforeAll(async () => {
  server = await testServer();
});
afterAll(() => server.stop());

const specialist = { as: 'specialist' } as const;
const give = (body: object) => server.ask('POST', '/api/people/ines/phones', { ...specialist, body });
const ines = async () => (await server.ask('GET', '/api/people/ines', specialist)).body.person as Person;
const devices = async () =>
  (await server.ask('GET', '/api/objects/device', specialist)).body.objects as readonly Device[];
const model = MODELS[0]!.id;

test('a softphone is given at once, and rings where it is said', async () => {
  const answer = await give({ kind: 'desktop-app', label: 'Softphone on the computer', rings: 'otherwise' });
  expect(answer).toMatchObject({ status: 201, body: { endpoint: 'ines-desktop-app', device: null } });
  expect(JSON.stringify((await ines()).plan.otherwise)).toContain('ines-desktop-app');
});

test('a desk phone and the telephone that it is are made together, each with its record', async () => {
  const answer = await give({
    kind: 'remote-desk',
    label: 'Desk phone at home',
    model,
    mac: '02-00-5e-10-00-aa',
  });
  expect(answer.status).toBe(201);
  const { endpoint, device } = answer.body as { endpoint: string; device: string };
  expect((await devices()).find(({ id }) => id === device)).toMatchObject({
    endpoint,
    model,
    macAddress: '02005E1000AA',
    name: 'Desk phone at home of Ines Okafor',
  });
  expect(JSON.stringify((await ines()).plan)).not.toContain(endpoint);
  const { body } = await server.ask('GET', '/api/record', specialist);
  expect(
    (body.entries as { kind: string }[])
      .slice(0, 2)
      .map(({ kind }) => kind)
      .sort(),
  ).toEqual(['object-added', 'person-changed']);
});

test.each([
  [{ kind: 'desk', label: '' }, 'label'],
  [{ kind: 'teapot', label: 'Pot' }, 'kind'],
  [{ kind: 'mobile', label: 'Mobile', number: 'not one' }, 'number'],
  [{ kind: 'mobile', label: 'Mobile' }, 'number'],
  [{ kind: 'desk', label: 'Desk', model: 'none-such' }, 'model'],
  [{ kind: 'desk', label: 'Desk', model, mac: '12' }, 'mac'],
  [{ kind: 'desk', label: 'Desk', model, mac: '02:00:5E:10:00:AA' }, 'mac'],
  [{ kind: 'desk', label: 'Desk', model, site: 'atlantis' }, 'site'],
  [{ kind: 'desk', label: 'Desk', rings: 'r-none' }, 'rings'],
])('%j is refused beside its field, and nothing is added', async (body, path) => {
  const before = [await ines(), await devices()];
  const answer = await give(body);
  expect(answer).toMatchObject({ status: 400, body: { faults: [{ path }] } });
  expect([await ines(), await devices()]).toEqual(before);
});

test('only specialists give phones or ask what one leaves behind', async () => {
  for (const as of ['help-desk', 'manager'] as const) {
    const body = { kind: 'desk', label: 'Desk' };
    expect((await server.ask('POST', '/api/people/ines/phones', { as, body })).status).toBe(403);
    expect((await server.ask('GET', '/api/people/ines/phones/ines-desk/removal', { as })).status).toBe(403);
    expect((await server.ask('GET', '/api/people/ines/removed-phones', { as })).status).toBe(403);
  }
});

test('what a phone leaves behind: all who use it, and changes that can be put live together', async () => {
  const removal = await server.ask('GET', '/api/people/ines/phones/ines-desk/removal', specialist);
  expect(removal.status).toBe(200);
  const { body: slate } = await server.ask('POST', '/api/slates', {
    ...specialist,
    body: { name: 'Desk goes' },
  });
  const put = await server.ask('PUT', `/api/slates/${slate.id}/entries`, {
    ...specialist,
    body: { entries: removal.body.entries },
  });
  expect(put.status).toBeLessThan(300);
  const before = await ines();
  // Without the others' changes the removal alone is refused, with where it is still used.
  const { version } = (await server.ask('GET', '/api/people/ines', specialist)).body;
  const alone = await server.ask('PUT', '/api/people/ines', {
    ...specialist,
    body: { version, person: removal.body.entries[0].after },
  });
  expect(alone.status).toBe(400);
  expect(await ines()).toEqual(before);
  const live = await server.ask('POST', `/api/slates/${slate.id}/apply`, { ...specialist, body: {} });
  expect(live.status).toBeLessThan(300);
  expect((await ines()).endpoints.map(({ id }) => id)).not.toContain('ines-desk');
  expect((await server.ask('GET', '/api/people/ines/phones/ines-desk/removal', specialist)).status).toBe(404);
  // And all of it comes back together: the phone, and whoever had let go of it.
  const { phones } = (await server.ask('GET', '/api/people/ines/removed-phones', specialist)).body;
  expect(phones).toMatchObject([{ endpoint: 'ines-desk', kind: 'desk', who: 'specialist' }]);
  expect(phones[0].entries).toHaveLength(removal.body.entries.length);
  const back = await server.ask('POST', '/api/record/slate', {
    ...specialist,
    body: { entries: phones[0].entries },
  });
  const again = await server.ask('POST', `/api/slates/${back.body.slate}/apply`, {
    ...specialist,
    body: { overrule: 'as it was' },
  });
  expect([again.status, again.body.message]).toEqual([200, undefined]);
  for (const { kind, id, base } of removal.body.entries as readonly {
    kind: string;
    id: string;
    base: object;
  }[])
    if (kind === 'person')
      expect((await server.ask('GET', `/api/people/${id}`, specialist)).body.person).toEqual(base);
  expect((await server.ask('GET', '/api/people/ines/removed-phones', specialist)).body.phones).toEqual([]);
  expect((await server.ask('GET', '/api/people/ruth/phones/ines-mobile/removal', specialist)).status).toBe(
    404,
  );
});

test('given at once by two servers, each phone is there once with an id of its own', async () => {
  const db = openDb(server.config);
  const other = { db, store: estateStore(db), now: () => new Date() };
  const before = (await ines()).endpoints.length;
  await Promise.all(
    Array.from({ length: 12 }, (_, i) =>
      i % 2 === 0
        ? give({ kind: 'desk', label: `Desk ${i}` })
        : givePhone(other, 'specialist', 'ines', { kind: 'desk', label: `Desk ${i}` }),
    ),
  );
  await db.end();
  const after = (await ines()).endpoints;
  expect(after).toHaveLength(before + 12);
  expect(new Set(after.map(({ id }) => id)).size).toBe(after.length);
});

test('killed at whichever statement, the phone and the telephone are both there, or neither is', async () => {
  const work = ['phone', JSON.stringify({ kind: 'desk', label: 'Killed amid', model, mac: '02005E1000BB' })];
  let points = 0;
  for (let at = 1; at < 80; at += 2) {
    await workKilledAt(server.config, work, at);
    const hasPhone = (await ines()).endpoints.some(({ label }) => label === 'Killed amid');
    expect((await devices()).some(({ macAddress }) => macAddress === '02005E1000BB')).toBe(hasPhone);
    if (hasPhone) break;
    points += 1;
  }
  expect(points).toBeGreaterThan(3);
  expect((await ines()).endpoints.filter(({ label }) => label === 'Killed amid')).toHaveLength(1);
});
