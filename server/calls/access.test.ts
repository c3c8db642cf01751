import type { ResultSetHeader } from 'mysql2/promise';
import type { AccessPrediction } from '../../api/calls';
import type { CallRecord } from '../../core/records';
import { USED_UP } from '../../core/calls/out';
import type { AccessNumber, DayLimit, Estate } from '../../core/estate';
import type { CallBack } from '../../standins/system';
import { putCalls } from '../collected';
import type { Services } from '../http';
import { noSwitchboard } from '../switchboard/none';
import { demoEstate, NOW, PLACE, testServer, type TestServer } from '../test';
import { answerAccess, hungUpAtAccess } from './access';
import { callOver, grantCall } from './limits';

const demo = demoEstate();
const me = demo.people[0]!;
const mobile = me.endpoints.find(({ kind }) => kind === 'mobile')!;
const { extension } = me.lines[0]!;
const OUT: AccessNumber = { id: 'test-out', name: 'Out', number: '+12505550901' };
const PIN: AccessNumber = { id: 'test-pin', name: 'With PIN', number: '+12505550902', pin: 'always' };
const BACK: AccessNumber = { id: 'test-back', name: 'Back', number: '+12505550903', hangUp: 'calls-back' };
const THEIRS = '+16045550199';
const limited = (dayLimit: DayLimit): Estate => ({
  ...demo,
  accessNumbers: [...(demo.accessNumbers ?? []), OUT, PIN, BACK],
  permissions: demo.permissions.map((each) => (each.id === me.permission ? { ...each, dayLimit } : each)),
});

let server: TestServer;
let services: Services;
const placed: CallBack[] = [];
beforeAll(async () => {
  server = await testServer(limited({ minutes: 30 }), (given) => {
    const phones = {
      ...noSwitchboard,
      place: () => PLACE,
      callBack: (order: CallBack) => {
        placed.push(order);
        return true;
      },
    };
    services = { ...given, phones };
    return phones;
  });
});
afterAll(() => server.stop());
beforeEach(() => server.db.query('DELETE FROM call_grant'));

let calls = 0;
/** A call to an access number. @returns what is said to each thing that is typed, or what is called */
async function ring(access: AccessNumber, from: string | null, ...typed: readonly string[]) {
  calls += 1;
  const called = { call: `call ${calls}`, access: access.id, from, isVerified: true };
  const replies = [];
  for (const each of [null, ...typed]) {
    const { says, dials } = await answerAccess(services, { ...called, typed: each });
    replies.push(dials ?? says);
  }
  return replies;
}
const TONE = 'The number, then the hash key.';

test('whoever is known types a number and calls it with their own number, for as long as is left of the day', async () => {
  expect(await ring(OUT, mobile.number!, '604 555 0199'.replace(/ /g, ''))).toEqual([
    TONE,
    {
      person: me.id,
      extension,
      number: THEIRS,
      callerId: me.lines[0]!.numbers[0],
      isWithheld: false,
      mostMs: 30 * 60_000,
    },
  ]);
});

test('an extension is called inside, by no limit of the day', async () => {
  const { extension: other } = demo.people[1]!.lines[0]!;
  const called = { call: 'to an extension', access: OUT.id, from: mobile.number!, isVerified: true };
  await answerAccess(services, { ...called, typed: null });
  expect(await answerAccess(services, { ...called, typed: other })).toEqual({
    says: '',
    asks: false,
    dialsIn: { from: extension, to: other },
  });
  const { body } = await server.ask('POST', `/api/access/${OUT.id}/prediction`, {
    as: 'specialist',
    body: { from: mobile.number!, isVerified: true, typed: [other] },
  });
  expect((body as AccessPrediction).calls).toEqual({ number: other, shows: extension });
});

test('a PIN is checked, counted and locked; what is typed at one extension after the other is too', async () => {
  const { body } = await server.ask('POST', `/api/people/${me.id}/pin`, { as: 'specialist', body: {} });
  const { pin } = body as { pin: string };
  expect(pin).toMatch(/^\d{4,}$/);
  expect((await ring(PIN, mobile.number!, pin)).at(-1)).toBe(TONE);
  const wrong = await ring(PIN, mobile.number!, '000001', '000002', '000003', pin);
  expect(wrong.slice(1)).toEqual([
    'This is not right. Your PIN, then the hash key.',
    'This is not right. Your PIN, then the hash key.',
    'This is not right. Goodbye.',
    'This did not work. Try again later.',
  ]);
  expect((await ring(PIN, mobile.number!, '000004', '000005', '000006')).at(-1)).toContain(
    'too many wrong PINs',
  );
  expect((await ring(PIN, mobile.number!, pin)).at(-1)).toContain('too many wrong PINs');
  const guesses = [];
  for (let n = 0; n < 12; n += 1) guesses.push((await ring(OUT, '+17785550998', `99${n}1`, '000001')).at(-1));
  expect(guesses.slice(0, 10).every((each) => String(each).startsWith('This is not right.'))).toBe(true);
  expect(guesses.slice(10)).toEqual(Array(2).fill('There were too many wrong PINs. Try again later.'));
});

test('whoever hangs up is called back at their own phone alone, and asked for the number there', async () => {
  placed.length = 0;
  const called = { call: 'x', access: BACK.id, isVerified: true };
  await hungUpAtAccess(services, { ...called, from: mobile.number! });
  expect(placed).toMatchObject([
    { person: me.id, endpoint: mobile.id, mobile: mobile.number, number: null, access: BACK.id },
  ]);
  await hungUpAtAccess(services, { ...called, from: '+17785550998' });
  await hungUpAtAccess(services, { ...called, from: null });
  await hungUpAtAccess(services, { ...called, access: OUT.id, from: mobile.number! });
  expect(placed).toHaveLength(1);
});

test('what comes of a call is computed for the specialist alone, and what is asked is checked', async () => {
  const path = `/api/access/${OUT.id}/prediction`;
  const ask = (body: object, as: 'specialist' | 'staff' | 'manager' = 'specialist', at = path) =>
    server.ask('POST', at, { as, body });
  const { body } = await ask({ from: mobile.number, typed: ['6045550199', '1'] });
  expect(body as AccessPrediction).toEqual({
    says: [TONE],
    calls: { number: THEIRS, shows: me.lines[0]!.numbers[0] },
    note: 'What was typed last is not heard any more.',
  });
  for (const wrong of [
    { from: '604' },
    { typed: [] },
    { from: null, typed: ['abc'] },
    { from: null, typed: Array(7).fill('1') },
    { from: null, typed: ['1'.repeat(21)] },
    { from: null, pin: '1' },
  ])
    expect((await ask(wrong)).status).toBe(400);
  expect((await ask({ from: null }, 'staff')).status).toBe(403);
  expect((await ask({ from: null }, 'manager')).status).toBe(403);
  expect((await ask({ from: null }, 'specialist', '/api/access/no-such/prediction')).status).toBe(404);
  // Without a phone system nothing is tried.
  expect((await ask({ from: null }, 'specialist', `/api/access/${OUT.id}/try`)).status).toBe(503);
});

const record = (id: string, minutes: number): CallRecord => ({
  id,
  startMs: Date.parse(NOW) - 60_000,
  from: extension,
  to: THEIRS,
  outcome: 'answered',
  atMs: 2000,
  answeredBy: THEIRS,
  talkMs: minutes * 60_000,
  legs: [{ endpoint: THEIRS, dialledMs: 0, alertMs: 500, answerMs: 2000, endMs: 2000, end: 'connected' }],
  source: 'live',
});

test('calls at once do not get the same minutes twice, over two servers or one; a record frees what it did not take', async () => {
  const live = await services.store.current();
  const grant = (id: string) => grantCall(services, live, me, { id, number: THEIRS, trunk: null });
  const granted = await Promise.all(Array.from({ length: 6 }, (_, n) => grant(`at once ${n}`)));
  const got = granted.flatMap((each) => (each === 'refused' ? [] : [each.mostMs]));
  expect(got).toEqual([30 * 60_000]);
  const [taken] = granted.flatMap((each, n) => (each === 'refused' ? [] : [`at once ${n}`]));
  await putCalls(services.keeper, [record(taken!, 12)]);
  expect(await grant('next')).toEqual({ mostMs: 18 * 60_000 });
});

test('a call that is over counts for as long as it went; one of a server that is gone counts no more', async () => {
  const live = await services.store.current();
  const grant = (id: string, run: number | null = null) =>
    grantCall({ ...services, self: { ...services.self, run } }, live, me, {
      id,
      number: THEIRS,
      trunk: null,
    });
  const first = await grant('over at once');
  expect(first).not.toBe('refused');
  await callOver({ ...services, now: () => new Date(Date.parse(NOW) + 60_000) }, { id: 'over at once' });
  const left = first === 'refused' ? null : first.mostMs! - 60_000;
  expect(await grant('next')).toEqual({ mostMs: left });
  // It goes on, and is granted all that is left.
  expect(await grant('at the same time')).toBe('refused');
  await server.db.query('DELETE FROM call_grant');
  const [run] = await server.db.query<ResultSetHeader>(
    `INSERT INTO server_run (host, pid, port, version, started_at, seen_at)
     VALUES ('elsewhere', 1, 1, 'x', UTC_TIMESTAMP(3), UTC_TIMESTAMP(3))`,
  );
  expect(await grant('over there', run.insertId)).not.toBe('refused');
  expect(await grant('here')).toBe('refused');
  await server.db.query('UPDATE server_run SET seen_at = seen_at - INTERVAL 5 MINUTE WHERE id = ?', [
    run.insertId,
  ]);
  expect(await grant('here')).not.toBe('refused');
});

test('that a limit is reached is told once on Today and by the way to call, and a call back is refused', async () => {
  await putCalls(services.keeper, [record('long', 40)]);
  for (let n = 0; n < 2; n += 1) {
    const back = await server.ask('POST', '/api/me/call-back', {
      as: 'staff',
      body: { number: THEIRS, phone: mobile.id },
    });
    expect([back.status, JSON.stringify(back.body)]).toEqual([
      429,
      expect.stringContaining('as much today as your permission allows'),
    ]);
  }
  expect((await ring(OUT, mobile.number!, '6045550199')).at(-1)).toContain('as much today');
  const { body: computed } = await server.ask('POST', `/api/access/${OUT.id}/prediction`, {
    as: 'specialist',
    body: { from: mobile.number, typed: ['6045550199'] },
  });
  expect(computed).toMatchObject({ says: [TONE, USED_UP], calls: null });
  const { alerts } = (await server.ask('GET', '/api/server', { as: 'specialist' })).body as {
    alerts: { kind: string; says: string }[];
  };
  expect(alerts.filter(({ kind }) => kind === 'limit')).toMatchObject([
    { says: expect.stringContaining(me.name) as string },
  ]);
  const { ways } = (
    await server.ask('GET', `/api/me/calling?number=${encodeURIComponent(THEIRS)}`, { as: 'staff' })
  ).body as { ways: { kind: string; works: boolean; why: string }[] };
  const access = ways.filter(({ kind }) => kind === 'access' || kind === 'call-back');
  expect(access.length).toBeGreaterThan(1);
  expect(access.every(({ works, why }) => !works && why.includes('as much today'))).toBe(true);
});
