import { changedFindings, type Finding, type FindingsChange } from '../../core/assurance/checks';
import { changedPeople } from '../../core/changes/slate';
import type { Person } from '../../core/estate';
import type { EstateStore, LiveEstate } from '../estate';
import { LONG_WORK, workerPool, sharedJson } from '../base';

/**
 * A whole estate to be gone through by the worker thread, its bytes in memory that threads share; or the people who
 * changed since what it went through last. `of`, `from` and `to` tell copies of the estate apart.
 */
export type AuditTask =
  | { readonly of: string; readonly shared: SharedArrayBuffer; readonly nowMs: number }
  | {
      readonly from: string;
      readonly to: string;
      readonly people: readonly Person[];
      readonly nowMs: number;
    };
/** Null: the thread has not gone through what was changed, and is given all of it. */
export type Audited = FindingsChange | null;

/** The thread keeps the organisation for as long as somebody looks at findings now and then. */
const KEEPS_MS = 1_800_000;
const pool = workerPool<AuditTask, Audited>('server/findings/worker.ts', { ...LONG_WORK, keepsMs: KEEPS_MS });

interface Kept {
  readonly of: string;
  readonly live: LiveEstate;
  /** From when on the moments of a year were looked at. */
  readonly nowMs: number;
  readonly findings: Promise<readonly Finding[]>;
}
const kept = new WeakMap<EstateStore, Kept>();
const DAY_MS = 24 * 3_600_000;
const dayOf = (ms: number) => Math.floor(ms / DAY_MS);
/** More than this many changed people are looked at with everybody. */
const MOST_AGAIN = 500;
let copies = 0;

/**
 * The findings of the estate of now: worked out whole once, in a thread, and after a change of people only for those
 * whom it can touch.
 */
export async function findingsOf(store: EstateStore, nowMs: number): Promise<readonly Finding[]> {
  const live = await store.current();
  const before = kept.get(store);
  const isToday = before !== undefined && dayOf(before.nowMs) === dayOf(nowMs);
  if (isToday && before.live.revision === live.revision) return before.findings;
  copies += 1;
  const of = `${process.pid}/${copies}`;
  const whole = async () => (await pool.run({ of, shared: sharedJson(live.estate), nowMs }))?.fresh ?? [];
  const changed = isToday ? changedPeople(before.live.estate, live.estate) : null;
  const findings =
    before && changed && changed.length <= MOST_AGAIN
      ? before.findings.then(async (known) => {
          const people = changed.map(({ after }) => after);
          const change = await pool.run({ from: before.of, to: of, people, nowMs: before.nowMs });
          return change ? changedFindings(known, change) : whole();
        })
      : whole();
  const entry: Kept = { of, live, nowMs: isToday && changed ? before.nowMs : nowMs, findings };
  kept.set(store, entry);
  findings.catch(() => {
    if (kept.get(store) === entry) kept.delete(store);
  });
  return findings;
}
