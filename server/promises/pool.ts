import { availableParallelism } from 'node:os';
import { join } from 'node:path';
import Piscina from 'piscina';
import type { Estate, PersonId } from '../../core/estate';
import type { ProofRun, ProofScope, ReachPromise } from '../../core/promises';

/** One person's promises to be gone through by a worker thread. */
export interface ProofTask {
  readonly slice: Estate;
  readonly person: PersonId;
  readonly promises: readonly ReachPromise[];
  readonly scope: ProofScope;
}

let pool: Piscina<ProofTask, ProofRun> | null = null;

/** Goes through a person's promises in a worker thread; the threads end by themselves when there is nothing to do. */
export function proveInPool(task: ProofTask, signal?: AbortSignal): Promise<ProofRun> {
  pool ??= new Piscina<ProofTask, ProofRun>({
    filename: join(__dirname, 'worker.ts'),
    execArgv: ['--import', 'tsx'],
    minThreads: 0,
    maxThreads: availableParallelism(),
    idleTimeout: 20_000,
  });
  return pool.run(task, signal ? { signal } : {});
}

/** Ends the threads, for tests and for a server that stops. */
export async function closePool(): Promise<void> {
  await pool?.destroy();
  pool = null;
}
