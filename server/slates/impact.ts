import type { Estate } from '../../core/estate';
import { groupChanges, impactNames, type Change } from '../../core/assurance/impact';
import { sayTableChange, type RouteTable, type RouteTrace } from '../../core/routes';
import {
  affectedBy,
  applyEntries,
  type SlateEntry,
  type EntryKind,
  type Start,
} from '../../core/changes/slate';
import type { EstateStore, LiveEstate } from '../estate';
import { LONG_WORK, workerPool, sharedJson } from '../base';
import { compareInPool } from '../routing';
import type { ImpactState, TableGroups } from '../../api/slates';

/** Some of those whose calls a slate can touch; the estate and the entries lie in memory that threads share. */
export interface ImpactTask {
  /** The same for all tasks of one impact. */
  readonly key: string;
  readonly shared: SharedArrayBuffer;
  readonly starts: readonly Start[];
  readonly fromMs: number;
}
export interface Prepared {
  readonly estate: Estate;
  readonly entries: readonly SlateEntry[];
}

const pool = workerPool<ImpactTask, readonly Change[]>('server/slates/impact-worker.ts', LONG_WORK);
const AT_ONCE = 40;
interface Job {
  state: ImpactState;
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
export async function impactOf(
  live: Pick<LiveEstate, 'estate'>,
  entries: readonly SlateEntry[],
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

const OF_THE_TABLE: readonly EntryKind[] = ['routing', 'list', 'schedule'];
const MOST_WAYS = 40;

/** What entries do to calls at the route table. */
async function tableGroups(
  before: Estate,
  entries: readonly SlateEntry[],
  fromMs: number,
  signal: AbortSignal,
): Promise<TableGroups | null> {
  const after = applyEntries(before, entries);
  if (!entries.some(({ kind }) => OF_THE_TABLE.includes(kind)) || !before.routing || !after.routing)
    return null;
  const tables = [before, after].map(({ routing, schedules }) => ({ ...routing!, schedules }));
  const impact = await compareInPool({ before: tables[0]!, after: tables[1]!, fromMs }, signal);
  const peers = new Map(tables.flatMap((table) => table.peers).map(({ id, name }) => [id, name]));
  const shown = impact.changes.slice(0, MOST_WAYS);
  const named = (table: RouteTable, traces: readonly RouteTrace[]) => {
    const ids = new Set(traces.flatMap(routesIn));
    return table.routes.filter(({ id }) => ids.has(id));
  };
  return {
    groups: shown.map((change) => ({
      says: sayTableChange(change, (id) => peers.get(id) ?? id),
      weight: change.weight,
      call: change.call,
      was: bare(change.was),
      is: bare(change.is),
    })),
    more: impact.changes.length - shown.length,
    tried: impact.tried,
    complete: impact.complete,
    was: named(
      tables[0]!,
      shown.map(({ was }) => was),
    ),
    is: named(
      tables[1]!,
      shown.map(({ is }) => is),
    ),
    peers: [...peers].map(([id, name]) => ({ id, name })),
  };
}
const routesIn = ({ route, branches }: RouteTrace): readonly string[] => [
  ...(route === null ? [] : [route]),
  ...branches.flatMap(routesIn),
];
/** A trace without why routes passed the call on. */
const bare = (trace: RouteTrace): RouteTrace => ({
  ...trace,
  passed: [],
  branches: trace.branches.map(bare),
});

/** Begins the impact of a slate; one that is going on for another version of it is cancelled. */
export function beginImpact(
  store: EstateStore,
  slate: { readonly id: number; readonly version: number },
  live: LiveEstate & { readonly tableKey: string },
  entries: readonly SlateEntry[],
  fromMs: number,
): ImpactState {
  const key = `${slate.id}/${slate.version}/${live.revision}/${live.tableKey}`;
  const known = jobs(store).get(slate.id);
  if (known && known.state.key === key && ['running', 'done'].includes(known.state.state)) return known.state;
  known?.stop.abort();
  const stop = new AbortController();
  const began = performance.now();
  const names = impactNames(applyEntries(live.estate, entries), live.estate);
  const job: { state: ImpactState } = {
    state: { key, state: 'running', done: 0, total: 0, groups: [], table: null, tookMs: null },
  };
  const work = async () => {
    try {
      // A call within the house does not come to the route table.
      const { routing: _routing, ...estate } = live.estate;
      const reach = entries.filter(({ kind }) => kind !== 'routing' && kind !== 'list');
      const [all, table] = await Promise.all([
        impactOf({ estate }, reach, fromMs, `${key}/${fromMs}`, stop.signal, (done, total) => {
          job.state = { ...job.state, done, total };
        }),
        tableGroups(live.estate, entries, fromMs, stop.signal),
      ]);
      job.state = {
        ...job.state,
        state: 'done',
        groups: groupChanges(all, names),
        table,
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

export const impactState = (store: EstateStore, slate: number): ImpactState | null =>
  jobs(store).get(slate)?.state ?? null;

/** Cancels the impact of a slate, for one that was changed or dropped. */
export function cancelImpact(store: EstateStore, slate: number): void {
  const job = jobs(store).get(slate);
  if (job?.state.state === 'running') {
    job.stop.abort();
    job.state = { ...job.state, state: 'cancelled' };
  }
}
