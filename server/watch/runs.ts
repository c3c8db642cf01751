import { hostname } from 'node:os';
import type { ResultSetHeader, RowDataPacket } from 'mysql2/promise';
import type { ServerRun } from '../../api/server';
import type { Db, Queryable } from '../db';

/** How often a server says that it is there, and after how long a silence it is taken for lost. */
const SAY_MS = 10_000;
const SILENCE_MS = 45_000;
/** Starts that are kept. */
const KEPT = 200;
const SHOWN = 12;

export interface Run {
  readonly id: number;
  /** Says that it ends. */
  readonly end: () => Promise<void>;
}

/** Notes that a server has started, says that it is there as long as it runs, and that it ends. */
export async function beginRun(db: Db, port: number, version: string): Promise<Run> {
  const [{ insertId }] = await db.execute<ResultSetHeader>(
    `INSERT INTO server_run (host, pid, port, version, started_at, seen_at)
     VALUES (?, ?, ?, ?, UTC_TIMESTAMP(3), UTC_TIMESTAMP(3))`,
    [hostname().slice(0, 100), process.pid, port, version],
  );
  await db.execute('DELETE FROM server_run WHERE id <= ?', [Math.max(0, insertId - KEPT)]);
  const saying = setInterval(() => {
    void db
      .execute('UPDATE server_run SET seen_at = UTC_TIMESTAMP(3) WHERE id = ?', [insertId])
      .catch(() => undefined);
  }, SAY_MS);
  return {
    id: insertId,
    end: async () => {
      clearInterval(saying);
      await db
        .execute(
          'UPDATE server_run SET seen_at = UTC_TIMESTAMP(3), ended_at = UTC_TIMESTAMP(3) WHERE id = ?',
          [insertId],
        )
        .catch(() => undefined);
    },
  };
}

/** The latest starts, by the clock of the database. @param own the run of the server that asks; null: none */
export async function readRuns(db: Queryable, own: number | null): Promise<readonly ServerRun[]> {
  const [rows] = await db.query<RowDataPacket[]>(
    `SELECT *, TIMESTAMPDIFF(MICROSECOND, seen_at, UTC_TIMESTAMP(3)) / 1000 AS silent_ms
     FROM server_run ORDER BY ended_at IS NULL AND seen_at > UTC_TIMESTAMP(3) - INTERVAL ${SILENCE_MS / 1000} SECOND DESC, id DESC
     LIMIT ${SHOWN}`,
  );
  return rows.map((row) => ({
    id: Number(row.id),
    host: String(row.host),
    pid: Number(row.pid),
    port: Number(row.port),
    version: String(row.version),
    startedAt: (row.started_at as Date).toISOString(),
    seenAt: (row.seen_at as Date).toISOString(),
    state: row.ended_at !== null ? 'ended' : Number(row.silent_ms) > SILENCE_MS ? 'lost' : 'running',
    isThis: Number(row.id) === own,
  }));
}
