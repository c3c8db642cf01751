import type { RowDataPacket } from 'mysql2/promise';
import type { Person } from '../../core/estate';
import { leftBehind, type Behind, type RunSettings } from '../../core/changes/restarts';
import { fromJson, type Queryable } from '../db';

export interface OwedRow extends Behind {
  readonly since: string;
  readonly restartAt: string | null;
}

/** @param lock holds the rows to the end of the transaction, so that nobody else does the same restarts */
export async function readRunning(db: Queryable, lock = false): Promise<OwedRow[]> {
  const [rows] = await db.query<RowDataPacket[]>(
    `SELECT endpoint_id, running, since, restart_at FROM device_running ORDER BY since, endpoint_id${lock ? ' FOR UPDATE' : ''}`,
  );
  return rows.map((row) => ({
    endpoint: String(row.endpoint_id),
    running: fromJson<RunSettings>(row.running as string | null) ?? null,
    since: (row.since as Date).toISOString(),
    restartAt: (row.restart_at as Date | null)?.toISOString() ?? null,
  }));
}

export async function putRunning(db: Queryable, behind: readonly Behind[], at: Date): Promise<void> {
  if (behind.length === 0) return;
  await db.query('INSERT INTO device_running (endpoint_id, running, since) VALUES ?', [
    behind.map(({ endpoint, running }) => [endpoint, running === null ? null : JSON.stringify(running), at]),
  ]);
}

/** Notes that phones were restarted, or need it no more. @returns how many there were */
export async function settle(db: Queryable, endpoints: readonly string[]): Promise<void> {
  if (endpoints.length > 0)
    await db.query('DELETE FROM device_running WHERE endpoint_id IN (?)', [endpoints]);
}

export async function planRestarts(
  db: Queryable,
  endpoints: readonly string[],
  at: Date | null,
): Promise<void> {
  await db.query('UPDATE device_running SET restart_at = ? WHERE endpoint_id IN (?)', [at, endpoints]);
}

/** Notes which phones a change of people leaves behind, in the transaction of the change. */
export async function noteRunning(
  db: Queryable,
  changes: readonly (readonly [before: Person | null, after: Person | null])[],
  at: Date,
): Promise<void> {
  const known = new Map((await readRunning(db)).map(({ endpoint, running }) => [endpoint, running]));
  const behind: Behind[] = [];
  const settled: string[] = [];
  // A phone that goes from one person to another is looked at with its new owner alone.
  const moved = new Map(
    changes.flatMap(([before, after]) =>
      (before?.endpoints ?? [])
        .filter(({ id }) => !after?.endpoints.some((each) => each.id === id))
        .map((each) => [each.id, before!] as const),
    ),
  );
  const arrived = new Set(changes.flatMap(([, after]) => after?.endpoints.map(({ id }) => id) ?? []));
  for (const [before, after] of changes) {
    const taken = (after?.endpoints ?? []).flatMap((endpoint) => {
      const from = moved.get(endpoint.id);
      const old = from?.endpoints.find(({ id }) => id === endpoint.id);
      return from && old ? [{ from, old }] : [];
    });
    const found = leftBehind(before, after, known);
    const takenIds = new Set(taken.map(({ old }) => old.id));
    behind.push(...found.behind.filter(({ endpoint }) => !takenIds.has(endpoint)));
    settled.push(...found.settled.filter((id) => !(moved.has(id) && arrived.has(id))));
    for (const { from, old } of taken) {
      const one = leftBehind(
        { ...from, endpoints: [old] },
        { ...after!, endpoints: after!.endpoints.filter(({ id }) => id === old.id) },
        known,
      );
      behind.push(...one.behind);
      settled.push(...one.settled);
    }
  }
  await settle(db, settled);
  await putRunning(db, behind, at);
}
