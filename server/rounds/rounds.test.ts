import { mkdtempSync, readFileSync, existsSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import pino from 'pino';
import type {
  NeverCallPage,
  RecordingsPage,
  RoundNumbersPage,
  RoundPage,
  RoundsPage,
} from '../../api/rounds';
import { writeWav } from '../../core/formats';
import type { CallEnd } from '../../core/rounds';
import { workedEstate } from '../../core/tests/worked';
import { openDb } from '../db';
import { estateStore } from '../estate';
import { noSwitchboard, type Switchboard } from '../switchboard/switchboard';
import { PLACE, testServer, type TestServer } from '../test';
import { workKilledAt } from '../test/killed';
import { runRounds } from './run';

// Noon in Vancouver.
const BEGAN = Date.parse('2026-11-24T19:00:00Z');
let clock = BEGAN;
const worked = workedEstate();
const estate = { ...worked, trunks: worked.trunks.map((each) => ({ ...each, channels: 30 })) };
const permission = estate.permissions.find(({ allow }) => allow.includes('national'))!.id;
let server: TestServer;
beforeAll(async () => {
  server = await testServer(estate, undefined, () => new Date(clock));
});
afterAll(() => server.stop());
beforeEach(async () => {
  clock = BEGAN;
  for (const table of ['call_round', 'round_number', 'round_try', 'never_call'])
    await server.db.query(`DELETE FROM ${table}`);
});

type As = 'specialist' | 'help-desk' | 'manager' | 'staff';
const ask = (method: string, path: string, body?: unknown, as: As = 'specialist') =>
  server.ask(method, path, { as, body });
const SOUND = writeWav(
  Int16Array.from({ length: 16_000 }, (_each, n) => 9000 * Math.sin(n / 5)),
  16_000,
);
const ZONE = 'America/Vancouver';
const number = (n: number) => `+1236555${String(1000 + n)}`;
const listOf = (count: number) =>
  [
    'Number,Name,Zone',
    ...Array.from({ length: count }, (_each, n) => `${number(n)},Guest ${n},${ZONE}`),
  ].join('\n');
const page = async (id: number, as: As = 'specialist') =>
  (await ask('GET', `/api/rounds/${id}`, undefined, as)).body as RoundPage;
const numbers = async (id: number, query = '', as: As = 'specialist') =>
  ((await ask('GET', `/api/rounds/${id}/numbers${query}`, undefined, as)).body as RoundNumbersPage).numbers;
async function step(id: number, name: string, as: As = 'specialist') {
  const { version } = await page(id);
  return ask('POST', `/api/rounds/${id}/${name}`, { version }, as);
}
/** A round with a recording and a list, as far as it is wanted. */
async function made(list: string, plan: object = {}, until: readonly string[] = ['ask', 'approve', 'start']) {
  const recording = (await ask('POST', '/api/recordings?name=Cancelled', SOUND)).body.id as number;
  const id = (await ask('POST', '/api/rounds', { name: 'Sailing cancelled' })).body.id as number;
  const before = await page(id);
  const put = await ask('PUT', `/api/rounds/${id}`, {
    version: before.version,
    plan: { ...before.plan, recording, permission, keepFree: 0, ...plan },
  });
  expect(put.status).toBe(200);
  const sent = await ask('PUT', `/api/rounds/${id}/list?name=list.csv&version=${put.body.version}`, list);
  expect(sent.status).toBe(200);
  for (const name of until)
    expect((await step(id, name, name === 'approve' ? 'manager' : 'specialist')).status).toBe(200);
  return id;
}

/** A server with a phone system that does as a test says. */
function caller(does: (number: string, nth: number) => CallEnd | null) {
  const db = openDb(server.config);
  const placed: string[] = [];
  const played: (readonly string[])[] = [];
  const going = new Map<string, string>();
  let most = 0;
  const phones: Switchboard = {
    ...noSwitchboard,
    place: () => PLACE,
    callListed: (call, { message, keys }) => {
      expect(message.muLaw.length).toBe(8000);
      played.push(Object.entries(keys).map(([key, sound]) => `${key} ${sound?.muLaw.length ?? 'again'}`));
      placed.push(call.number);
      going.set(call.id, call.number);
      most = Math.max(most, going.size);
      const end = does(call.number, placed.filter((each) => each === call.number).length);
      if (end !== null) setImmediate(() => over(call.id, end));
      return true;
    },
  };
  const runs = runRounds(
    () => ({ db, store: estateStore(db), now: () => new Date(clock), phones }),
    pino({ level: 'silent' }),
  );
  const over = (id: string, end: CallEnd, keys?: string) => {
    if (!going.delete(id)) return;
    runs.ended(id, { end, playedMs: end === 'no-answer' ? 0 : 900, ...(keys ? { keys } : {}) });
  };
  return {
    placed,
    played,
    going,
    over,
    most: () => most,
    look: runs.look,
    end: async () => {
      await runs.close();
      await db.end();
    },
  };
}
/** Looks again and again until it is so. */
async function until(look: () => Promise<void>, isSo: () => Promise<boolean>) {
  for (let tries = 0; tries < 500; tries += 1) {
    await look();
    if (await isSo()) return;
  }
  throw new Error('it never came to be so');
}

test('from the list to the report: approved by another, called as the plan says, nobody beyond the tries', async () => {
  const list = [
    'Number,Name,Zone,Cabin',
    `${number(0)},Ona,${ZONE},12`,
    `${number(0)},Ona again,${ZONE},13`,
    `${number(1)},Pip,${ZONE},`,
    `${number(2)},Far,Asia/Tokyo,`,
    `911,Help,${ZONE},`,
    `${number(3)},Never,${ZONE},`,
    `${number(4)},Busy,${ZONE},`,
  ].join('\n');
  const id = await made(list, { tries: 2, pauseMinutes: 10, atOnce: 2 }, ['ask']);
  expect(await page(id)).toMatchObject({
    state: 'asked',
    total: 7,
    counts: { waiting: 4, 'not-allowed-now': 1, 'bad-number': 1, refused: 1 },
    missing: [],
    whyNotApprove: 'Somebody other than its maker must approve this round.',
  });
  // Whoever made it does not approve it; nothing is called before somebody else has.
  expect((await step(id, 'approve')).status).toBe(403);
  expect((await step(id, 'start')).status).toBe(409);
  expect((await page(id, 'manager')).whyNotApprove).toBeNull();
  expect((await numbers(id, '', 'manager'))[0]?.number).toMatch(/••••/);
  expect((await step(id, 'approve', 'manager')).status).toBe(200);
  const does: Record<string, CallEnd> = {
    [number(0)]: 'key-1',
    [number(1)]: 'no-answer',
    [number(3)]: 'key-9',
  };
  const first = caller((called) => does[called] ?? 'busy');
  await first.look();
  expect(first.placed).toEqual([]);
  expect((await step(id, 'start')).status).toBe(200);
  await until(
    first.look,
    async () =>
      Object.keys((await page(id)).counts).every((state) => state !== 'calling') && first.placed.length === 4,
  );
  expect(first.most()).toBeLessThanOrEqual(2);
  expect(await page(id)).toMatchObject({
    state: 'running',
    counts: { heard: 1, 'never-call': 1, waiting: 2, 'not-allowed-now': 1 },
  });
  // After the pause it is called again, and no more after the last try; nine at night in Tokyo is too late.
  clock += 600_000;
  await until(
    first.look,
    async () => first.placed.length === 6 && ((await page(id)).counts.waiting ?? 0) === 0,
  );
  expect((await page(id)).nextAt).toBe('2026-11-24T17:00:00-07:00');
  // Nine in the morning there.
  clock = Date.parse('2026-11-25T00:00:30Z');
  await until(first.look, async () => (await page(id)).state === 'running' && first.placed.length === 7);
  clock += 600_000;
  await until(first.look, async () => (await page(id)).state === 'done');
  expect(first.placed.filter((each) => each === number(0))).toHaveLength(1);
  const report = (await ask('GET', `/api/rounds/${id}/report.csv`)).text.split('\r\n');
  expect(report[0]).toBe('line,number,name,zone,result,why,tries,last called,seconds played,Cabin');
  expect(report.slice(1, -1).map((line) => line.split(',').slice(1, 7))).toEqual([
    [number(0), 'Ona', ZONE, 'heard', 'pressed 1', '1'],
    [number(0), 'Ona again', ZONE, 'refused', 'stands in line 2 already', '0'],
    [number(1), 'Pip', ZONE, 'no answer', '', '2'],
    [number(2), 'Far', 'Asia/Tokyo', 'busy', '', '2'],
    ['911', 'Help', ZONE, 'bad number', 'is an emergency number', '0'],
    [number(3), 'Never', ZONE, 'never call', 'pressed 9: never again', '1'],
    [number(4), 'Busy', ZONE, 'busy', '', '2'],
  ]);
  // Whoever pressed 9 is called by no round any more.
  const never = ((await ask('GET', '/api/never-call')).body as NeverCallPage).numbers;
  expect(never).toMatchObject([{ number: number(3), why: 'pressed 9 in Sailing cancelled' }]);
  const next = await made(listOf(4), {}, []);
  expect((await page(next)).counts).toEqual({ waiting: 3, 'never-call': 1 });
  await first.end();
});

test('a step that many take at the same instant is taken once, and is in the record once', async () => {
  const id = await made(listOf(3), {}, []);
  const before = ((await ask('GET', '/api/record?kind=round-stopped')).body as { entries: unknown[] }).entries
    .length;
  for (const [name, as] of [
    ['ask', 'specialist'],
    ['approve', 'manager'],
    ['start', 'specialist'],
    ['pause', 'specialist'],
    ['stop', 'specialist'],
  ] as const) {
    const { version } = await page(id);
    const all = await Promise.all(
      Array.from({ length: 32 }, () => ask('POST', `/api/rounds/${id}/${name}`, { version }, as)),
    );
    expect(all.filter(({ status }) => status === 200)).toHaveLength(1);
    expect(new Set(all.map(({ status }) => status))).toEqual(new Set([200, 409]));
  }
  const { entries } = (await ask('GET', '/api/record?kind=round-stopped')).body as { entries: unknown[] };
  expect(entries).toHaveLength(before + 1);
  expect((await page(id)).state).toBe('stopped');
});

test('what is changed after approval must be approved anew, and of two changes at once one is refused', async () => {
  const id = await made(listOf(3), {}, ['ask', 'approve']);
  const { plan, version } = await page(id);
  const both = await Promise.all(
    [7, 8].map((atOnce) => ask('PUT', `/api/rounds/${id}`, { version, plan: { ...plan, atOnce } })),
  );
  expect(both.map(({ status }) => status).sort()).toEqual([200, 409]);
  expect(await page(id)).toMatchObject({ state: 'draft', approvedBy: null });
  expect((await step(id, 'start')).status).toBe(409);
  // A number put on the never-call list after the list was judged is not called.
  await step(id, 'ask');
  await step(id, 'approve', 'manager');
  expect((await ask('POST', '/api/never-call', { number: number(1) })).status).toBe(201);
  await step(id, 'start');
  const one = caller(() => 'listened');
  await until(one.look, async () => (await page(id)).state === 'done');
  expect(one.placed.sort()).toEqual([number(0), number(2)]);
  await one.end();
});

test('paused, nothing more is called; two servers at once call nobody twice; stopped, the rest is not called', async () => {
  const id = await made(listOf(120), { atOnce: 20, tries: 1 });
  const both = [caller(() => 'key-1'), caller(() => 'key-1')];
  await Promise.all(both.map(({ look }) => look()));
  expect((await step(id, 'pause')).status).toBe(200);
  await until(
    async () => void (await Promise.all(both.map(({ look }) => look()))),
    async () => ((await page(id)).counts.calling ?? 0) === 0,
  );
  const before = both.flatMap(({ placed }) => placed).length;
  await Promise.all(both.map(({ look }) => look()));
  expect(both.flatMap(({ placed }) => placed)).toHaveLength(before);
  await step(id, 'resume');
  await until(
    async () => void (await Promise.all(both.map(({ look }) => look()))),
    async () => (await page(id)).state === 'done',
  );
  const placed = both.flatMap((each) => each.placed);
  expect(placed).toHaveLength(120);
  expect(new Set(placed).size).toBe(120);
  expect((await page(id)).counts).toEqual({ heard: 120 });
  await Promise.all(both.map(({ end }) => end()));
  const second = await made(listOf(30), { atOnce: 5 });
  const third = caller(() => null);
  await third.look();
  expect((await step(second, 'stop')).status).toBe(200);
  expect((await step(second, 'resume')).status).toBe(409);
  expect(third.placed).toHaveLength(5);
  await third.end();
});

test('a server that ends in the middle: its calls are not known, listed and never made again; the next goes on', async () => {
  const id = await made(listOf(12), { atOnce: 4, tries: 3 });
  const [gone, next] = [caller(() => null), caller(() => 'key-1')];
  await gone.look();
  expect(gone.placed).toHaveLength(4);
  // While the first is alive the second calls nobody of this round.
  await next.look();
  expect(next.placed).toEqual([]);
  await server.db.query('UPDATE call_round SET alive_at = alive_at - INTERVAL 1 MINUTE');
  await until(next.look, async () => (await page(id)).state === 'done');
  expect(next.placed).toHaveLength(8);
  expect(next.placed.filter((each) => gone.placed.includes(each))).toEqual([]);
  expect((await numbers(id, '?state=unknown')).map((each) => each.number)).toEqual(gone.placed);
  // The first was only slow: what it tells of its calls is put right, but nobody is called again.
  const [answered, busy] = [...gone.going.keys()];
  gone.over(answered!, 'key-1');
  gone.over(busy!, 'busy');
  await until(gone.look, async () => ((await page(id)).counts.unknown ?? 0) === 3);
  expect((await page(id)).counts).toEqual({ heard: 9, unknown: 3 });
  await Promise.all([gone.end(), next.end()]);
});

test('killed at whichever statement, nobody is called twice and nobody is forgotten', async () => {
  const told = join(mkdtempSync(join(tmpdir(), 'hostler-round-')), 'placed');
  const calledBy = () => (existsSync(told) ? readFileSync(told, 'utf8').split('\n').filter(Boolean) : []);
  const id = await made(listOf(40), { atOnce: 3, tries: 1 });
  let points = 0;
  for (let at = 1; at < 60; at += 1) {
    const before = calledBy().length;
    await workKilledAt(server.config, ['round', told], at, new Date(clock));
    await server.db.query('UPDATE call_round SET alive_at = alive_at - INTERVAL 1 MINUTE');
    points += 1;
    if (calledBy().length > before) {
      // It placed its calls, and was ended while they went on: a few more of these, and it is enough.
      if (points > 14) break;
    }
  }
  const killed = calledBy();
  expect(killed.length).toBeGreaterThan(0);
  expect(new Set(killed).size).toBe(killed.length);
  const last = caller(() => 'key-1');
  await until(last.look, async () => (await page(id)).state === 'done');
  // Whoever was called before is not called again; the others are called once, or listed as not known.
  const unknown = (await numbers(id, '?state=unknown')).map((each) => each.number);
  expect(last.placed.filter((each) => killed.includes(each))).toEqual([]);
  expect(new Set(last.placed).size).toBe(last.placed.length);
  expect(new Set([...unknown, ...last.placed]).size).toBe(40);
  for (const each of killed) expect(unknown).toContain(each);
  await last.end();
});

test('bad input is answered in words, and nothing is half done', async () => {
  const id = await made(listOf(2), {}, []);
  const put = async (body: string | Uint8Array) =>
    ask('PUT', `/api/rounds/${id}/list?name=x&version=${(await page(id)).version}`, body);
  expect((await put('Name,Zone\nA,B')).body.placed[0].message).toContain('no column is headed "number"');
  expect((await put(listOf(20_001))).body.placed[0].message).toContain(
    '20000 is the most that is read at once',
  );
  expect((await put('Number,Zone\n')).status).toBe(422);
  expect((await put(new Uint8Array([0xff, 0xfe, 0x00]))).status).toBe(422);
  expect((await page(id)).total).toBe(2);
  const { plan, version } = await page(id);
  const wrong = async (more: object) =>
    (await ask('PUT', `/api/rounds/${id}`, { version, plan: { ...plan, ...more } })).body.faults?.[0]
      ?.path as string;
  expect(await wrong({ atOnce: 51 })).toBe('plan.atOnce');
  expect(await wrong({ hours: { from: '25:00', to: '20:00' } })).toBe('plan.hours.from');
  expect(await wrong({ permission: 'gone' })).toBe('plan.permission');
  expect(await wrong({ recording: 999 })).toBe('plan.recording');
  const wav = async (bytes: Uint8Array) =>
    (await ask('POST', '/api/recordings?name=x', bytes)).body.message as string;
  expect(await wav(writeWav(new Int16Array(8000 * 301), 8000))).toContain('301 s; 300 s is the most');
  expect(await wav(new Uint8Array(1000))).toContain('no WAV file');
  expect((await ask('POST', '/api/recordings', SOUND)).status).toBe(400);
  for (const as of ['help-desk', 'staff'] as const)
    expect((await ask('GET', '/api/rounds', undefined, as)).status).toBe(403);
  expect((await ask('POST', '/api/rounds', { name: 'x' }, 'manager')).status).toBe(403);
  expect((await ask('POST', '/api/never-call', { number: 'x' })).body.faults[0].path).toBe('number');
});

test('a round and a recording that are removed can be brought back; a running round is not removed', async () => {
  const id = await made(listOf(2));
  expect((await ask('DELETE', `/api/rounds/${id}`)).status).toBe(409);
  await step(id, 'stop');
  expect((await ask('DELETE', `/api/rounds/${id}`)).status).toBe(204);
  const all = async () => (await ask('GET', '/api/rounds')).body as RoundsPage;
  expect(await all()).toMatchObject({ rounds: [], removed: [{ id, name: 'Sailing cancelled' }] });
  expect((await ask('POST', `/api/rounds/${id}/restore`)).status).toBe(204);
  expect((await all()).rounds).toMatchObject([{ id, state: 'stopped', total: 2 }]);
  const recordings = async () => ((await ask('GET', '/api/recordings')).body as RecordingsPage).recordings;
  const [newest, ...rest] = await recordings();
  expect(newest).toMatchObject({ name: 'Cancelled', ms: 1000 });
  const heard = await ask('GET', `/api/recordings/${newest!.id}/sound`);
  expect(heard.headers.get('content-type')).toBe('audio/wav');
  await ask('DELETE', `/api/recordings/${newest!.id}`);
  expect(await recordings()).toEqual(rest);
  await ask('POST', `/api/recordings/${newest!.id}/restore`);
  expect((await recordings())[0]).toEqual(newest);
});

test('keys play other recordings, and the report says which were pressed', async () => {
  const other = (await ask('POST', '/api/recordings?name=Next sailing', SOUND)).body.id as number;
  const keys = [
    { key: '2', play: null },
    { key: '3', play: other },
  ];
  const id = await made(`Number,Name,Zone\n${number(70)},Ona,${ZONE}`, { keys });
  expect((await page(id)).keys).toEqual([
    { key: '2', recording: null },
    { key: '3', recording: expect.objectContaining({ id: other, name: 'Next sailing' }) },
  ]);
  const calls = caller(() => null);
  await calls.look();
  expect(calls.played).toEqual([['2 again', '3 8000']]);
  calls.over([...calls.going.keys()][0]!, 'key-1', '3');
  await until(calls.look, async () => (await page(id)).state === 'done');
  const { body } = await ask('GET', `/api/rounds/${id}/numbers`);
  expect(body.numbers[0]).toMatchObject({ state: 'heard', why: 'pressed 3, then pressed 1' });
  await calls.end();
});

test('keys of a round are each checked: no key twice, none that has its meaning, no recording that is not there', async () => {
  const id = await made(`Number,Name,Zone\n${number(71)},Ona,${ZONE}`, {}, []);
  const { version, plan } = await page(id);
  for (const [keys, path] of [
    [[{ key: '1', play: null }], 'plan.keys[0].key'],
    [[{ key: '2', play: 999_999 }], 'plan.keys[0].play'],
    [[{ key: '2' }], 'plan.keys[0].play'],
    [
      [
        { key: '2', play: null },
        { key: '2', play: null },
      ],
      'plan.keys',
    ],
  ] as const) {
    const { status, body } = await ask('PUT', `/api/rounds/${id}`, { version, plan: { ...plan, keys } });
    expect([status, body.faults?.[0]?.path]).toEqual([400, path]);
  }
  expect((await page(id)).plan.keys).toBeUndefined();
});
