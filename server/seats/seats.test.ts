import pino from 'pino';
import type { OwnSeats, SeatNowPage, SeatStatesPage } from '../../api/seats';
import type { Trace } from '../../core/calls/engine';
import type { Estate, SeatPhone } from '../../core/estate';
import { workedEstate } from '../../core/tests/worked';
import { openDb } from '../db';
import { estateStore } from '../estate';
import type { Services } from '../http';
import { noSwitchboard } from '../switchboard/switchboard';
import { testServer, type TestServer } from '../test';
import { workKilledAt } from '../test/killed';
import { endLostCalls, LOST_AFTER_MS } from './calls';
import { openSeats } from './queries';
import { changeSeat, signOnToSeat, type SeatWanted } from './sign-on';
import { followSeats } from './watch';

const BEGAN = Date.parse('2026-11-24T18:00:00Z');
let clock = BEGAN;
const worked = workedEstate();
const estate: Estate = {
  ...worked,
  // The first of the estate is whoever is signed in as staff.
  people: [
    worked.people.find(({ id }) => id === 'tomasz')!,
    ...worked.people.filter(({ id }) => id !== 'tomasz'),
  ],
  seats: [
    { id: 'north', name: 'North', extension: '4551', wrapUpMs: 30_000 },
    { id: 'south', name: 'South', extension: '4552' },
  ],
  groups: [
    ...worked.groups,
    {
      id: 'dispatch',
      name: 'Dispatch',
      extension: '4290',
      mode: 'by-rank',
      members: [{ seat: 'north' }, { seat: 'south', rank: 2 }],
      ringMs: 10_000,
      permission: 'coast',
      ending: { kind: 'hang-up', message: 'nobody' },
    },
  ],
};
let server: TestServer;
beforeAll(async () => {
  server = await testServer(estate, undefined, () => new Date(clock));
});
afterAll(() => server.stop());
beforeEach(async () => {
  clock = BEGAN;
  await server.db.query('DELETE FROM seat_sign_on');
  await server.db.query('DELETE FROM seat_offer');
  await server.db.query('DELETE FROM seat_call');
});

type As = 'specialist' | 'help-desk' | 'manager' | 'staff';
const ask = (method: string, path: string, body?: unknown, as: As = 'help-desk') =>
  server.ask(method, path, { as, body });
const on = (seat: string, person: string, at: SeatPhone, confirmed?: boolean) =>
  ask('POST', `/api/seats/${seat}/sign-on`, { person, at, ...(confirmed ? { confirmed } : {}) });
const states = async () =>
  ((await ask('GET', '/api/seats/now', undefined, 'specialist')).body as SeatStatesPage).seats;
const APP = { endpoint: 'tomasz-app' };
function another(): Pick<Services, 'db' | 'store' | 'now' | 'phones'> & {
  readonly end: () => Promise<void>;
} {
  const db = openDb(server.config);
  return {
    db,
    store: estateStore(db),
    now: () => new Date(clock),
    phones: noSwitchboard,
    end: () => db.end(),
  };
}
const wanted = (person: string): SeatWanted => ({
  seat: 'north',
  person,
  at: { sip: `sip:${person}@seats.example` },
  credential: 'right',
  confirmed: false,
  who: 'a test',
});

test('signed on at a phone, read back; taken over when that is confirmed; signed off', async () => {
  expect((await on('north', 'tomasz', { number: '250 555 0188' })).status).toBe(200);
  expect(await states()).toMatchObject({
    north: { person: 'tomasz', at: { number: '+12505550188' }, state: 'ready' },
  });
  // The same again, many times at once, changes nothing.
  const again = await Promise.all(
    Array.from({ length: 32 }, () => on('north', 'tomasz', { number: '250 555 0188' })),
  );
  expect(new Set(again.map(({ status }) => status))).toEqual(new Set([200]));
  const taken = await on('north', 'ines', { endpoint: 'ines-desk' });
  expect([taken.status, taken.body.why, taken.body.mayConfirm]).toEqual([409, 'taken', true]);
  expect(taken.body.message).toContain('is signed on to this seat');
  expect((await on('north', 'ines', { endpoint: 'ines-desk' }, true)).status).toBe(200);
  expect((await states()).north?.name).toBe('Ines Okafor');
  expect((await ask('POST', '/api/seats/north/sign-off', {})).status).toBe(204);
  expect((await ask('POST', '/api/seats/north/sign-off', {})).status).toBe(409);
  const { entries } = (await ask('GET', '/api/record?kind=seat-sign-off', undefined, 'specialist')).body;
  expect((entries as { detail: string }[]).map(({ detail }) => detail)).toEqual([
    'Ines Okafor, by-specialist',
    'Tomasz Bright, taken-over',
  ]);
});

test('who may not is told why beside what they asked', async () => {
  const why = async (seat: string, person: string, at: SeatPhone) => (await on(seat, person, at)).body.why;
  expect(await why('gone', 'tomasz', APP)).toBe('no-such-seat');
  expect(await why('north', 'gone', APP)).toBe('no-such-person');
  expect(await why('north', 'ines', APP)).toBe('no-such-phone');
  expect(await why('north', 'tomasz', { number: '+442079460000' })).toBe('not-permitted');
  expect((await on('north', 'tomasz', { number: 'x' })).status).toBe(400);
  expect((await ask('POST', '/api/seats/north/sign-on', { person: 'tomasz' })).status).toBe(400);
  expect(
    (await ask('POST', '/api/seats/north/sign-on', { person: 'tomasz', at: APP }, 'manager')).status,
  ).toBe(403);
  expect(await states()).toEqual({});
});

test('twenty at one seat at the same instant, over two servers: one sits there', async () => {
  const servers = [another(), another()];
  const all = await Promise.allSettled(
    servers.flatMap((each) => worked.people.map(({ id }) => signOnToSeat(each, wanted(id)))),
  );
  const done = all.flatMap((each) =>
    each.status === 'fulfilled' && each.value.ok ? [each.value.person.id] : [],
  );
  expect(new Set(done).size).toBe(1);
  expect((await openSeats(server.db)).map(({ person }) => person)).toEqual([done[0]]);
  // Changes at the same instant are each taken into account.
  await Promise.all(
    servers.flatMap((each) =>
      [1, 2].map(() => changeSeat(each, 'north', (before) => ({ ...before, misses: before.misses + 1 }))),
    ),
  ).catch(() => undefined);
  expect((await openSeats(server.db))[0]?.misses).toBeGreaterThan(0);
  await Promise.all(servers.map(({ end }) => end()));
});

/** A call to the group that Tomasz's app, at a seat, answers or does not. */
const call = (end: Trace['legs'][number]['end']): Trace => ({
  outcome: { kind: 'answered', atMs: 9000, endpoint: 'tomasz-app' },
  legs: [{ endpoint: 'tomasz-app', dialledMs: 0, alertMs: 1200, endMs: 9000, end }],
  events: [],
  path: [{ group: 'dispatch' }],
  trunkMs: 0,
});
/** What is followed goes on by itself: asked until it is so. */
const until = async (isSo: (now: SeatNowPage) => boolean) => {
  for (let tries = 0; tries < 400; tries += 1) {
    const now = (await ask('GET', '/api/seats/north/now')).body as SeatNowPage;
    if (isSo(now)) return now;
  }
  throw new Error('it never came to be so');
};
const silent = pino({ level: 'silent' });

test('calls pause a seat that misses them, count those it takes, and are kept as they were offered', async () => {
  const own = another();
  const follow = followSeats(() => own, silent);
  await on('north', 'tomasz', APP);
  follow.callSettled('one', call('connected'));
  expect((await until(({ sitting }) => sitting?.calls === 1)).sitting?.state).toBe('on-call');
  expect((await ask('POST', '/api/seats/north/sign-off', {})).status).toBe(409);
  expect((await on('north', 'ines', { endpoint: 'ines-desk' }, true)).body.why).toBe('in-call');
  clock += 60_000;
  follow.callOver('one');
  expect((await until(({ sitting }) => sitting?.calls === 0)).sitting?.state).toBe('wrap-up');
  clock += 30_000;
  expect((await states()).north?.state).toBe('ready');
  follow.callSettled('two', call('no-answer'));
  follow.callSettled('three', call('rejected'));
  const paused = await until(({ sitting }) => sitting?.state === 'paused');
  expect(paused.sitting?.why).toBe('missed 2 calls in a row');
  expect(paused.offered.map(({ end, talkedMs }) => [end, talkedMs])).toEqual([
    ['rejected', null],
    ['no answer', null],
    ['connected', 60_000],
  ]);
  expect((await ask('PUT', '/api/seats/north/paused', { why: null })).status).toBe(204);
  expect((await states()).north).toMatchObject({ state: 'ready', misses: 0, why: null });
  // The phone system began anew: calls of before are over.
  follow.callSettled('four', call('connected'));
  await until(({ sitting }) => sitting?.calls === 1);
  follow.systemEnded();
  await until(({ sitting }) => sitting?.calls === 0);
  follow.close();
  await own.end();
});

test('a call whose server is gone is given up once; those of another server go on', async () => {
  const [gone, stays] = [another(), another()];
  const [first, second] = [followSeats(() => gone, silent), followSeats(() => stays, silent)];
  await on('north', 'tomasz', APP);
  first.callSettled('lost', call('connected'));
  await until(({ sitting }) => sitting?.calls === 1);
  second.callSettled('goes on', call('connected'));
  await until(({ sitting }) => sitting?.calls === 2);
  // The phone system of the second begins anew, and knows nothing of what the first carries.
  second.systemEnded();
  await until(({ sitting }) => sitting?.calls === 1);
  second.callSettled('once more', call('connected'));
  await until(({ sitting }) => sitting?.calls === 2);
  // The first is killed here: nobody says any more that its call goes on.
  first.close();
  clock += LOST_AFTER_MS - 60_000;
  second.keepAlive();
  await Promise.all([endLostCalls(gone), endLostCalls(stays)]);
  expect((await states()).north?.calls).toBe(2);
  clock += 60_001;
  for (let tries = 0; tries < 3; tries += 1) await Promise.all([endLostCalls(gone), endLostCalls(stays)]);
  expect((await states()).north?.calls).toBe(1);
  // What its server has never said is over ends all the same once, and no other call with it.
  first.callOver('lost');
  second.callOver('once more');
  await until(({ sitting }) => sitting?.calls === 0);
  expect((await ask('POST', '/api/seats/north/sign-off', {})).status).toBe(204);
  const [left] = await server.db.query('SELECT * FROM seat_call');
  expect(left).toEqual([]);
  second.close();
  await Promise.all([gone.end(), stays.end()]);
});

test('killed at whichever statement, a sign-on to a seat and a pause are there with their record, or not', async () => {
  const count = async () => {
    const [[row]] = (await server.db.query(
      `SELECT (SELECT COUNT(*) FROM seat_sign_on) AS sat, (SELECT COUNT(*) FROM seat_sign_on WHERE paused_why IS NOT NULL) AS paused,
         (SELECT COUNT(*) FROM record_entry WHERE kind LIKE 'seat-%') AS told`,
    )) as unknown as [[Record<'sat' | 'paused' | 'told', number>]];
    return { sat: Number(row.sat), paused: Number(row.paused), told: Number(row.told) };
  };
  await on('north', 'ines', { endpoint: 'ines-desk' });
  for (const [work, given, more] of [
    ['seat', JSON.stringify({ ...wanted('tomasz'), confirmed: true }), { sat: 1, paused: 0, told: 2 }],
    ['pause', 'north', { sat: 0, paused: 1, told: 1 }],
  ] as const) {
    const before = await count();
    let points = 0;
    for (let at = 1; at < 30; at += 1) {
      await workKilledAt(server.config, [work, given], at, new Date(clock));
      const after = await count();
      if (after.told !== before.told) {
        expect(after).toEqual({
          sat: before.sat + more.sat,
          paused: before.paused + more.paused,
          told: before.told + more.told,
        });
        break;
      }
      expect(after).toEqual(before);
      points += 1;
    }
    expect(points).toBeGreaterThan(2);
  }
  expect((await states()).north).toMatchObject({ person: 'tomasz', state: 'paused', why: 'lunch' });
});

test('from the own page: with the seat’s password, at one’s own phone, paused and left again', async () => {
  const mine = async () => (await ask('GET', '/api/own/seats', undefined, 'staff')).body as OwnSeats;
  const password = (given: string | null) =>
    ask('PUT', '/api/seats/south/password', { password: given }, 'specialist');
  expect((await password('12')).status).toBe(400);
  expect((await password('773311')).status).toBe(204);
  // One's own numbers are read back whole.
  expect((await mine()).phones).toContainEqual({
    id: 'tomasz-mobile',
    label: 'Mobile',
    number: '+17785550102',
  });
  expect((await mine()).seats).toMatchObject([
    { id: 'north', groups: ['Dispatch'], needsPassword: false },
    { id: 'south', needsPassword: true },
  ]);
  const signOn = (seat: string, body: object) =>
    ask('POST', `/api/own/seats/${seat}/sign-on`, { at: APP, ...body }, 'staff');
  expect((await signOn('south', {})).body.faults).toEqual([{ path: 'password', message: 'is missing' }]);
  expect((await signOn('south', { password: '111111' })).body.why).toBe('wrong-password');
  expect((await signOn('south', { password: '773311' })).status).toBe(200);
  expect((await mine()).seats[1]?.mine?.state).toBe('ready');
  expect((await ask('PUT', '/api/own/seats/south/paused', { why: 'lunch' }, 'staff')).status).toBe(204);
  expect((await states()).south).toMatchObject({ state: 'paused', why: 'lunch' });
  expect((await ask('POST', '/api/own/seats/north/sign-off', {}, 'staff')).status).toBe(409);
  expect((await ask('POST', '/api/own/seats/south/sign-off', {}, 'staff')).status).toBe(204);
  for (let n = 0; n < 6; n += 1) await signOn('south', { password: '000000' });
  expect((await signOn('south', { password: '773311' })).body.why).toBe('locked');
  expect((await password(null)).status).toBe(204);
});
