import type { RowDataPacket } from 'mysql2/promise';
import type { CallImport } from '../../api/calls';
import { estateStore } from '../estate';
import { testServer, type TestServer } from '../test';
import { takeUpCallImports } from './imports';
import { until as untilSo } from '../../standins/tests/until';

let server: TestServer;
beforeAll(async () => {
  server = await testServer();
});
afterAll(() => server.stop());

const as = 'specialist' as const;
const HEAD = 'start,from,to,result,wait,talk';
const row = (n: number) =>
  `2026-10-${String(1 + (n % 28)).padStart(2, '0')} ${String(8 + (n % 9)).padStart(2, '0')}:${String(n % 60).padStart(2, '0')}:${String(Math.floor(n / 60) % 60).padStart(2, '0')},+1604555${String(100 + (n % 100)).padStart(4, '0')},4101,answered,${5 + (n % 9)},60`;
const fileOf = (rows: readonly string[]) => `${[HEAD, ...rows].join('\n')}\n`;

async function send(name: string, text: string, partBytes = 2_000_000): Promise<number> {
  const { body } = await server.ask('POST', `/api/call-imports?name=${encodeURIComponent(name)}`, { as });
  const bytes = new TextEncoder().encode(text);
  const { id } = body as { id: number };
  for (let at = 0, part = 0; at < bytes.length; at += partBytes, part += 1) {
    const answer = await server.ask('PUT', `/api/call-imports/${id}/parts/${part}`, {
      as,
      body: bytes.slice(at, at + partBytes),
      headers: { 'Content-Type': 'application/octet-stream' },
    });
    expect(answer.status).toBe(200);
  }
  return id;
}
const get = async (id: number) =>
  (await server.ask('GET', `/api/call-imports/${id}`, { as })).body as CallImport;
const until = (id: number, isThere: (job: CallImport) => boolean): Promise<CallImport> =>
  untilSo(async () => {
    const job = await get(id);
    if (!isThere(job) && job.state === 'failed') throw new Error(job.found?.why ?? 'failed');
    return isThere(job) && job;
  }, 100_000);
const look = async (id: number, choices?: object) => {
  expect((await server.ask('POST', `/api/call-imports/${id}/look`, { as, body: choices ?? {} })).status).toBe(
    202,
  );
  return until(id, ({ state }) => state === 'looked');
};
const take = async (id: number) => {
  expect((await server.ask('POST', `/api/call-imports/${id}/take`, { as })).status).toBe(202);
  return until(id, ({ state }) => state === 'taken');
};
const kept = async (): Promise<number> => {
  const [[count]] = await server.db.query<RowDataPacket[]>('SELECT COUNT(*) AS n FROM call_record');
  return Number(count?.n);
};

test('a table is looked through, shown, taken in by the month, and nothing of it comes in twice', async () => {
  const rows = Array.from({ length: 2500 }, (_, n) => row(n));
  const old = '2025-01-01 10:00:00,4102,4101,answered,5,60';
  const id = await send('october.csv', fileOf([...rows, 'soon,1,4101,answered,1,1', old]), 40_000);
  const looked = await look(id);
  expect(looked).toMatchObject({
    rows: 2502,
    // One is older than calls are kept: it would be deleted again.
    found: {
      calls: 2500,
      tooOld: 1,
      faultCount: 1,
      faults: [{ line: 2502, column: 1 }],
      isUnsure: false,
      why: null,
    },
  });
  expect(looked.sample[0]).toMatchObject({ toName: 'Ines Okafor', isImported: true });
  expect(await kept()).toBe(0);
  expect(await take(id)).toMatchObject({ calls: 2500, added: 2500 });
  expect(await kept()).toBe(2500);
  const [[part]] = await server.db.query<RowDataPacket[]>(
    "SELECT partition_name AS name FROM information_schema.partitions WHERE table_schema = DATABASE() AND table_name = 'call_record' AND partition_name = 'm202610'",
  );
  expect(part?.name).toBe('m202610');
  const again = await send('october again.csv', fileOf([...rows, row(2600)]));
  await look(again);
  expect(await take(again)).toMatchObject({ calls: 2501, added: 1 });
  expect(await kept()).toBe(2501);
  // What came with a file goes with it, and nothing else.
  expect((await server.ask('DELETE', `/api/call-imports/${again}`, { as })).status).toBe(204);
  expect(await kept()).toBe(2500);
  const record = (await server.ask('GET', '/api/record', { as })).body as { entries: { kind: string }[] };
  expect(record.entries.map(({ kind }) => kind)).toEqual(
    expect.arrayContaining(['calls-imported', 'calls-import-removed']),
  );
  expect((await server.ask('DELETE', `/api/call-imports/${id}`, { as })).status).toBe(204);
});

test('what columns and words mean can be said, and is remembered by the headings', async () => {
  const text = 'wann,wer,wohin,wie\n05/10/2026 08:00,4102,4101,sort of\n06/10/2026 08:00,4102,4101,ok\n';
  const id = await send('odd.csv', text);
  await server.ask('POST', `/api/call-imports/${id}/look`, { as, body: {} });
  const first = await until(id, ({ state }) => state === 'looked');
  expect(first.found?.why).toContain('No column says');
  expect((await server.ask('POST', `/api/call-imports/${id}/take`, { as })).status).toBe(409);
  const choices = {
    columns: { start: 0, from: 1, to: 2, outcome: 3 },
    dates: 'dmy',
    timeZone: 'Europe/Berlin',
    isByLeg: false,
    joinWithinS: 3,
    words: {},
  };
  const second = await look(id, choices);
  expect(second.found).toMatchObject({
    calls: 1,
    faultCount: 1,
    words: expect.arrayContaining([expect.objectContaining({ word: 'sort of', means: null })]) as unknown,
  });
  const third = await look(id, { ...choices, words: { sortof: 'mailbox' } });
  expect(third.found).toMatchObject({ calls: 2, faultCount: 0 });
  expect(third.sample.map(({ at, outcome }) => [at, outcome])).toEqual([
    ['2026-10-05T06:00:00.000Z', 'mailbox'],
    ['2026-10-06T06:00:00.000Z', 'answered'],
  ]);
  await take(id);
  const next = await look(await send('odd too.csv', text.replace('05/10', '07/10')));
  expect(next.found?.choices).toMatchObject({
    timeZone: 'Europe/Berlin',
    dates: 'dmy',
    words: { sortof: 'mailbox' },
  });
  for (const bad of [
    { columns: { nonsense: 1 } },
    { columns: { to: 5000 } },
    { timeZone: 'Mars/Base' },
    { words: { a: 1 } },
  ])
    expect((await server.ask('POST', `/api/call-imports/${id}/look`, { as, body: bad })).status).toBe(400);
});

test('JSON lines come in as they went out; what is none is told by its line', async () => {
  const call = {
    id: 'from elsewhere',
    startAt: '2026-10-01T10:00:00Z',
    from: '+16045550199',
    to: '4101',
    outcome: 'answered',
    atMs: 5,
    talkMs: 6,
    legs: [],
  };
  const id = await send(
    'calls.jsonl',
    `${JSON.stringify(call)}\n{"id":1}\nnot json\n${JSON.stringify(call)}\n`,
  );
  const looked = await look(id);
  expect(looked.found).toMatchObject({ rows: 4, calls: 1, faultCount: 3 });
  expect(looked.found?.faults.map(({ line }) => line)).toEqual([2, 3, 4]);
  expect(await take(id)).toMatchObject({ added: 1 });
});

test('a list of JSON comes in as lines do; one that is cut off gives what is whole of it, and says so', async () => {
  const call = (id: string) => ({
    id,
    startAt: '2026-10-02T10:00:00Z',
    from: '+16045550199',
    to: '4101',
    outcome: 'answered',
    atMs: 5,
    talkMs: 6,
    legs: [],
  });
  const text = JSON.stringify([call('list 1'), { id: 1 }, call('list 2')], null, 1);
  const id = await send('calls.json', text);
  expect((await look(id)).found).toMatchObject({ rows: 3, calls: 2, faultCount: 1 });
  expect(await take(id)).toMatchObject({ added: 2 });
  const cut = await send('cut.json', text.slice(0, -40));
  const looked = await look(cut);
  expect(looked.found).toMatchObject({ calls: 1 });
  expect(looked.found?.faults.at(-1)?.message).toBe('the list does not end: the file is cut off');
});

test('stopped half way it goes on from there; killed half way another server takes it up; each call once', async () => {
  const before = await kept();
  const rows = Array.from({ length: 9000 }, (_, n) => row(n));
  const id = await send('large.csv', fileOf(rows));
  await look(id);
  await server.ask('POST', `/api/call-imports/${id}/take`, { as });
  await until(id, ({ calls, state }) => calls > 0 || state === 'taken');
  const stopped = await server.ask('POST', `/api/call-imports/${id}/stop`, { as });
  expect([200, 409]).toContain(stopped.status);
  const half = await until(id, ({ state }) => state === 'stopped' || state === 'taken');
  expect(half.calls).toBeLessThanOrEqual(9000);
  // Nobody has been heard of for a while: as after a kill, with a step that was written and not noted.
  await server.db.query(
    "UPDATE call_import SET state = 'taking', calls_done = GREATEST(0, calls_done - 1000), seen_at = UTC_TIMESTAMP(3) - INTERVAL 1 HOUR WHERE id = ?",
    [id],
  );
  const services = {
    db: server.db,
    keeper: server.keeper,
    store: estateStore(server.db),
    now: () => new Date(),
  };
  await Promise.all([1, 2, 3].map(() => takeUpCallImports(services)));
  expect(await until(id, ({ state }) => state === 'taken')).toMatchObject({ calls: 9000, added: 9000 });
  expect((await kept()) - before).toBe(9000);
  expect((await server.ask('POST', `/api/call-imports/${id}/take`, { as })).status).toBe(409);
});

test('files that are no files are refused in words, at whichever step', async () => {
  const tooWide = await send(
    'wide.csv',
    `${Array.from({ length: 10_000 }, (_, n) => `c${n}`).join(',')}\n1\n`,
  );
  await server.ask('POST', `/api/call-imports/${tooWide}/look`, { as, body: {} });
  const wide = await until(tooWide, ({ state }) => state === 'looked');
  expect(wide.found?.why).toContain('10000 columns');
  const { body } = await server.ask('POST', '/api/call-imports?name=none.csv', { as });
  expect(
    (await server.ask('POST', `/api/call-imports/${(body as { id: number }).id}/look`, { as, body: {} }))
      .status,
  ).toBe(400);
  expect((await server.ask('PUT', `/api/call-imports/${tooWide}/parts/-1`, { as, body: 'x' })).status).toBe(
    400,
  );
  expect((await server.ask('GET', '/api/call-imports/999999', { as })).status).toBe(404);
  expect((await server.ask('GET', '/api/call-imports', { as: 'help-desk' })).status).toBe(403);
  const large = await server.ask('PUT', `/api/call-imports/${(body as { id: number }).id}/parts/0`, {
    as,
    body: new Uint8Array(3 * 1024 * 1024),
    headers: { 'Content-Type': 'application/octet-stream' },
  });
  expect(large.status).toBe(413);
});

test('thirty-two at once: one file is taken in once, whoever asks', async () => {
  const id = await send('once.csv', fileOf([row(90_001)]));
  await look(id);
  const answers = await Promise.all(
    Array.from({ length: 32 }, () => server.ask('POST', `/api/call-imports/${id}/take`, { as })),
  );
  expect(answers.filter(({ status }) => status === 202)).toHaveLength(1);
  expect(answers.every(({ status }) => status === 202 || status === 409)).toBe(true);
  await until(id, ({ state }) => state === 'taken');
});
