import { spawn } from 'node:child_process';
import { createHash } from 'node:crypto';
import {
  existsSync,
  mkdtempSync,
  readdirSync,
  readFileSync,
  rmSync,
  truncateSync,
  writeFileSync,
} from 'node:fs';
import { tmpdir } from 'node:os';
import { join, resolve } from 'node:path';
import type { RowDataPacket } from 'mysql2/promise';
import { scriptAt } from '../base';
import { asOwner, dbEnv, inTransaction, migrate, openDb, UNDER_WAY, type DbConfig } from '../db';
import { estateFile, loadPerson, replaceEstate, updatePeople } from '../estate';
import { addRecord } from '../record';
import { demoEstate, freshDatabase, type TestDb } from '../test';
import { backUp, restore } from '.';
import { DUMP, MANIFEST, readManifest } from './manifest';
import { ownerConnection } from './tools';

const ROOT = resolve(__dirname, '../..');
const folder = mkdtempSync(join(tmpdir(), 'hostler-backup-'));
let test1: TestDb;
let made = 0;
const place = () => join(folder, `b${(made += 1)}`);
const restored: DbConfig[] = [];

/** Another database on the same server, which is not there yet. */
function another(): DbConfig {
  const config = { ...test1.config, database: `${test1.config.database}_${restored.length}` };
  restored.push(config);
  return config;
}

/** Changes a person and notes it in the record, in one transaction. */
const rename = (name: string) =>
  inTransaction(test1.db, async (tx) => {
    const stored = await loadPerson(tx, 'ines');
    const after = { ...stored!.person, name };
    await updatePeople(tx, [after], 2);
    await addRecord(tx, {
      who: 'test',
      kind: 'person-changed',
      personId: 'ines',
      subject: name,
      before: stored!.person,
      after,
    });
  });

/** All that a database is known by: the estate to the letter, every version of Ines, and the record. */
async function known(config: DbConfig) {
  const db = openDb(config);
  try {
    const [versions] = await db.query<RowDataPacket[]>(
      'SELECT name, ROW_START AS since, ROW_END AS until FROM person FOR SYSTEM_TIME ALL WHERE id = ? ORDER BY ROW_START',
      ['ines'],
    );
    const [record] = await db.query<RowDataPacket[]>('SELECT * FROM record_entry ORDER BY id');
    return { estate: JSON.stringify(await estateFile(db)), versions, record };
  } finally {
    await db.end();
  }
}

beforeAll(async () => {
  test1 = await freshDatabase();
  await replaceEstate(test1.db, demoEstate(), 'test');
  await rename('Ines the second');
  await rename('Ines the third');
});
afterAll(async () => {
  const connection = await ownerConnection(test1.config);
  for (const { database } of restored) await connection.query('DROP DATABASE IF EXISTS ??', [database]);
  await connection.end();
  await test1.drop();
  rmSync(folder, { recursive: true, force: true });
});

test('everything destroyed and restored: the estate to the letter, its history and its record', async () => {
  const before = await known(test1.config);
  expect(before.versions.map(({ name }) => name)).toEqual([
    'Ines Okafor',
    'Ines the second',
    'Ines the third',
  ]);
  const { folder: at, manifest, notTried } = await backUp(test1.config, place());
  expect(notTried).toBeNull();
  expect(manifest.rows).toMatchObject({ record_entry: before.record.length });
  const config = another();
  const done = await restore(config, at);
  expect(done.migrated).toEqual([]);
  expect(await known(config)).toEqual(before);
  // What may not be altered may not be altered there either, and the application comes in with its own account.
  const db = openDb(config);
  await expect(db.query('DELETE FROM record_entry')).rejects.toThrow(/denied/);
  await db.end();
  const owner = await ownerConnection(config);
  await expect(
    owner.query('UPDATE ??.record_entry SET who = ?', [config.database, 'nobody']),
  ).rejects.toThrow();
  await owner.end();
});

test('a database that holds something is left alone until it is said that it goes', async () => {
  const { folder: at } = await backUp(test1.config, place(), { isTried: false });
  const config = another();
  await restore(config, at);
  const db = openDb(config);
  await db.query("UPDATE person SET name = 'Somebody else' WHERE id = 'ines'");
  await db.end();
  const changed = await known(config);
  await expect(restore(config, at)).rejects.toThrow(/holds \d+ tables. With --replace they go/);
  expect(await known(config)).toEqual(changed);
  await restore(config, at, { replace: true });
  expect(await known(config)).toEqual(await known(test1.config));
});

describe('what is no whole backup is refused before anything is touched', () => {
  const spoil: readonly (readonly [string, (at: string) => void, RegExp])[] = [
    ['a torn dump', (at) => truncateSync(join(at, DUMP), 20_000), /is not as it was backed up/],
    [
      'a torn dump with a hash that is right',
      (at) => {
        truncateSync(join(at, DUMP), 20_000);
        const sha256 = createHash('sha256')
          .update(readFileSync(join(at, DUMP)))
          .digest('hex');
        writeFileSync(join(at, MANIFEST), JSON.stringify({ ...readManifest(at), sha256 }));
      },
      /is torn/,
    ],
    ['no manifest', (at) => rmSync(join(at, MANIFEST)), /is no backup/],
    [
      'a manifest that is none',
      (at) => writeFileSync(join(at, MANIFEST), '{"format":"x"}'),
      /is no manifest of a backup/,
    ],
    [
      'one of a newer version',
      (at) => writeFileSync(join(at, MANIFEST), JSON.stringify({ ...readManifest(at), migration: 9999 })),
      /newer version of Hostler/,
    ],
    ['one that is to be gone on from, without a binary log', () => undefined, /kept no binary log/],
  ];
  test.each(spoil)('%s', async (what, how, says) => {
    const { folder: at } = await backUp(test1.config, place(), { isTried: false });
    how(at);
    const before = await known(test1.config);
    await expect(
      restore(test1.config, at, {
        replace: true,
        ...(what.includes('gone on from') ? { until: { at: new Date(Date.now() + 1000), folder } } : {}),
      }),
    ).rejects.toThrow(says);
    expect(await known(test1.config)).toEqual(before);
  });

  test('a dump that comes back with less than was backed up is told, and no server starts on it', async () => {
    const { folder: at } = await backUp(test1.config, place());
    const manifest = readManifest(at);
    writeFileSync(
      join(at, MANIFEST),
      JSON.stringify({ ...manifest, rows: { ...manifest.rows, person: (manifest.rows?.person ?? 0) + 1 } }),
    );
    const config = another();
    await expect(restore(config, at)).rejects.toThrow(/did not come back whole. person: \d+ rows, \d+ when/);
    await expect(migrate(config)).rejects.toThrow(/restore it again/);
  });
});

test('while others write, all of it is of one moment', async () => {
  let goOn = true;
  let n = 0;
  const writing = (async () => {
    while (goOn && n < 5000) await rename(`Ines ${(n += 1)}`);
  })();
  const backups = [];
  for (let i = 0; i < 3; i += 1) backups.push(await backUp(test1.config, place(), { isTried: false }));
  goOn = false;
  await writing;
  expect(n).toBeGreaterThan(3);
  for (const { folder: at } of backups) {
    const config = another();
    await restore(config, at);
    const { versions, record } = await known(config);
    // A version and its entry in the record were written together: never one without the other.
    const told = record.filter(({ person_id }) => person_id === 'ines').map(({ subject }) => String(subject));
    expect(versions.map(({ name }) => String(name)).slice(1)).toEqual(told);
  }
});

test('two backups into one folder at once: one is it, and nothing is left of the other', async () => {
  const at = place();
  const both = await Promise.allSettled([
    backUp(test1.config, at, { isTried: false }),
    backUp(test1.config, at, { isTried: false }),
  ]);
  expect(both.map(({ status }) => status).sort()).toEqual(['fulfilled', 'rejected']);
  expect(both.find(({ status }) => status === 'rejected')).toMatchObject({
    reason: { message: expect.stringContaining('is there already') as string },
  });
  expect(readdirSync(folder).filter((name) => name.includes('.unfinished'))).toEqual([]);
  await restore(another(), at);
});

test('two restores into one database at once: one is done, the other is told that something is there', async () => {
  const { folder: at } = await backUp(test1.config, place(), { isTried: false });
  const config = another();
  const both = await Promise.allSettled([restore(config, at), restore(config, at)]);
  expect(both.map(({ status }) => status).sort()).toEqual(['fulfilled', 'rejected']);
  expect(both.find(({ status }) => status === 'rejected')).toMatchObject({
    reason: { message: expect.stringContaining('With --replace they go') as string },
  });
  expect(await known(config)).toEqual(await known(test1.config));
});

/** The command in a process of its own, which is killed once something is so. */
async function killed(
  config: DbConfig,
  args: readonly string[],
  once: () => Promise<boolean>,
): Promise<boolean> {
  const { file, execArgv } = scriptAt('cli/hostler.ts');
  const child = spawn(process.execPath, [...execArgv, file, ...args], {
    cwd: ROOT,
    env: { ...process.env, ...dbEnv(config) },
    stdio: 'ignore',
    detached: true,
  });
  let ended = false;
  const end = new Promise<void>((done) =>
    child.once('exit', () => {
      ended = true;
      done();
    }),
  );
  let seen = false;
  for (let looks = 0; looks < 20_000 && !ended && !seen; looks += 1) {
    seen = await once();
    await new Promise((next) => setTimeout(next, 1));
  }
  // The programs of the database that it has started go with it.
  if (!ended && child.pid) process.kill(-child.pid, 'SIGKILL');
  await end;
  return seen;
}

test('a backup that is killed is none, and the next one is', async () => {
  const at = place();
  const seen = await killed(test1.config, ['backup', '--to', at], () =>
    Promise.resolve(
      readdirSync(folder).some((name) => name.startsWith(`${at.split('/').at(-1)}.unfinished`)),
    ),
  );
  expect(seen).toBe(true);
  expect(existsSync(at)).toBe(false);
  expect((await backUp(test1.config, at, { isTried: false })).folder).toBe(at);
  await expect(backUp(test1.config, at)).rejects.toThrow(/is there already/);
});

test('a restore that is killed leaves a database that no server starts on; restored again it is whole', async () => {
  const { folder: at } = await backUp(test1.config, place(), { isTried: false });
  const config = another();
  const owner = await ownerConnection(config);
  const seen = await killed(config, ['restore', '--from', at], async () => {
    const [tables] = await owner.query<RowDataPacket[]>(
      "SELECT 1 FROM information_schema.TABLES WHERE TABLE_SCHEMA = ? AND TABLE_NAME = 'person'",
      [config.database],
    );
    return tables.length > 0;
  });
  expect(seen).toBe(true);
  const [mark] = await owner.query<RowDataPacket[]>('SHOW TABLES FROM ?? LIKE ?', [
    config.database,
    UNDER_WAY,
  ]);
  await owner.end();
  expect(mark).toHaveLength(1);
  await expect(migrate(config)).rejects.toThrow(/restore it again/);
  await restore(config, at);
  expect((await known(config)).estate).toBe((await known(test1.config)).estate);
});

test('the password of the database stands on no command line', async () => {
  const { password } = asOwner(test1.config);
  expect(password.length).toBeGreaterThan(8);
  const at = place();
  let told = '';
  await killed(test1.config, ['backup', '--to', at], () => {
    for (const pid of readdirSync('/proc').filter((name) => /^\d+$/.test(name)))
      try {
        const line = readFileSync(`/proc/${pid}/cmdline`, 'utf8');
        if (line.includes('mariadb-dump')) told = line;
      } catch {
        // It has ended since.
      }
    return Promise.resolve(told !== '');
  });
  expect(told).toContain('mariadb-dump');
  expect(told).not.toContain(password);
});
