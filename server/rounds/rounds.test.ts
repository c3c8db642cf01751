import { mkdtempSync, readFileSync, existsSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { NeverCallPage, RecordingsPage, RoundsPage } from '../../api/rounds';
import { writeWav } from '../../core/formats';
import type { CallEnd } from '../../core/rounds';
import { workKilledAt } from '../test/killed';

import { SOUND, ZONE, listOf, number, roundTests, until } from '../test/rounds';

const { state, ask, page, numbers, step, made, caller } = roundTests();

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
  state.clock += 600_000;
  await until(
    first.look,
    async () => first.placed.length === 6 && ((await page(id)).counts.waiting ?? 0) === 0,
  );
  expect((await page(id)).nextAt).toBe('2026-11-24T17:00:00-07:00');
  // Nine in the morning there.
  state.clock = Date.parse('2026-11-25T00:00:30Z');
  await until(first.look, async () => (await page(id)).state === 'running' && first.placed.length === 7);
  state.clock += 600_000;
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
  await state.server.db.query('UPDATE call_round SET alive_at = alive_at - INTERVAL 1 MINUTE');
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
    await workKilledAt(state.server.config, ['round', told], at, new Date(state.clock));
    await state.server.db.query('UPDATE call_round SET alive_at = alive_at - INTERVAL 1 MINUTE');
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
