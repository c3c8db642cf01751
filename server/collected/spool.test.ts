import { mkdirSync, mkdtempSync, readdirSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import pino from 'pino';
import type { Db } from '../db';
import { openSpool } from '../../standins/spool';
import type { CallRecord } from '../../core/records';
import { freshDatabase, type TestDb } from '../test';
import { readCalls } from './queries';
import { takeInSpool } from './spool';

let own: TestDb;
beforeAll(async () => {
  own = await freshDatabase();
});
afterAll(() => own.drop());

const log = pino({ level: 'silent' });
const START = Date.parse('2026-11-24T18:00:00Z');
const record = (id: string, n = 0): CallRecord => ({
  id,
  startMs: START + n,
  from: '+16045550199',
  to: '4101',
  outcome: 'abandoned',
  atMs: 5000,
  talkMs: 0,
  legs: [{ endpoint: 'd1', dialledMs: 0, alertMs: 300, endMs: 5000, end: 'caller-gone', trunk: 't1' }],
  source: 'live',
});
const folder = () => mkdtempSync(join(tmpdir(), 'hostler-spool-'));
const kept = async () =>
  (await readCalls(own.db, new Date(START), new Date(START + 10_000), 100)).map(
    ({ body }) => JSON.parse(body) as { id: string; legs: unknown[] },
  );

test('what is put stands on the disk, whole, and is taken in once by however many servers', async () => {
  const at = folder();
  const spool = openSpool(at, 'one');
  await Promise.all(Array.from({ length: 40 }, (_, n) => spool.put(record(`c${n}`, n))));
  expect(readdirSync(at).every((name) => name.endsWith('.jsonl'))).toBe(true);
  const added = await Promise.all([1, 2, 3].map(() => takeInSpool(own.keeper, at, log)));
  expect(added.reduce((sum, n) => sum + n, 0)).toBe(40);
  expect(readdirSync(at)).toEqual([]);
  expect((await kept()).find(({ id }) => id === 'c7')?.legs).toEqual(record('c7').legs);
  await spool.close();
});

test('a server that ended between writing and deleting writes nothing twice', async () => {
  const at = folder();
  const spool = openSpool(at, 'two');
  await spool.put(record('again', 500));
  const dying: Db = {
    ...own.keeper,
    query: ((...args: Parameters<Db['query']>) =>
      own.keeper.query(...args).then(() => Promise.reject(new Error('killed')))) as Db['query'],
  };
  await expect(takeInSpool(dying, at, log)).rejects.toThrow('killed');
  expect(readdirSync(at)).toHaveLength(1);
  expect(await takeInSpool(own.keeper, at, log)).toBe(0);
  expect((await kept()).filter(({ id }) => id === 'again')).toHaveLength(1);
  await spool.close();
});

test('a file that was torn or forged is put aside, and keeps none of the others', async () => {
  const at = folder();
  const spool = openSpool(at, 'zz');
  writeFileSync(join(at, 'aa.jsonl'), '{"id":"torn","startAt":"2026-11-');
  writeFileSync(join(at, 'ab.jsonl'), '{"id":"forged","startAt":"yesterday","to":"1"}\n');
  // What never got its name was told to nobody.
  writeFileSync(join(at, 'ac.jsonl.new'), '{');
  await spool.put(record('beside', 600));
  expect(await takeInSpool(own.keeper, at, log)).toBe(1);
  expect(readdirSync(at).sort()).toEqual(['aa.jsonl.unread', 'ab.jsonl.unread', 'ac.jsonl.new']);
  await spool.close();
});

test('a folder that cannot be written is no call’s end: what waits is written once it can be', async () => {
  const at = join(folder(), 'not', 'yet');
  const said: string[] = [];
  const spool = openSpool(at, 'three', (line) => said.push(line));
  rmSync(at, { recursive: true });
  await spool.put(record('late', 700));
  expect(said.join()).toContain('wait for the disk');
  mkdirSync(at, { recursive: true });
  await spool.close();
  expect(await takeInSpool(own.keeper, at, log)).toBe(1);
});
