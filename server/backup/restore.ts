import { readdirSync } from 'node:fs';
import { join } from 'node:path';
import { pipeline } from 'node:stream/promises';
import type { Connection, RowDataPacket } from 'mysql2/promise';
import { locked, migrate, readMigrations, UNDER_WAY, type DbConfig } from '../db';
import { openKeyring } from '../secrets';
import { load, mustUnpack } from './load';
import { countRows, DUMP, hashOf, otherwise, readManifest, type Manifest } from './manifest';
import { ownerConnection, startTool, withLogin } from './tools';

export interface Restored {
  readonly manifest: Manifest;
  /** Migrations done since the backup, which were done again. */
  readonly migrated: readonly string[];
  /** Keys that secrets are sealed with and that are not here. */
  readonly missingKeys: readonly string[];
}

export interface RestoreOptions {
  /** What is in the database goes. */
  readonly replace?: boolean;
  /** Go on from the backup to this moment, by binary logs in a folder. */
  readonly until?: { readonly at: Date; readonly folder: string };
}

/** The binary logs from the one of the backup on, in order. @throws Error where that is not there */
function logsOf(folder: string, { binlog }: Manifest): readonly string[] {
  if (!binlog)
    throw new Error(
      'The database kept no binary log when this was backed up: it can only be restored as it was then.',
    );
  const [base] = binlog.file.split('.');
  const logs = readdirSync(folder)
    .filter((name) => name.startsWith(`${base}.`) && /\.\d+$/.test(name) && name >= binlog.file)
    .sort();
  if (logs[0] !== binlog.file)
    throw new Error(`${folder} does not hold ${binlog.file}, where the backup ends`);
  return logs.map((name) => join(folder, name));
}

/** By the clock of the log, which the program reads in the zone of its own process. */
const stopTime = (at: Date): string => at.toISOString().slice(0, 19).replace('T', ' ');

async function replay(
  login: string,
  manifest: Manifest,
  logs: readonly string[],
  database: string,
  until: Date,
): Promise<void> {
  const read = startTool(
    'mariadb-binlog',
    [
      '--no-defaults',
      // On a server that a backup was restored to before, changes stand in its log twice.
      '--skip-gtid-strict-mode',
      `--start-position=${manifest.binlog?.position ?? 4}`,
      `--stop-datetime=${stopTime(until)}`,
      ...(database === manifest.database ? [] : [`--rewrite-db=${manifest.database}->${database}`]),
      // It is filtered by before it is renamed.
      `--database=${manifest.database}`,
      ...logs,
    ],
    'ignore',
    { TZ: 'UTC' },
  );
  const write = startTool(
    'mariadb',
    [login, '--binary-mode', '--default-character-set=utf8mb4', database],
    'pipe',
  );
  write.child.stdout?.resume();
  const [fed] = await Promise.allSettled([
    pipeline(read.child.stdout!, write.child.stdin!),
    read.ended,
    write.ended,
  ]);
  await write.ended;
  await read.ended;
  if (fed.status === 'rejected') throw fed.reason;
}

async function tablesOf(connection: Connection, database: string): Promise<readonly string[]> {
  const [tables] = await connection.query<(RowDataPacket & { name: string })[]>(
    'SELECT TABLE_NAME AS name FROM information_schema.TABLES WHERE TABLE_SCHEMA = ? ORDER BY TABLE_NAME',
    [database],
  );
  return tables.map(({ name }) => name).filter((name) => name !== UNDER_WAY);
}

/**
 * Puts a backup in the place of what a database holds. The backup is read whole and its hash compared before anything
 * is touched. While it is under way the database says so in a table of its own, and no server starts on it: one that
 * was ended half way is restored again. Servers must be stopped before.
 * @throws Error with what stands in the way
 */
export async function restore(
  config: DbConfig,
  folder: string,
  { replace = false, until }: RestoreOptions = {},
): Promise<Restored> {
  const manifest = readManifest(folder);
  const file = join(folder, DUMP);
  if ((await hashOf(file)) !== manifest.sha256)
    throw new Error(`${file} is not as it was backed up: its hash is another`);
  await mustUnpack(file);
  const ours = readMigrations().at(-1)?.number ?? 0;
  if (manifest.migration > ours)
    throw new Error(
      `This was backed up by a newer version of Hostler (migration ${manifest.migration}, here ${ours}): restore it with that one.`,
    );
  if (until && until.at.getTime() <= Date.parse(manifest.at))
    throw new Error(`The backup is of ${manifest.at}: it cannot be restored to a moment before.`);
  const logs = until ? logsOf(until.folder, manifest) : [];
  const { database } = config;
  const connection = await ownerConnection(config);
  try {
    await connection.query('CREATE DATABASE IF NOT EXISTS ?? CHARACTER SET utf8mb4 COLLATE utf8mb4_bin', [
      database,
    ]);
    await connection.query('USE ??', [database]);
    await locked(connection, config, 'migrations', async () => {
      const [marked] = await connection.query<RowDataPacket[]>('SHOW TABLES LIKE ?', [UNDER_WAY]);
      const tables = await tablesOf(connection, database);
      if (tables.length > 0 && !replace && marked.length === 0)
        throw new Error(
          `The database ${database} holds ${tables.length} tables. With --replace they go, and the backup takes their place.`,
        );
      await connection.query('CREATE TABLE IF NOT EXISTS ?? (since DATETIME(3) NOT NULL)', [UNDER_WAY]);
      await connection.query('SET FOREIGN_KEY_CHECKS = 0');
      for (const table of tables) await connection.query('DROP TABLE IF EXISTS ??', [table]);
      await withLogin(config, async (login) => {
        await load(login, file, database);
        if (manifest.rows) {
          const { [UNDER_WAY]: _mark, ...rows } = await countRows(connection, database);
          const wrong = otherwise(manifest.rows, rows);
          if (wrong.length > 0) throw new Error(`It did not come back whole. ${wrong.join('; ')}`);
        }
        if (until) await replay(login, manifest, logs, database, until.at);
      });
      await connection.query('DROP TABLE ??', [UNDER_WAY]);
    });
  } finally {
    await connection.end();
  }
  const migrated = await migrate(config);
  const keyring = openKeyring();
  return { manifest, migrated, missingKeys: manifest.keys.filter((id) => !keyring.has(id)) };
}
