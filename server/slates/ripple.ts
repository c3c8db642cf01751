import { join } from 'node:path';
import type { Estate } from '../../core/estate';
import { groupChanges, rippleNames, type Change, type RippleGroup } from '../../core/ripple';
import { affectedBy, applyEntries, type Entry, type Start } from '../../core/slate';
import type { EstateStore, LiveEstate } from '../estate/store';
import { workerPool } from '../pool';
import { sharedJson } from '../shared-json';

/** Some of those whose calls a slate can touch; the estate and the entries lie in memory that threads share. */
export interface RippleTask {
  /** The same for all tasks of one ripple. */
  readonly key: string;
  readonly shared: SharedArrayBuffer;
  readonly starts: readonly Start[];
  readonly fromMs: number;
}
export interface Prepared {
  readonly estate: Estate;
  readonly entries: readonly Entry[];
}

const pool = workerPool<RippleTask, readonly Change[]>(join(__dirname, 'ripple-worker.ts'));
const AT_ONCE = 40;

/** How far a ripple has come, and what it found. */
export interface RippleState {
  readonly key: string;
  readonly state: 'running' | 'done' | 'cancelled' | 'failed';
  readonly done: number;
  readonly total: number;
  readonly groups: readonly RippleGroup[];
  readonly tookMs: number | null;
}
interface Job {
  state: RippleState;
  readonly stop: AbortController;
}

const jobsOf = new WeakMap<EstateStore, Map<number, Job>>();
const jobs = (store: EstateStore) => {
  const known = jobsOf.get(store) ?? new Map<number, Job>();
  jobsOf.set(store, known);
  return known;
};

/**
 * Works out in worker threads what changes do to calls.
 * @param onDone told after each part
 */
export async function rippleOf(
  live: Pick<LiveEstate, 'estate'>,
  entries: readonly Entry[],
  fromMs: number,
  key: string,
  signal?: AbortSignal,
  onDone: (done: number, total: number, changes: readonly Change[]) => void = () => undefined,
): Promise<readonly Change[]> {
  const { estate } = live;
  const after = applyEntries(estate, entries);
  const starts = affectedBy(estate, after, entries);
  const shared = sharedJson({ estate, entries } satisfies Prepared);
  const all: Change[] = [];
  let done = 0;
  onDone(0, starts.length, all);
  const parts = Array.from({ length: Math.ceil(starts.length / AT_ONCE) }, (_, i) =>
    starts.slice(i * AT_ONCE, (i + 1) * AT_ONCE),
  );
  await Promise.all(
    parts.map(async (part) => {
      const changes = await pool.run({ key, shared, starts: part, fromMs }, signal);
      all.push(...changes);
      done += part.length;
      onDone(done, starts.length, all);
    }),
  );
  return all;
}

/** Begins the ripple of a slate; one that is going on for another version of it is cancelled. */
export function beginRipple(
  store: EstateStore,
  slate: { readonly id: number; readonly version: number },
  live: LiveEstate,
  entries: readonly Entry[],
  fromMs: number,
): RippleState {
  const key = `${slate.id}/${slate.version}/${live.revision}`;
  const known = jobs(store).get(slate.id);
  if (known && known.state.key === key && ['running', 'done'].includes(known.state.state)) return known.state;
  known?.stop.abort();
  const stop = new AbortController();
  const began = performance.now();
  const names = rippleNames(applyEntries(live.estate, entries), live.estate);
  const job: { state: RippleState } = {
    state: { key, state: 'running', done: 0, total: 0, groups: [], tookMs: null },
  };
  const work = async () => {
    try {
      const all = await rippleOf(live, entries, fromMs, `${key}/${fromMs}`, stop.signal, (done, total) => {
        job.state = { ...job.state, done, total };
      });
      job.state = {
        ...job.state,
        state: 'done',
        groups: groupChanges(all, names),
        tookMs: Math.round(performance.now() - began),
      };
    } catch {
      job.state = { ...job.state, state: stop.signal.aborted ? 'cancelled' : 'failed' };
    }
  };
  void work();
  jobs(store).set(slate.id, Object.assign(job, { stop }));
  return job.state;
}

export const rippleState = (store: EstateStore, slate: number): RippleState | null =>
  jobs(store).get(slate)?.state ?? null;

/** Cancels the ripple of a slate, for one that was changed or dropped. */
export function cancelRipple(store: EstateStore, slate: number): void {
  const job = jobs(store).get(slate);
  if (job?.state.state === 'running') {
    job.stop.abort();
    job.state = { ...job.state, state: 'cancelled' };
  }
}
