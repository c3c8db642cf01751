import type { PlannedStatus } from '../../api/planned-status';
import { openDb } from '../db';
import { estateStore } from '../estate';
import { demoEstate, testServer, type TestServer } from '../test';
import { workKilledAt } from '../test/killed';
import { applyPlanned } from './plan';
import { openPlans } from './queries';

const HOUR = 3_600_000;
const BEGAN = Date.parse('2026-11-24T18:00:00Z');
let clock = BEGAN;
let server: TestServer;
beforeAll(async () => {
  server = await testServer(demoEstate(), undefined, () => new Date(clock));
});
afterAll(() => server.stop());
beforeEach(() => {
  clock = BEGAN;
});

const iso = (hours: number) => new Date(BEGAN + hours * HOUR).toISOString();
const plan = (id: string, body: object, as: 'specialist' | 'help-desk' | 'manager' = 'help-desk') =>
  server.ask('POST', `/api/people/${id}/planned-status`, { as, body });
const planned = async (id: string) =>
  (await server.ask('GET', `/api/people/${id}/planned-status`, { as: 'manager' })).body
    .planned as readonly PlannedStatus[];
const statusOf = async (id: string) =>
  (await server.ask('GET', `/api/people/${id}`, { as: 'specialist' })).body.person.status as string;
const services = () => {
  const db = openDb(server.config);
  return { db, store: estateStore(db), now: () => new Date(clock) };
};
async function at(hours: number): Promise<void> {
  clock = BEGAN + hours * HOUR;
  const own = services();
  await applyPlanned(own);
  await own.db.end();
}

test('leave begins and ends by itself, and afterwards the status is as it was', async () => {
  const before = await statusOf('ines');
  const answer = await plan('ines', { status: 'on-leave', from: iso(1), to: iso(3) });
  expect(answer).toMatchObject({
    status: 201,
    body: { planned: [{ status: 'on-leave', state: 'planned' }] },
  });
  await at(0.9);
  expect(await statusOf('ines')).toBe(before);
  await at(1);
  expect(await statusOf('ines')).toBe('on-leave');
  expect(await planned('ines')).toMatchObject([{ state: 'on' }]);
  await at(2.9);
  expect(await statusOf('ines')).toBe('on-leave');
  await at(3);
  expect(await statusOf('ines')).toBe(before);
  expect(await planned('ines')).toEqual([]);
  const { body } = await server.ask('GET', '/api/record?person=ines&kind=status-set', { as: 'specialist' });
  expect((body.entries as { why: string }[]).map(({ why }) => why).slice(0, 2)).toEqual([
    'as it was before what was planned',
    'as planned',
  ]);
});

test('two servers at the same moment set it once', async () => {
  await plan('tomasz', { status: 'away', from: iso(1), to: iso(3) });
  clock = BEGAN + HOUR;
  const both = [services(), services()];
  await Promise.all([...both, ...both].map((each) => applyPlanned(each)));
  await Promise.all(both.map(({ db }) => db.end()));
  const { body } = await server.ask('GET', '/api/record?person=tomasz&kind=status-set', { as: 'specialist' });
  expect((body.entries as { why: string }[]).filter(({ why }) => why === 'as planned')).toHaveLength(1);
  expect(await statusOf('tomasz')).toBe('away');
});

test('killed at whichever statement, it has begun with its record and what comes back, or not at all', async () => {
  await plan('owen', { status: 'on-leave', from: iso(1), to: iso(3) });
  const before = await statusOf('owen');
  const begun = async () => {
    const [db] = [openDb(server.config)];
    const [plan] = await openPlans(db, 'owen');
    await db.end();
    const { body } = await server.ask('GET', '/api/record?person=owen&kind=status-set', { as: 'specialist' });
    const told = (body.entries as { why?: string }[]).filter(({ why }) => why === 'as planned').length;
    return [await statusOf('owen'), plan?.state, plan?.backTo ?? null, told];
  };
  let points = 0;
  for (let at = 1; at < 80; at += 2) {
    await workKilledAt(server.config, ['planned'], at, new Date(BEGAN + HOUR));
    const state = await begun();
    const isOn = state[1] === 'on';
    expect(state).toEqual(isOn ? ['on-leave', 'on', before, 1] : [before, 'planned', null, 0]);
    if (isOn) break;
    points += 1;
  }
  expect(points).toBeGreaterThan(3);
});

test('whoever sets another status meanwhile keeps it; what was over while no server ran never begins', async () => {
  await plan('ruth', { status: 'on-leave', from: iso(1), to: iso(3) });
  await at(1);
  await server.ask('PUT', '/api/people/ruth/status', { as: 'help-desk', body: { status: 'away' } });
  await at(5);
  expect(await statusOf('ruth')).toBe('away');
  const before = await statusOf('jonah');
  clock = BEGAN;
  await plan('jonah', { status: 'on-leave', from: iso(1), to: iso(2) });
  await at(9);
  expect(await statusOf('jonah')).toBe(before);
  expect(await planned('jonah')).toEqual([]);
});

test('one that is planned is taken back before it begins; one that is on ends at once', async () => {
  const before = await statusOf('amara');
  const [first] = (await plan('amara', { status: 'away', from: iso(1), to: iso(3) })).body
    .planned as PlannedStatus[];
  const end = (id: number) =>
    server.ask('DELETE', `/api/people/amara/planned-status/${id}`, { as: 'help-desk' });
  expect((await end(first!.id)).body.planned).toEqual([]);
  expect((await end(first!.id)).status).toBe(404);
  await at(1);
  expect(await statusOf('amara')).toBe(before);
  clock = BEGAN;
  const [second] = (await plan('amara', { status: 'away', from: iso(1), to: iso(3) })).body
    .planned as PlannedStatus[];
  await at(1.5);
  expect(await statusOf('amara')).toBe('away');
  expect((await end(second!.id)).status).toBe(200);
  expect(await statusOf('amara')).toBe(before);
});

test.each([
  [{ status: 'none-such', from: iso(10), to: iso(11) }, 'status'],
  [{ status: 'away', from: iso(11), to: iso(10) }, 'to'],
  [{ status: 'away', from: iso(-3), to: iso(-2) }, 'to'],
  [{ status: 'away', from: iso(10), to: iso(40_000) }, 'to'],
  [{ status: 'away', from: 'tomorrow', to: iso(11) }, 'from'],
])('%j is refused beside its field', async (body, path) => {
  expect(await plan('noor', body)).toMatchObject({ status: 400, body: { faults: [{ path }] } });
  expect(await planned('noor')).toEqual([]);
});

test('two that meet are refused; a manager only looks; somebody who is gone is told', async () => {
  expect((await plan('priya', { status: 'away', from: iso(1), to: iso(3) })).status).toBe(201);
  expect((await plan('priya', { status: 'on-leave', from: iso(2), to: iso(4) })).body.faults).toMatchObject([
    { path: 'from' },
  ]);
  expect((await plan('priya', { status: 'on-leave', from: iso(3), to: iso(4) })).status).toBe(201);
  expect((await plan('priya', { status: 'away', from: iso(8), to: iso(9) }, 'manager')).status).toBe(403);
  expect((await plan('nobody', { status: 'away', from: iso(1), to: iso(3) })).status).toBe(404);
});
