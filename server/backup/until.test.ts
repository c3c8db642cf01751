import { spawn, spawnSync, type ChildProcess } from 'node:child_process';
import { mkdirSync, mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import mysql, { type Connection, type RowDataPacket } from 'mysql2/promise';
import { migrate, openDb, type DbConfig } from '../db';
import { replaceEstate } from '../estate';
import { demoEstate } from '../test';
import { backUp, restore } from '.';

/** A database of its own that keeps a binary log. */
const folder = mkdtempSync(join(tmpdir(), 'hostler-logs-'));
const [data, logs] = [join(folder, 'data'), join(folder, 'logs')];
const socketPath = join(folder, 's');
const config: DbConfig = { socketPath, user: 'root', password: '', database: 'hostler' };
let server: ChildProcess;
let root: Connection;

const asRoot = process.getuid?.() === 0 ? ['--user=root'] : [];
const TRIES = 600;
async function connected(): Promise<Connection> {
  for (let tries = 0; ; tries += 1)
    try {
      return await mysql.createConnection({ socketPath, user: 'root', timezone: 'Z' });
    } catch (error) {
      if (tries >= TRIES) throw error;
      await new Promise((next) => setTimeout(next, 50));
    }
}

beforeAll(async () => {
  mkdirSync(logs);
  const made = spawnSync(
    'mariadb-install-db',
    [
      '--no-defaults',
      `--datadir=${data}`,
      '--auth-root-authentication-method=normal',
      '--skip-test-db',
      ...asRoot,
    ],
    { encoding: 'utf8' },
  );
  expect([made.status, made.stderr]).toEqual([0, expect.any(String)]);
  server = spawn(
    '/usr/sbin/mariadbd',
    [
      '--no-defaults',
      `--datadir=${data}`,
      `--socket=${socketPath}`,
      '--skip-networking',
      `--log-bin=${join(logs, 'changes')}`,
      '--binlog-format=ROW',
      '--log-bin-trust-function-creators=1',
      '--server-id=1',
      '--innodb-buffer-pool-size=32M',
      ...asRoot,
    ],
    { stdio: 'ignore' },
  );
  root = await connected();
  await root.query('CREATE DATABASE hostler CHARACTER SET utf8mb4 COLLATE utf8mb4_bin');
  await migrate(config);
  const db = openDb(config);
  await replaceEstate(db, demoEstate(), 'test');
  await db.end();
}, 120_000);
afterAll(async () => {
  await root?.end();
  const ended = new Promise((done) => server.once('exit', done));
  server?.kill('SIGKILL');
  await ended;
  rmSync(folder, { recursive: true, force: true });
});

const nameOf = async (database: string): Promise<string> => {
  const [[row]] = await root.query<RowDataPacket[]>('SELECT name FROM ??.person WHERE id = ?', [
    database,
    'ines',
  ]);
  return String(row?.name);
};
/** Renames Ines at a moment of the database's clock. */
async function renameAt(name: string, at: Date): Promise<void> {
  await root.query('USE hostler');
  await root.query('SET timestamp = ?', [at.getTime() / 1000]);
  await root.query("UPDATE person SET name = ? WHERE id = 'ines'", [name]);
  await root.query('SET timestamp = DEFAULT');
}

test('a backup and the binary logs since lead to any moment in between, to the second', async () => {
  const { folder: at, manifest } = await backUp(config, join(folder, 'backup'));
  expect(manifest.binlog).toMatchObject({ file: expect.stringMatching(/^changes\.\d+$/) });
  const moment = (seconds: number) => new Date(Date.parse(manifest.at) + seconds * 1000);
  await renameAt('Ines at ten', moment(10));
  // Logs that begin anew in between are gone on with.
  await root.query('FLUSH BINARY LOGS');
  await renameAt('Ines at twenty', moment(20));
  await renameAt('Ines at thirty', moment(30));
  const then = async (seconds: number, database: string) => {
    await restore({ ...config, database }, at, { until: { at: moment(seconds), folder: logs } });
    return nameOf(database);
  };
  expect(await then(5, 'hostler_five')).toBe('Ines Okafor');
  expect(await then(15, 'hostler_fifteen')).toBe('Ines at ten');
  expect(await then(25, 'hostler_twentyfive')).toBe('Ines at twenty');
  // In its own place, everything destroyed: to the second before.
  await root.query('SET timestamp = ?', [moment(35).getTime() / 1000]);
  await root.query('DROP DATABASE hostler');
  await root.query('SET timestamp = DEFAULT');
  expect(await then(34, 'hostler')).toBe('Ines at thirty');
  const [versions] = await root.query<RowDataPacket[]>(
    "SELECT name FROM hostler.person FOR SYSTEM_TIME ALL WHERE id = 'ines' ORDER BY ROW_START",
  );
  expect(versions.map(({ name }) => name)).toEqual([
    'Ines Okafor',
    'Ines at ten',
    'Ines at twenty',
    'Ines at thirty',
  ]);
  await expect(
    restore(config, at, { replace: true, until: { at: moment(-1), folder: logs } }),
  ).rejects.toThrow(/cannot be restored to a moment before/);
  await expect(restore(config, at, { replace: true, until: { at: moment(40), folder } })).rejects.toThrow(
    /does not hold changes\.\d+, where the backup ends/,
  );
  expect(await nameOf('hostler')).toBe('Ines at thirty');
}, 120_000);
