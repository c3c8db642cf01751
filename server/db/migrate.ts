import { createHash } from 'node:crypto';
import { readdirSync, readFileSync } from 'node:fs';
import { join, resolve } from 'node:path';
import mysql, { type RowDataPacket } from 'mysql2/promise';
import type { DbConfig } from './connection';

export interface Migration {
  readonly number: number;
  readonly name: string;
  readonly sql: string;
  /** SHA-256 of the file, in hex. */
  readonly checksum: string;
}

const FOLDER = resolve(__dirname, 'migrations');
const LOCK = 'hostler-migrations';
const LOCK_SECONDS = 60;

/** The migrations of a folder, `NNN_name.sql`, in order. */
export function readMigrations(folder = FOLDER): readonly Migration[] {
  return readdirSync(folder)
    .filter((file) => /^\d{3}_.+\.sql$/.test(file))
    .sort()
    .map((name) => {
      const sql = readFileSync(join(folder, name), 'utf8');
      return {
        number: Number(name.slice(0, 3)),
        name,
        sql,
        checksum: createHash('sha256').update(sql).digest('hex'),
      };
    });
}

interface Applied extends RowDataPacket {
  number: number;
  name: string;
  checksum: string;
}

/**
 * Applies what has not been applied yet, in order, each once, under a lock of the database so that two servers never
 * do it at the same time.
 * @returns the names of the migrations applied now
 * @throws if an applied migration's file has changed or is gone, or the lock cannot be had
 */
export async function migrate(config: DbConfig, migrations = readMigrations()): Promise<string[]> {
  const connection = await mysql.createConnection({
    ...config,
    multipleStatements: true,
    timezone: 'Z',
    charset: 'utf8mb4',
  });
  try {
    const [[lock]] = await connection.query<RowDataPacket[]>('SELECT GET_LOCK(?, ?) AS got', [
      LOCK,
      LOCK_SECONDS,
    ]);
    if (lock?.got !== 1) throw new Error(`another server has been migrating for over ${LOCK_SECONDS} s`);
    await connection.query(
      `CREATE TABLE IF NOT EXISTS migration (
         number INT UNSIGNED NOT NULL PRIMARY KEY,
         name VARCHAR(200) NOT NULL,
         checksum CHAR(64) NOT NULL,
         applied_at DATETIME(3) NOT NULL
       ) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_bin`,
    );
    const [applied] = await connection.query<Applied[]>('SELECT number, name, checksum FROM migration');
    for (const before of applied) {
      const file = migrations.find((each) => each.number === before.number);
      if (!file)
        throw new Error(`the database has migration ${before.name}, which this version does not know`);
      if (file.checksum !== before.checksum)
        throw new Error(`migration ${before.name} was changed after it had been applied`);
    }
    const done = new Set(applied.map((each) => each.number));
    const now: string[] = [];
    for (const migration of migrations) {
      if (done.has(migration.number)) continue;
      await connection.query(migration.sql);
      await connection.execute(
        'INSERT INTO migration (number, name, checksum, applied_at) VALUES (?, ?, ?, UTC_TIMESTAMP(3))',
        [migration.number, migration.name, migration.checksum],
      );
      now.push(migration.name);
    }
    return now;
  } finally {
    await connection.end();
  }
}
