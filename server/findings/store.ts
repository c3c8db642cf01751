import { auditAgain, checkContext, type Finding } from '../../core/assurance/checks';
import { affectedBy, type SlateEntry } from '../../core/changes/slate';
import type { EstateStore, LiveEstate } from '../estate';
import { LONG_WORK, workerPool, sharedJson } from '../base';

/** A whole estate to be gone through by a worker thread; its bytes lie in memory that threads share. */
export interface AuditTask {
  readonly shared: SharedArrayBuffer;
  readonly nowMs: number;
}

const pool = workerPool<AuditTask, readonly Finding[]>('server/findings/worker.ts', LONG_WORK);

interface Kept {
  readonly live: LiveEstate;
  readonly day: number;
  readonly findings: Promise<readonly Finding[]>;
}
const kept = new WeakMap<EstateStore, Kept>();
const DAY_MS = 24 * 3_600_000;
/** More than this many changed people are looked at with everybody, in a thread. */
const MOST_AGAIN = 200;

/** The people who were changed from one copy of the estate to the next; null: more than people was. */
function changedPeople(before: LiveEstate, after: LiveEstate): readonly SlateEntry[] | null {
  const { people: was, ...rest } = before.estate;
  const { people: is, ...now } = after.estate;
  const sameRest = Object.keys({ ...rest, ...now }).every(
    (key) => rest[key as keyof typeof rest] === now[key as keyof typeof now],
  );
  if (!sameRest || was.length !== is.length) return null;
  const entries: SlateEntry[] = [];
  for (const [i, person] of is.entries()) {
    if (was[i] === person) continue;
    if (was[i]?.id !== person.id) return null;
    entries.push({ kind: 'person', id: person.id, name: person.name, base: was[i], after: person });
  }
  return entries.length > MOST_AGAIN ? null : entries;
}

/**
 * The findings of the estate of now: worked out whole once, in a thread, and after a change of people only for those
 * whom it can affect.
 */
export async function findingsOf(store: EstateStore, nowMs: number): Promise<readonly Finding[]> {
  const live = await store.current();
  const day = Math.floor(nowMs / DAY_MS);
  const before = kept.get(store);
  if (before && before.live.revision === live.revision && before.day === day) return before.findings;
  const entries = before?.day === day ? changedPeople(before.live, live) : null;
  const whole = () => pool.run({ shared: sharedJson(live.estate), nowMs });
  const findings =
    before && entries
      ? before.findings.then((known) =>
          auditAgain(
            known,
            affectedBy(before.live.estate, live.estate, entries),
            checkContext(live.estate, nowMs),
          ),
        )
      : whole();
  kept.set(store, { live, day, findings });
  findings.catch(() => kept.delete(store));
  return findings;
}
