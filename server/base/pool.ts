import { availableParallelism } from 'node:os';
import Piscina from 'piscina';
import { busy, refusal } from './refusal';
import { scriptAt, type Script } from './scripts';

/** Work in threads beside the server: started when first asked for, and ended by themselves when nothing is to do. */
export interface Pool<Task, Result> {
  /** @throws a refusal where it takes too long, needs too much memory, or too much waits already */
  readonly run: (task: Task, signal?: AbortSignal) => Promise<Result>;
}

/** How long a piece of work may take, in ms, and what memory a thread may use, in MiB. */
export interface WorkLimits {
  readonly withinMs: number;
  readonly memoryMib: number;
  /** One thread that keeps what it worked out, for as long as it is asked now and then; left out: as many as there are cores. */
  readonly keepsMs?: number;
}
const USUAL: WorkLimits = { withinMs: 20_000, memoryMib: 512 };
/** For what goes over a whole organisation. */
export const LONG_WORK: WorkLimits = { withinMs: 1_200_000, memoryMib: 3072 };
const MOST_WAITING = 500;

const pools = new Map<string, Piscina>();
/** Tasks that were given and have not ended, by script. */
const given = new Map<string, number>();
const countGiven = (script: string, by: number) => given.set(script, (given.get(script) ?? 0) + by);

/** @param script a module that exports one function of a task */
export const workerPool = <Task, Result>(script: Script, limits: WorkLimits = USUAL): Pool<Task, Result> => ({
  run: async (task, signal) => {
    let pool = pools.get(script);
    if (!pool) {
      const { file, execArgv } = scriptAt(script);
      pool = new Piscina({
        filename: file,
        execArgv: [...execArgv],
        minThreads: 0,
        maxThreads: limits.keepsMs === undefined ? availableParallelism() : 1,
        idleTimeout: limits.keepsMs ?? 20_000,
        maxQueue: MOST_WAITING,
        resourceLimits: { maxOldGenerationSizeMb: limits.memoryMib },
      });
      pools.set(script, pool);
    }
    // What may have to wait for a thread is given as long again.
    const stop = new AbortController();
    const abort = () => stop.abort();
    signal?.addEventListener('abort', abort);
    const timer = setTimeout(abort, limits.withinMs + (pool.queueSize > 0 ? limits.withinMs : 0));
    countGiven(script, 1);
    try {
      return (await pool.run(task, { signal: stop.signal })) as Result;
    } catch (error) {
      if (signal?.aborted) throw error;
      if (stop.signal.aborted)
        throw refusal(
          422,
          `This takes longer than ${Math.round(limits.withinMs / 1000)} s and was given up.`,
        );
      if (pools.get(script) !== pool) throw busy('The server is ending. Try again.', 5);
      const { code, message } = error as { code?: string; message?: string };
      if (code === 'ERR_WORKER_OUT_OF_MEMORY')
        throw refusal(422, 'This needs more memory than it may have, and was given up.');
      if (message?.includes('Task queue is at limit'))
        throw busy('Too much is being worked out. Try again.', 10);
      throw error;
    } finally {
      countGiven(script, -1);
      clearTimeout(timer);
      signal?.removeEventListener('abort', abort);
    }
  },
});

/** What threads are at, by script. */
export const runningTasks = (): readonly {
  readonly script: string;
  readonly running: number;
  readonly waiting: number;
}[] =>
  [...pools].map(([script, pool]) => ({
    script,
    running: Math.max(0, (given.get(script) ?? 0) - pool.queueSize),
    waiting: pool.queueSize,
  }));

/** Ends all threads, for tests and for a server that stops. */
export async function closePools(): Promise<void> {
  const all = [...pools.values()];
  pools.clear();
  await Promise.all(all.map((pool) => pool.destroy()));
}
