import { availableParallelism } from 'node:os';
import Piscina from 'piscina';
import { scriptAt, type Script } from './scripts';

/** Work in threads beside the server: started when first asked for, and ended by themselves when nothing is to do. */
export interface Pool<Task, Result> {
  readonly run: (task: Task, signal?: AbortSignal) => Promise<Result>;
}

const pools = new Map<string, Piscina>();

/** @param script a module that exports one function of a task */
export const workerPool = <Task, Result>(script: Script): Pool<Task, Result> => ({
  run: (task, signal) => {
    let pool = pools.get(script);
    if (!pool) {
      const { file, execArgv } = scriptAt(script);
      pool = new Piscina({
        filename: file,
        execArgv: [...execArgv],
        minThreads: 0,
        maxThreads: availableParallelism(),
        idleTimeout: 20_000,
      });
      pools.set(script, pool);
    }
    return pool.run(task, signal ? { signal } : {}) as Promise<Result>;
  },
});

/** Ends all threads, for tests and for a server that stops. */
export async function closePools(): Promise<void> {
  const all = [...pools.values()];
  pools.clear();
  await Promise.all(all.map((pool) => pool.destroy()));
}
