import { mkdtempSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import pino from 'pino';
import type { OwnSeats, SeatNowPage, SeatStatesPage } from '../../api/seats';
import type { Trace } from '../../core/calls/engine';
import type { Estate, SeatPhone } from '../../core/estate';
import { workedEstate } from '../../core/tests/worked';
import { hashCode } from '../auth';
import { openDb } from '../db';
import { estateStore } from '../estate';
import type { Services } from '../http';
import { openKeyring, putSecret, removeSecret } from '../secrets';
import { noSwitchboard } from '../switchboard/switchboard';
import { testServer, type TestServer } from '../test';
import { workKilledAt } from '../test/killed';
import { seatByCode } from './at-phone';
import { endLostCalls, LOST_AFTER_MS } from './calls';
import { openSeats } from './queries';
import { changeSeat, signOnToSeat, type SeatWanted } from './sign-on';
import { followSeats } from './watch';
import { until as untilSo } from '../../standins/tests/until';

const BEGAN = Date.parse('2026-11-24T18:00:00Z');
let clock = BEGAN;
const ACCESS = '+12505550198';
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
  accessNumbers: [{ id: 'through', name: 'Call through', number: ACCESS, knows: true, pin: 'never' }],
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
  // An access number, and a line of somebody: calls of the seat would come back to the organisation.
  const line = estate.people.flatMap(({ lines }) => lines.flatMap(({ numbers }) => numbers))[0]!;
  for (const number of [ACCESS, line]) expect(await why('north', 'tomasz', { number })).toBe('own-number');
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
const until = (isSo: (now: SeatNowPage) => boolean) =>
  untilSo(async () => {
    const now = (await ask('GET', '/api/seats/north/now')).body as SeatNowPage;
    return isSo(now) && now;
  });
/** That calls go on is written by the way: waited for until it is there. */
const saidAlive = (sinceMs: number) =>
  untilSo(async () => {
    const [alive] = await server.db.query('SELECT 1 FROM seat_call WHERE alive_at >= ?', [new Date(sinceMs)]);
    return (alive as unknown[]).length > 0;
  });
const silent = pino({ level: 'silent' });

test('calls pause a seat that misses them, count those it takes, and are kept as they were offered', async () => {
  const own = another();
  const follow = followSeats(() => own, silent);
  await on('north', 'tomasz', APP);
  follow.callSettled('one', call('connected'));
  expect((await until(({ sitting }) => sitting?.calls === 1)).sitting?.state).toBe('on-call');
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

test('signing off and taking over in a call wait for its end, and no more calls come meanwhile', async () => {
  const own = another();
  const follow = followSeats(() => own, silent);
  const off = () => ask('POST', '/api/seats/north/sign-off', {});
  await on('north', 'tomasz', APP);
  follow.callSettled('one', call('connected'));
  await until(({ sitting }) => sitting?.calls === 1);
  const [first, again] = [await off(), await off()];
  expect([first.status, first.body, again.status]).toEqual([202, { waits: true }, 202]);
  expect((await states()).north).toMatchObject({ leaving: true, next: null, person: 'tomasz' });
  // They stay after all; then somebody takes over for the time after the call, and one more is told so.
  expect((await ask('PUT', '/api/seats/north/paused', { why: null })).status).toBe(204);
  expect((await states()).north).toMatchObject({ leaving: false, state: 'on-call' });
  const desk = { endpoint: 'ines-desk' };
  expect((await on('north', 'ines', desk)).body.why).toBe('taken');
  expect(await on('north', 'ines', desk, true)).toMatchObject({ status: 202, body: { waits: true } });
  const late = await on('north', 'ruth', { sip: 'sip:ruth@seats.example' }, true);
  expect([late.status, late.body.message]).toEqual([409, 'Ines Okafor waits for this seat already.']);
  expect((await states()).north).toMatchObject({ leaving: true, next: 'Ines Okafor', person: 'tomasz' });
  clock += 5000;
  follow.callOver('one');
  await until(({ sitting }) => sitting?.person === 'ines');
  expect((await states()).north).toMatchObject({ state: 'ready', calls: 0, leaving: false, at: desk });
  expect((await off()).status).toBe(204);
  const { entries } = (await ask('GET', '/api/record?person=tomasz', undefined, 'specialist')).body;
  expect((entries as { kind: string; detail: string }[])[0]).toMatchObject({
    kind: 'seat-sign-off',
    detail: 'Tomasz Bright, taken-over',
  });
  // A server that is gone in the middle: whoever looks after its calls lets them leave as well.
  await on('north', 'tomasz', APP);
  follow.callSettled('two', call('connected'));
  await until(({ sitting }) => sitting?.calls === 1);
  await off();
  follow.close();
  clock += LOST_AFTER_MS + 1;
  await Promise.all([endLostCalls(own), endLostCalls(own)]);
  expect(await states()).toEqual({});
  await own.end();
});

test('by its code at one’s own phone: on, taken over, paused, off', async () => {
  const own = another();
  const services = {
    ...own,
    secrets: openKeyring(join(mkdtempSync(join(tmpdir(), 'hostler-seat-')), 'keys.json')),
  };
  const dial = async (person: string, ...typed: string[]) => {
    const live = await own.store.current();
    const who = live.finder.person(person)!;
    const { says, asks } = await seatByCode(
      services,
      { live, person: who, endpoint: who.endpoints[0]!.id },
      typed,
    );
    return `${asks ? 'asks ' : ''}${says}`;
  };
  expect(await dial('ines')).toBe('asks The extension of the seat, then the hash key.');
  expect(await dial('ines', '9999')).toBe('There is no such seat.');
  expect(await dial('ines', '4551')).toBe('You are signed on to North, at this phone.');
  expect((await states()).north).toMatchObject({ person: 'ines', at: { endpoint: 'ines-desk' } });
  expect(await dial('tomasz', '4551')).toContain('asks Ines Okafor is signed on. 1 takes over');
  expect(await dial('tomasz', '4551', '9')).toBe('Nothing was changed.');
  expect((await states()).north?.person).toBe('ines');
  expect(await dial('ines')).toContain('asks You are signed on to North. 1 signs off, 2 pauses');
  expect(await dial('ines', '2')).toBe('North is paused.');
  expect((await states()).north).toMatchObject({ state: 'paused', why: 'from the phone' });
  expect(await dial('ines')).toContain('2 goes on');
  expect(await dial('ines', '2')).toBe('You take calls again at North.');
  expect(await dial('ines', '3', '4552')).toBe('You are signed on to South, at this phone.');
  expect(await dial('tomasz', '4551', '1')).toContain('You are signed on to North');
  expect(await dial('ines', '1')).toBe('You are signed off from South.');
  expect(Object.keys(await states())).toEqual(['north']);
  // A password is asked for where there is one; wrong ones are counted.
  await putSecret(own.db, services.secrets, 'password of seat south', await hashCode('773311'));
  expect(await dial('ines', '4552')).toBe('asks The password of South, then the hash key.');
  for (let n = 0; n < 5; n += 1) expect(await dial('ines', '4552', '000000')).toContain('not the password');
  expect(await dial('ines', '4552', '773311')).toContain('Too many wrong tries');
  await removeSecret(own.db, 'password of seat south');
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
  const says = clock;
  second.keepAlive();
  await saidAlive(says);
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
