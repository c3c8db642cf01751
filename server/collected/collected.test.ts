import pino from 'pino';
import type { CallsPage } from '../../api/calls';
import type { GroupLoadPage } from '../../api/phones';
import { readCsv } from '../../core/formats';
import { compileEstate, runCall } from '../../core/calls/engine';
import { readRecords, recordValues, type CallRecord } from '../../core/records';
import { workedCalls, workedEstate } from '../../core/tests/worked';
import type { Db } from '../db';
import { demoEstate, testServer, type TestServer } from '../test';
import { callKey, forgetOlder, openCollector, putCalls, readCalls, readRegistrationChanges } from '.';

let server: TestServer;
beforeAll(async () => {
  server = await testServer();
});
afterAll(() => server.stop());

const log = pino({ level: 'silent' });
const index = compileEstate(workedEstate());
const { call } = workedCalls()[0]!;
const trace = runCall(index, call);
const BEGAN = Date.parse('2026-11-24T18:00:00Z');
const DAY_MS = 86_400_000;
const of = async (from: number, to: number) =>
  (await readCalls(server.db, new Date(from), new Date(to), 1000)).map(({ body }) => body);

/** A collector with a clock of its own, and one call that went over it. */
function collected(keeper: Db, id: string, startMs = BEGAN) {
  let now = startMs;
  const collector = openCollector({ db: server.db, keeper, log, now: () => now });
  collector.callBegan(id, call, startMs);
  now += 6000;
  collector.callSettled(id, trace);
  now += 61_000;
  // What the phone system cannot write down any more, the server does.
  collector.systemEnded();
  return collector;
}

test('a call is kept with its legs and how long was talked, and reads as a call record', async () => {
  const collector = collected(server.keeper, 'a');
  await collector.close();
  const answer = await server.ask('GET', '/api/calls?from=2026-11-24T17:59:00Z&to=2026-11-24T18:01:00Z', {
    as: 'specialist',
  });
  expect(answer.headers.get('content-type')).toContain('application/jsonl');
  const values = recordValues(answer.text);
  if (!values.ok) throw new Error('no JSON lines');
  expect(readRecords(values.values)).toMatchObject({
    ok: true,
    records: [
      {
        id: 'a',
        startMs: BEGAN,
        from: call.from,
        to: call.to,
        outcome: trace.outcome.kind,
        talkMs: 61_000,
        legs: trace.legs,
      },
    ],
  });
  expect((await server.ask('GET', '/api/calls', { as: 'help-desk' })).status).toBe(403);
  expect((await server.ask('GET', '/api/calls?from=then', { as: 'specialist' })).status).toBe(400);
});

test('more calls than come at once come part by part, none twice and none left out', async () => {
  const start = BEGAN + 10 * DAY_MS;
  const ids = Array.from({ length: 5003 }, (_, n) => `many-${n}`);
  const collector = openCollector({ ...server, log, now: () => start + 1 });
  for (const id of ids) {
    collector.callBegan(id, call, start + 1);
    collector.callSettled(id, trace);
  }
  collector.systemEnded();
  for (let rounds = 0; rounds < 12; rounds++) await collector.flush();
  await collector.close();
  const span = `from=${new Date(start).toISOString()}&to=${new Date(start + 2).toISOString()}`;
  const part = async (after: string | null) => {
    const answer = await server.ask('GET', `/api/calls?${span}${after === null ? '' : `&after=${after}`}`, {
      as: 'specialist',
    });
    const got = answer.text
      .split('\n')
      .filter(Boolean)
      .map((line) => (JSON.parse(line) as { id: string }).id);
    return { got, last: answer.headers.get('x-last-call') };
  };
  const first = await part(null);
  const second = await part(first.last);
  expect([first.got.length, second.got.length, second.last]).toEqual([5000, 3, null]);
  expect(new Set([...first.got, ...second.got])).toEqual(new Set(ids));
  // Thirty-two at once are all answered.
  const many = await Promise.all(Array.from({ length: 32 }, () => part(first.last)));
  expect(many.every(({ got }) => got.length === 3)).toBe(true);
  // As a file all of them come in one piece, in either form.
  const file = async (form: string) =>
    (await server.ask('GET', `/api/calls/export?form=${form}&${span}`, { as: 'specialist' })).text;
  const lines = (await file('jsonl')).split('\n').filter(Boolean);
  expect(new Set(lines.map((line) => (JSON.parse(line) as { id: string }).id))).toEqual(new Set(ids));
  const csv = readCsv(await file('csv'));
  if (!csv.ok) throw new Error('no table');
  expect(csv.table.headings[0]).toBe('id');
  expect(new Set(csv.table.rows.map(({ cells: [id] }) => id))).toEqual(new Set(ids));
  const phones = readCsv(await file('csv&each=phone'));
  if (!phones.ok) throw new Error('no table');
  expect(phones.table.rows).toHaveLength(ids.length * Math.max(1, trace.legs.length));
  expect((await server.ask('GET', `/api/calls/export?${span}`, { as: 'manager' })).status).toBe(403);
  // Beside each other too, each whole.
  const sizes = await Promise.all(Array.from({ length: 32 }, async () => (await file('jsonl')).length));
  expect(new Set(sizes)).toEqual(new Set([lines.join('\n').length + 1]));
});

test('one call told of by two servers, or twice, is one record', async () => {
  const start = BEGAN + DAY_MS;
  await Promise.all(['b', 'b'].map((id) => collected(server.keeper, id, start).close()));
  expect(await of(start, start + 1)).toHaveLength(1);
});

test('a call that never came to an outcome is none; those of a phone system that ends are kept as far as they went', async () => {
  const start = BEGAN + 2 * DAY_MS;
  const collector = openCollector({ ...server, log, now: () => start });
  collector.callBegan('c', call, start);
  collector.callBegan('d', call, start);
  collector.callSettled('d', trace);
  collector.systemEnded();
  await collector.close();
  expect((await of(start, start + 1)).map((body) => (JSON.parse(body) as { id: string }).id)).toEqual(['d']);
});

test('while the database does not answer it waits, and is written once it does', async () => {
  const start = BEGAN + 3 * DAY_MS;
  let broken = true;
  const db: Db = {
    ...server.keeper,
    query: ((...args: Parameters<Db['query']>) =>
      broken ? Promise.reject(new Error('gone')) : server.keeper.query(...args)) as Db['query'],
  };
  const collector = collected(db, 'e', start);
  await collector.flush();
  expect(await of(start, start + 1)).toEqual([]);
  broken = false;
  await collector.close();
  expect(await of(start, start + 1)).toHaveLength(1);
});

test('more than can be written is let go of, not kept in memory without end', async () => {
  const db: Db = { ...server.db, query: (() => Promise.reject(new Error('gone'))) as Db['query'] };
  const collector = openCollector({ ...server, db, log });
  const change = { user: 'u', endpoint: 'flood', state: 'registered', transport: 'udp' } as const;
  for (let n = 0; n < 50_000; n++) collector.registration(change);
  await collector.close();
  expect(await readRegistrationChanges(server.db, 'flood', 10)).toEqual([]);
});

test('what is older than it is kept for is deleted, and nothing else', async () => {
  const start = BEGAN - 200 * DAY_MS;
  await collected(server.keeper, 'old', start).close();
  const collector = openCollector({ ...server, log, now: () => start });
  collector.registration({ user: 'u', endpoint: 'old-phone', state: 'expired', transport: 'tcp' });
  await collector.close();
  expect(await forgetOlder(server.db, server.keeper, new Date(start))).toBe(0);
  expect(await readRegistrationChanges(server.db, 'old-phone', 5)).toMatchObject([
    { state: 'expired', transport: 'tcp' },
  ]);
  expect(await forgetOlder(server.db, server.keeper, new Date(start + 1))).toBe(2);
  expect(await of(BEGAN, BEGAN + 1)).toHaveLength(1);
});

test('what came to a group is counted by half hour of its day', async () => {
  const group = demoEstate().groups[0]!;
  const id = (n: number) => `load ${n}`;
  const record = (n: number, startedAt: string, more: Partial<CallRecord> = {}) =>
    putCalls(server.keeper, [
      {
        id: id(n),
        startMs: Date.parse(startedAt),
        from: null,
        to: group.extension,
        outcome: 'answered',
        atMs: 4000,
        talkMs: 60_000,
        legs: [],
        ...more,
      },
    ]);
  const load = async () =>
    (await server.ask('GET', `/api/groups/${group.id}/load`, { as: 'help-desk' })).body as GroupLoadPage;
  expect(await load()).toMatchObject({ calls: 0, onDays: 0, talkS: null, answerS: null, slots: [] });
  await record(1, '2026-11-23T16:05:00Z');
  await record(2, '2026-11-23T16:29:00Z', { talkMs: 120_000, atMs: 8000 });
  await record(3, '2026-11-24T16:10:00Z', { outcome: 'abandoned', talkMs: 0 });
  await record(4, '2026-11-24T16:31:00Z', { to: '0000' });
  await record(5, '2026-10-01T16:05:00Z');
  expect(await load()).toEqual({
    days: 28,
    calls: 3,
    onDays: 2,
    talkS: 90,
    answerS: 6,
    slots: [{ at: '09:00', calls: 1.5 }],
  });
  expect((await server.ask('GET', '/api/groups/gone/load', { as: 'specialist' })).status).toBe(404);
});

test('calls that went are listed and searched by name, number and outcome, and numbers stay masked', async () => {
  await server.keeper.query('DELETE FROM call_record');
  const estate = demoEstate();
  const ines = estate.people.find((person) => person.id === 'ines')!;
  const { extension } = ines.lines[0]!;
  const desk = ines.endpoints[0]!;
  const common = {
    from: '+16045550199',
    to: extension,
    outcome: 'answered',
    atMs: 4000,
    talkMs: 9000,
  } as const;
  const put = (n: number, more: Partial<CallRecord>) =>
    putCalls(server.keeper, [
      { id: `list ${n}`, startMs: BEGAN + n * 1000, ...common, legs: [], source: 'live', ...more },
    ]);
  const end = 'connected' as const;
  await put(1, {
    answeredBy: desk.id,
    legs: [{ endpoint: desk.id, dialledMs: 0, alertMs: 300, endMs: 4000, end }],
  });
  await put(2, { from: null, to: '4290', outcome: 'unanswered', talkMs: 0 });
  for (let n = 10; n < 70; n += 1) await put(n, { to: '4999', from: '4998' });
  const page = async (query: string, as: 'specialist' | 'help-desk' = 'specialist') =>
    (await server.ask('GET', `/api/calls/page?${query}`, { as })).body as CallsPage;
  const ids = ({ calls }: CallsPage) => calls.map(({ id }) => id);
  const first = await page('');
  expect([first.calls.length, first.next]).toEqual([50, `c${BEGAN + 20_000}~list 20`]);
  const second = await page(`after=${encodeURIComponent(first.next!)}`);
  expect([second.calls.length, second.next]).toEqual([12, null]);
  expect(new Set([...ids(first), ...ids(second)]).size).toBe(62);
  expect(ids(await page('text=okafor'))).toEqual(['list 1']);
  expect(ids(await page('text=604 555-0199'))).toEqual(['list 1']);
  expect(ids(await page('outcome=unanswered'))).toEqual(['list 2']);
  expect(ids(await page('text=nobody of this name'))).toEqual([]);
  const [row] = (await page('text=okafor')).calls;
  expect(row).toMatchObject({
    toName: 'Ines Okafor',
    answeredBy: `Ines Okafor: ${desk.label}`,
    from: '+16045550199',
  });
  expect(row?.legs).toMatchObject([{ name: `Ines Okafor: ${desk.label}`, end: 'connected' }]);
  // The help desk finds calls by name and extension, and never a private number by its digits.
  expect((await page('text=okafor', 'help-desk')).calls[0]?.from).toContain('••••');
  expect(ids(await page(`text=${extension}`, 'help-desk'))).toEqual(['list 1']);
  expect(ids(await page('text=6045550199', 'help-desk'))).toEqual([]);
  expect((await server.ask('GET', '/api/calls/page', { as: 'staff' })).status).toBe(403);
});

describe('The messages of a call', () => {
  const peer = (port: number) => ({ transport: 'udp', host: '127.0.0.1', port }) as const;
  const PRIVATE = '+17785550123';
  const invite = `INVITE sip:4101@hostler SIP/2.0\r\nFrom: <sip:${PRIVATE}@hostler>;tag=a\r\nTo: <sip:4101@hostler>\r\nCall-ID: x\r\nCSeq: 1 INVITE\r\nVia: SIP/2.0/UDP 127.0.0.1:5070;branch=z9hG4bKa\r\nContent-Length: 0\r\n\r\n`;
  const began = BEGAN + 40 * DAY_MS;
  const ladder = (id: string, startMs = began) => ({
    id,
    startMs,
    messages: [{ atMs: -3, from: peer(5070), to: peer(5060), bytes: invite }],
  });
  const NAMES = { '127.0.0.1:5060': 'Phone system' };
  const path = (id: string, startMs = began) => `/api/calls/one/${callKey(new Date(startMs), id)}`;
  const put = async (id: string, ...ladders: readonly ReturnType<typeof ladder>[]) => {
    const collector = collected(server.keeper, id, began);
    for (const each of ladders) collector.ladder(each, NAMES);
    await collector.close();
  };

  test('are read whole by a specialist, masked by the help desk, and by nobody else', async () => {
    await put('with', ladder('with'), ladder('with'));
    const whole = await server.ask('GET', `${path('with')}/ladder`, { as: 'specialist' });
    expect(whole.body).toMatchObject({
      parties: [{ name: '127.0.0.1' }, { name: 'Phone system' }],
      rows: [{ atMs: -3, from: 0, to: 1, label: 'INVITE' }],
    });
    expect(whole.text).toContain(PRIVATE);
    for (const [as, query] of [
      ['help-desk', ''],
      ['specialist', '?masked=1'],
    ] as const)
      for (const what of ['ladder', 'capture']) {
        const { status, text } = await server.ask('GET', `${path('with')}/${what}${query}`, { as });
        expect([as, what, status]).toEqual([as, what, 200]);
        expect(text).not.toContain(PRIVATE);
        expect(text).toContain('+1778xxxxx23');
      }
    expect((await server.ask('GET', `${path('with')}/ladder`, { as: 'manager' })).status).toBe(403);
    expect((await server.ask('GET', path('with'), { as: 'specialist' })).body).toMatchObject({ messages: 1 });
  });

  test('are none where none were kept, and go with their calls', async () => {
    await put('without');
    expect((await server.ask('GET', path('without'), { as: 'specialist' })).body).toMatchObject({
      messages: 0,
    });
    expect((await server.ask('GET', `${path('without')}/ladder`, { as: 'specialist' })).status).toBe(404);
    expect((await server.ask('GET', '/api/calls/one/nothing/ladder', { as: 'specialist' })).status).toBe(404);
    await put('late', ladder('late'));
    await forgetOlder(server.db, server.keeper, new Date(began));
    expect((await server.ask('GET', `${path('late')}/ladder`, { as: 'specialist' })).status).toBe(200);
    await forgetOlder(server.db, server.keeper, new Date(began + 1));
    expect((await server.ask('GET', `${path('late')}/ladder`, { as: 'specialist' })).status).toBe(404);
  });
});
