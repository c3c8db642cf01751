import type { RowDataPacket } from 'mysql2/promise';
import type { ServerJob } from '../../api/server';
import type { Queryable } from '../db';

const iso = (value: unknown): string | null => (value instanceof Date ? value.toISOString() : null);
const number = (value: unknown): number | null => (value === null ? null : Number(value));

/**
 * Long work that is under way, waits or has failed lately, each kind by one question: staff lists, files of calls,
 * rounds, slates that are set for a time. `failed_at` within a week.
 */
const QUESTIONS: readonly {
  readonly kind: ServerJob['kind'];
  readonly sql: string;
  readonly href: (id: number) => string;
}[] = [
  {
    kind: 'staff-import',
    sql: `SELECT id, 'Staff list' AS name, state = 'failed' AS failed, 0 AS waits, done, total, created_at AS at
          FROM staff_import WHERE state IN ('reading', 'writing')
            OR (state = 'failed' AND created_at > UTC_TIMESTAMP(3) - INTERVAL 7 DAY)`,
    href: () => '/import',
  },
  {
    kind: 'call-import',
    sql: `SELECT id, name, state = 'failed' AS failed, state = 'stopped' AS waits, rows_done AS done, NULL AS total,
            created_at AS at
          FROM call_import WHERE state IN ('sending', 'looking', 'taking', 'stopped')
            OR (state = 'failed' AND created_at > UTC_TIMESTAMP(3) - INTERVAL 7 DAY)`,
    href: () => '/calls/import',
  },
  {
    kind: 'round',
    sql: `SELECT id, JSON_UNQUOTE(JSON_EXTRACT(plan, '$.name')) AS name, 0 AS failed, state = 'paused' AS waits,
            NULL AS done, NULL AS total, started_at AS at
          FROM call_round WHERE state IN ('running', 'paused')`,
    href: (id) => `/rounds/${id}`,
  },
  {
    kind: 'slate',
    sql: `SELECT id, name, state = 'held' AS failed, state = 'timed' AS waits, NULL AS done, NULL AS total, due_at AS at
          FROM slate WHERE state IN ('timed', 'held')`,
    href: (id) => `/slates/${id}`,
  },
];
const MOST = 100;

export async function readJobs(db: Queryable): Promise<readonly ServerJob[]> {
  const jobs: ServerJob[] = [];
  for (const { kind, sql, href } of QUESTIONS) {
    const [rows] = await db.query<RowDataPacket[]>(`${sql} ORDER BY id DESC LIMIT ${MOST}`);
    for (const row of rows)
      jobs.push({
        kind,
        name: String(row.name),
        state: Number(row.failed) === 1 ? 'failed' : Number(row.waits) === 1 ? 'waits' : 'under-way',
        done: number(row.done),
        total: number(row.total) === 0 ? null : number(row.total),
        at: iso(row.at),
        href: href(Number(row.id)),
      });
  }
  return jobs;
}
