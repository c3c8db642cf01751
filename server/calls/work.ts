import type { RowDataPacket } from 'mysql2/promise';
import type { LongWork } from '../../api/records';
import { isRefusal, LONG_WORK, workerPool } from '../base';
import { dbConfig, type Db } from '../db';
import type { CallsResults, CallsTask } from './tasks';

/** Work over many calls goes on beside the server, and is asked about until it is done. */
interface Job {
  state: LongWork<unknown>;
  readonly beganMs: number;
}
const MOST_JOBS = 40;
const KEPT_MS = 600_000;
const MOST_RUNNING = 4;
const ofDb = new WeakMap<Db, Map<string, Job>>();

/**
 * Begins a piece of work, or tells how far one with the same key has come. What was done is kept for a while.
 * @param key all that it depends on
 */
export function longWork<T>(
  db: Db,
  key: string,
  nowMs: number,
  work: (tell: (done: number, total: number) => void) => Promise<T>,
): LongWork<T> {
  const jobs = ofDb.get(db) ?? new Map<string, Job>();
  ofDb.set(db, jobs);
  for (const [other, { state, beganMs }] of jobs)
    if (state.state !== 'running' && nowMs - beganMs > KEPT_MS) jobs.delete(other);
  const known = jobs.get(key);
  // What failed is tried again by whoever asks again.
  if (known && known.state.state !== 'failed') return known.state as LongWork<T>;
  const idle: LongWork<T> = { state: 'running', done: 0, total: 0, result: null, why: null };
  const running = [...jobs.values()].filter(({ state }) => state.state === 'running').length;
  // Whoever comes when there is too much under way is told to wait, and asks again.
  if (running >= MOST_RUNNING) return idle;
  const job: Job = { state: idle, beganMs: nowMs };
  jobs.set(key, job);
  while (jobs.size > MOST_JOBS) jobs.delete([...jobs.keys()][0]!);
  work((done, total) => {
    job.state = { ...job.state, done, total };
  }).then(
    (result) => {
      job.state = { ...job.state, state: 'done', done: job.state.total, result };
    },
    (error: unknown) => {
      const why = isRefusal(error) ? error.message : 'This could not be worked out. Try again.';
      job.state = { ...job.state, state: 'failed', why };
    },
  );
  return job.state as LongWork<T>;
}

const pool = workerPool<CallsTask, CallsResults[keyof CallsResults]>('server/calls/worker.ts', LONG_WORK);

type Kind = CallsTask['kind'];
type TaskOf<K extends Kind> = Omit<Extract<CallsTask, { readonly kind: K }>, 'db' | 'kind'>;

/** Has something made of the calls of a span, in a thread beside the server. */
export async function ofCalls<K extends Kind>(db: Db, kind: K, task: TaskOf<K>): Promise<CallsResults[K]> {
  const whole = { ...task, kind, db: await connectionOf(db) } as unknown as CallsTask;
  return (await pool.run(whole)) as CallsResults[K];
}

/** How a thread reaches the same database. */
async function connectionOf(db: Db): Promise<CallsTask['db']> {
  const { owner: _owner, keeper: _keeper, ...config } = dbConfig();
  const [[row]] = await db.query<RowDataPacket[]>('SELECT DATABASE() AS name');
  return { ...config, database: String(row?.name) };
}

export async function callsIn(db: Db, fromMs: number, toMs: number): Promise<number> {
  const [[row]] = await db.query<RowDataPacket[]>(
    'SELECT COUNT(*) AS n FROM call_record WHERE started_at >= ? AND started_at < ?',
    [new Date(fromMs), new Date(toMs)],
  );
  return Number(row?.n ?? 0);
}

const CALLS_IN_A_PART = 20_000;
const MOST_PARTS = 64;
/** A span in parts that hold about as many calls as are worth a thread. */
export function partsOfSpan(
  fromMs: number,
  toMs: number,
  calls: number,
): readonly (readonly [number, number])[] {
  const parts = Math.min(MOST_PARTS, Math.max(1, Math.ceil(calls / CALLS_IN_A_PART)));
  const at = (n: number) => Math.round(fromMs + ((toMs - fromMs) * n) / parts);
  return Array.from({ length: parts }, (_, n) => [at(n), at(n + 1)] as const);
}
