import type { Estate, PersonId, ReachPromise } from '../../core/estate';
import type { ProofRun, ProofScope } from '../../core/assurance/promises';
import { LONG_WORK, workerPool } from '../base';

/** One person's promises to be gone through by a worker thread. */
export interface ProofTask {
  readonly slice: Estate;
  readonly person: PersonId;
  readonly promises: readonly ReachPromise[];
  readonly scope: ProofScope;
}

const pool = workerPool<ProofTask, ProofRun>('server/promises/worker.ts', LONG_WORK);

/** Goes through a person's promises in a worker thread. */
export const proveInPool = (task: ProofTask, signal?: AbortSignal): Promise<ProofRun> =>
  pool.run(task, signal);
