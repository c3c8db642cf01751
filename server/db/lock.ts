import { randomUUID } from 'node:crypto';
import { setTimeout as pause } from 'node:timers/promises';
import type { Connection, ResultSetHeader, RowDataPacket } from 'mysql2/promise';
import { asOwner, type DbConfig } from './config';
import { connect, isCluster } from './connect';
import { isConflict } from './faults';

const LOCK_SECONDS = 60;
/** How long a lock of a cluster is its holder's without being renewed, and how often it is. */
const LEASE_S = 30;
const RENEW_MS = 8000;
const ASK_AGAIN_MS = 300;

/** On a cluster: who is at what, as all its nodes know it. */
const CLUSTER_LOCK = 'cluster_lock';

/**
 * Runs work under a lock of the database that only one process has at a time: on one server by its own lock, which
 * ends with the connection; on a cluster, whose nodes do not know of each other's, by a row besides, which runs out.
 * @throws if it cannot be had within a minute
 */
export async function locked<T>(
  connection: Connection,
  config: DbConfig,
  what: string,
  work: () => Promise<T>,
): Promise<T> {
  const name = `hostler-${what}-${config.database}`.slice(0, 64);
  const untilMs = Date.now() + LOCK_SECONDS * 1000;
  const tooLate = () => new Error(`another process has been at the ${what} for over ${LOCK_SECONDS} s`);
  const [[lock]] = await connection.query<RowDataPacket[]>('SELECT GET_LOCK(?, ?) AS got', [
    name,
    LOCK_SECONDS,
  ]);
  if (lock?.got !== 1) throw tooLate();
  try {
    if (!(await isCluster(connection))) return await work();
    const lease = await takeLease(config, name, untilMs);
    if (!lease) throw tooLate();
    try {
      return await work();
    } finally {
      await lease.end();
    }
  } finally {
    await connection.query('SELECT RELEASE_LOCK(?)', [name]).catch(() => undefined);
  }
}

/** A row that is this process's as long as it is renewed. @returns null: somebody else has it */
async function takeLease(
  config: DbConfig,
  name: string,
  untilMs: number,
): Promise<{ readonly end: () => Promise<void> } | null> {
  const holder = randomUUID();
  const connection = await connect(asOwner(config), { timezone: 'Z' });
  const once = async (): Promise<boolean> => {
    try {
      await connection.query(
        `INSERT INTO ${CLUSTER_LOCK} (name, holder, until)
         VALUES (?, ?, UTC_TIMESTAMP(3) + INTERVAL ${LEASE_S} SECOND)
         ON DUPLICATE KEY UPDATE
           holder = IF(until < UTC_TIMESTAMP(3), VALUES(holder), holder),
           until = IF(holder = VALUES(holder), VALUES(until), until)`,
        [name, holder],
      );
    } catch (error) {
      // Somebody on another node was a moment sooner.
      if (!isConflict(error)) throw error;
      return false;
    }
    const [[row]] = await connection.query<RowDataPacket[]>(
      `SELECT holder FROM ${CLUSTER_LOCK} WHERE name = ?`,
      [name],
    );
    return row?.holder === holder;
  };
  try {
    await connection.query(
      `CREATE TABLE IF NOT EXISTS ${CLUSTER_LOCK} (
         name VARCHAR(64) NOT NULL PRIMARY KEY,
         holder CHAR(36) NOT NULL,
         until DATETIME(3) NOT NULL
       ) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_bin`,
    );
    await connection.query('SET SESSION wsrep_sync_wait = 1');
    while (!(await once())) {
      if (Date.now() > untilMs) {
        await connection.end();
        return null;
      }
      await pause(ASK_AGAIN_MS);
    }
  } catch (error) {
    await connection.end().catch(() => undefined);
    throw error;
  }
  const renewing = setInterval(() => void once().catch(() => undefined), RENEW_MS);
  return {
    end: async () => {
      clearInterval(renewing);
      await connection
        .query<ResultSetHeader>(`DELETE FROM ${CLUSTER_LOCK} WHERE name = ? AND holder = ?`, [name, holder])
        .catch(() => undefined);
      await connection.end().catch(() => undefined);
    },
  };
}
