import { randomBytes } from 'node:crypto';
import {
  createWriteStream,
  existsSync,
  mkdirSync,
  openSync,
  closeSync,
  fsyncSync,
  renameSync,
  rmSync,
  statSync,
  writeFileSync,
} from 'node:fs';
import { dirname, join } from 'node:path';
import { Transform } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import { createGzip } from 'node:zlib';
import type { Connection, RowDataPacket } from 'mysql2/promise';
import { isReady, locked, nodesOf, type DbConfig, type DbHost } from '../db';
import { load } from './load';
import { countRows, DUMP, hashOf, MANIFEST, type Manifest } from './manifest';
import { ownerConnection, startTool, withLogin } from './tools';

export interface BackedUp {
  readonly folder: string;
  /** The node of the cluster that it is from; null: there is one database alone. */
  readonly node: string | null;
  readonly manifest: Manifest;
  /** Why it was not tried; null: it was, and came back whole. */
  readonly notTried: string | null;
}

/** The head of a dump, in which it says where the binary log stands. */
const HEAD = 64 << 10;
const POSITION = /CHANGE MASTER TO MASTER_LOG_FILE='([^']+)', MASTER_LOG_POS=(\d+)/;

/** Writes what is on its way to the disk before it is counted on. */
function sync(path: string): void {
  const file = openSync(path, 'r');
  try {
    fsyncSync(file);
  } finally {
    closeSync(file);
  }
}

/** Whether the database keeps a binary log, and we may ask where it stands. */
async function keepsBinlog(connection: Connection): Promise<boolean> {
  const [[row]] = await connection.query<RowDataPacket[]>('SELECT @@log_bin AS on_');
  if (Number(row?.on_) !== 1) return false;
  return connection.query('SHOW MASTER STATUS').then(
    () => true,
    () => false,
  );
}

async function dump(
  login: string,
  database: string,
  file: string,
  withPosition: boolean,
): Promise<Manifest['binlog']> {
  const tool = startTool(
    'mariadb-dump',
    [
      login,
      // One moment for all tables, without holding anybody up; every version of every row, and the triggers.
      '--single-transaction',
      '--quick',
      '--dump-history',
      '--triggers',
      '--hex-blob',
      '--default-character-set=utf8mb4',
      ...(withPosition ? ['--master-data=2'] : []),
      database,
    ],
    'ignore',
  );
  let head = '';
  const look = new Transform({
    transform(part: Buffer, _encoding, done) {
      if (head.length < HEAD) head += part.toString('latin1');
      done(null, part);
    },
  });
  const [written] = await Promise.allSettled([
    pipeline(tool.child.stdout!, look, createGzip(), createWriteStream(file, { flags: 'wx', mode: 0o600 })),
    tool.ended,
  ]);
  await tool.ended;
  if (written.status === 'rejected') throw written.reason;
  const found = POSITION.exec(head);
  return found ? { file: found[1]!, position: Number(found[2]) } : null;
}

/** The keys that secrets of the database are sealed with. */
async function keysOf(connection: Connection, database: string): Promise<readonly string[]> {
  const [rows] = await connection.query<RowDataPacket[]>(
    'SELECT key_id AS id FROM ??.secret UNION SELECT key_id FROM ??.sip_account',
    [database, database],
  );
  return rows.map(({ id }) => String(id));
}

/** Loads the dump into a database of its own and counts. @returns the rows, or why it could not be tried */
async function tryIt(
  connection: Connection,
  login: string,
  file: string,
  database: string,
): Promise<{ rows: Record<string, number> } | { why: string }> {
  const beside = `${database.slice(0, 40)}_check_${process.pid}`;
  try {
    await connection.query('CREATE DATABASE ?? CHARACTER SET utf8mb4 COLLATE utf8mb4_bin', [beside]);
  } catch (error) {
    return {
      why: `there is no right to make a database beside it (${(error as { code?: string }).code ?? ''})`,
    };
  }
  try {
    await load(login, file, beside);
    return { rows: await countRows(connection, beside) };
  } finally {
    await connection.query('DROP DATABASE IF EXISTS ??', [beside]);
  }
}

/**
 * Backs a database up into a new folder: a dump of one moment with every version of every row, and a manifest. It is
 * tried by loading it into a database beside it. The folder has its name only once all of it is on the disk: one
 * that was not finished is never taken for a backup. Of a cluster it is from the first node that takes statements, also
 * where another goes away on the way.
 * @param options.isTried false: it is not tried
 * @throws Error with what stands in the way; nothing is left behind then
 */
export async function backUp(
  config: DbConfig,
  folder: string,
  options: { readonly isTried?: boolean; readonly now?: Date } = {},
): Promise<BackedUp> {
  const nodes = nodesOf(config);
  for (const [nth, node] of nodes.entries()) {
    const one = node ? onlyAt(config, node) : config;
    try {
      return {
        ...(await backUpFrom(one, folder, options)),
        node: node && nodes.length > 1 ? `${node.host}:${node.port}` : null,
      };
    } catch (error) {
      // A node that is well has failed for a reason that is the same on every other.
      if (nth === nodes.length - 1 || (await takesStatements(one))) throw error;
    }
  }
  throw new Error('no node of the database is named');
}

/** One node of a cluster, as if there were no others: all of a backup is from one. */
function onlyAt({ hosts: _hosts, ...config }: DbConfig, { host, port }: DbHost): DbConfig {
  return { ...config, host, port };
}

async function takesStatements(config: DbConfig): Promise<boolean> {
  const connection = await ownerConnection(config).catch(() => null);
  try {
    return connection !== null && (await isReady(connection));
  } catch {
    return false;
  } finally {
    connection?.destroy();
  }
}

async function backUpFrom(
  config: DbConfig,
  folder: string,
  { isTried = true, now = new Date() }: { readonly isTried?: boolean; readonly now?: Date },
): Promise<Omit<BackedUp, 'node'>> {
  if (existsSync(folder)) throw new Error(`${folder} is there already: a backup goes into a new folder`);
  const making = `${folder}.unfinished-${process.pid}-${randomBytes(3).toString('hex')}`;
  mkdirSync(dirname(making), { recursive: true });
  mkdirSync(making, { mode: 0o700 });
  const file = join(making, DUMP);
  const connection = await ownerConnection(config);
  try {
    return await withLogin(config, (login) =>
      // No migration comes in between.
      locked(connection, config, 'migrations', async () => {
        const { database } = config;
        const [[last]] = await connection.query<RowDataPacket[]>(
          'SELECT MAX(number) AS number, VERSION() AS server FROM ??.migration',
          [database],
        );
        const binlog = await dump(login, database, file, await keepsBinlog(connection));
        const tried = isTried
          ? await tryIt(connection, login, file, database)
          : { why: 'it was not asked for' };
        const manifest: Manifest = {
          format: 'hostler-backup/1',
          at: now.toISOString(),
          database,
          migration: Number(last?.number ?? 0),
          server: String(last?.server ?? ''),
          sha256: await hashOf(file),
          bytes: statSync(file).size,
          binlog,
          rows: 'rows' in tried ? tried.rows : null,
          keys: await keysOf(connection, database),
        };
        writeFileSync(join(making, MANIFEST), `${JSON.stringify(manifest, null, 1)}\n`, { mode: 0o600 });
        for (const each of [DUMP, MANIFEST]) sync(join(making, each));
        sync(making);
        // Somebody else may have come first meanwhile.
        if (existsSync(folder))
          throw new Error(`${folder} is there already: a backup goes into a new folder`);
        renameSync(making, folder);
        sync(dirname(folder));
        return { folder, manifest, notTried: 'why' in tried ? tried.why : null };
      }),
    );
  } finally {
    rmSync(making, { recursive: true, force: true });
    await connection.end();
  }
}
