import { mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import mysql, { type Connection, type RowDataPacket } from 'mysql2/promise';
import { backUp, restore } from '../backup';
import { estateOf, loadEstate } from '../estate/queries';
import { asOwner } from './config';
import { openDb } from './connection';
import { migrate, readMigrations, statementsOf, type Migration } from './migrate';
import { freshDatabase, type TestDb } from '../test';

/** Databases of before, and set-ups that were ended half way, come to the same as one that is set up anew. */
let test1: TestDb;
let owner: Connection;
const all = readMigrations();
const LANDED = JSON.parse(readFileSync(join(__dirname, 'landed.json'), 'utf8')) as Record<string, string>;
const OLDER = join(__dirname, 'tests/older');
const older = (name: string): Migration => readMigrations(OLDER).find((each) => each.name === name)!;

beforeEach(async () => {
  test1 = await freshDatabase(false);
  owner = await mysql.createConnection({
    ...asOwner(test1.config),
    multipleStatements: true,
    timezone: 'Z',
    charset: 'utf8mb4',
  });
});
afterEach(async () => {
  await owner.end();
  await test1.drop();
});

/** As it was done before each statement was noted by itself. */
async function asBefore(migrations: readonly Migration[]): Promise<void> {
  await owner.query(
    'CREATE TABLE IF NOT EXISTS migration (number INT UNSIGNED NOT NULL PRIMARY KEY, name VARCHAR(200) NOT NULL, checksum CHAR(64) NOT NULL, applied_at DATETIME(3) NOT NULL)',
  );
  for (const { number, name, sql, checksum } of migrations) {
    await owner.query(sql);
    await owner.execute('INSERT INTO migration VALUES (?, ?, ?, UTC_TIMESTAMP(3))', [number, name, checksum]);
  }
}

/** A plan in the names that were kept before: `onlyUnless` is `unlessRegistered` now. */
const planWith = (name: string) => ({
  rules: [],
  otherwise: {
    stages: [{ ring: [{ endpoint: 'd1', [name]: 'd1' }], forMs: 20_000 }],
    ending: { kind: 'mailbox' },
  },
});
const PLAN = JSON.stringify(planWith('onlyUnless'));
/** Data as the very first version could hold them. */
const DATA = `
  INSERT INTO organisation (id, name, time_zone, dialling) VALUES (1, 'Old ferry line', 'America/Vancouver', '{"country":"CA"}');
  INSERT INTO estate_object (kind, id, position, body) VALUES
    ('status', 'on', 0, '{"id":"on","name":"On"}'), ('permission', 'all', 0, '{"id":"all","name":"All","allow":[]}');
  INSERT INTO person (id, position, name, status_id, permission_id, max_calls, plan) VALUES ('ada', 0, 'Ada', 'on', 'all', 2, '${PLAN}');
  INSERT INTO line (id, person_id, position, extension) VALUES ('l1', 'ada', 0, '4101');
  INSERT INTO line_number (e164, line_id, position) VALUES ('+12505550101', 'l1', 0);
  INSERT INTO endpoint (id, person_id, position, kind, label, body) VALUES ('d1', 'ada', 0, 'desk', 'Desk', '{"id":"d1","kind":"desk","label":"Desk"}');`;
const MORE = `
  INSERT INTO account (name, role, password_hash) VALUES ('specialist', 'specialist', 'x');
  INSERT INTO record_entry (at, who, kind, subject) VALUES (UTC_TIMESTAMP(3), 'specialist', 'estate-imported', 'Old');`;

const schemaOf = async (connection: Connection) => {
  const [columns] = await connection.query<RowDataPacket[]>(
    `SELECT table_name AS t, column_name AS c, column_type AS k, is_nullable AS n FROM information_schema.columns
     WHERE table_schema = DATABASE() ORDER BY t, c`,
  );
  const [triggers] = await connection.query<RowDataPacket[]>(
    'SELECT trigger_name AS name FROM information_schema.triggers WHERE trigger_schema = DATABASE() ORDER BY name',
  );
  const [keys] = await connection.query<RowDataPacket[]>(
    'SELECT table_name AS t, constraint_name AS name FROM information_schema.table_constraints WHERE table_schema = DATABASE() ORDER BY t, name',
  );
  return { columns, triggers, keys };
};
const fresh = (async () => {
  const whole = await freshDatabase();
  const connection = await mysql.createConnection(asOwner(whole.config));
  const schema = await schemaOf(connection);
  await connection.end();
  await whole.drop();
  return schema;
})();

async function holdsItsData(): Promise<void> {
  expect(await schemaOf(owner)).toEqual(await fresh);
  const db = openDb(test1.config);
  const stored = await loadEstate(db);
  expect(estateOf(stored!)).toMatchObject({
    name: 'Old ferry line',
    statuses: [{ id: 'on' }],
    people: [
      {
        id: 'ada',
        lines: [{ extension: '4101', numbers: ['+12505550101'] }],
        endpoints: [{ id: 'd1' }],
        plan: planWith('unlessRegistered'),
      },
    ],
  });
  // What it is asked for every day can be done with what the application is granted.
  await db.query("UPDATE person SET name = 'Ada of now' WHERE id = 'ada'");
  await expect(db.query('DELETE FROM record_entry')).rejects.toThrow(/denied/);
  await db.end();
}

describe('an upgrade keeps the data', () => {
  /** From the one after this on each statement is noted by itself. */
  const NOT_NOTED = 17;
  /** A database as a version had it that had migrations up to a number, with data in it. */
  async function asOfVersion(number: number): Promise<void> {
    await asBefore(all.slice(0, Math.min(number, NOT_NOTED)));
    if (number > NOT_NOTED) await migrate(test1.config, all.slice(0, number));
    await owner.query(DATA);
    if (number >= 2) await owner.query(MORE);
  }
  const landed = all.filter(({ name }) => name in LANDED);
  test.each(landed.map(({ number, name }) => [name, number] as const))(
    'from a database as of %s',
    async (_name, number) => {
      await asOfVersion(number);
      expect(await migrate(test1.config)).toEqual(all.slice(number).map(({ name }) => name));
      await holdsItsData();
    },
  );
  // Before it secrets of phones had no table of their own, which a backup names the keys of.
  const kept = landed.filter(({ number }) => number >= NOT_NOTED);
  test.each(
    kept.filter((_each, i) => i % 4 === 0 || i === kept.length - 1).map(({ name, number }) => [name, number]),
  )(
    'a backup made at %s is gone back to after an upgrade, with every version of every row, and upgraded again',
    async (_name, number) => {
      await asOfVersion(Number(number));
      await owner.query("UPDATE person SET name = 'Ada the second' WHERE id = 'ada'");
      const folder = mkdtempSync(join(tmpdir(), 'hostler-older-'));
      try {
        const { manifest } = await backUp(test1.config, join(folder, 'b'));
        expect(manifest.migration).toBe(number);
        await migrate(test1.config);
        await owner.query("UPDATE person SET name = 'Changed after the upgrade' WHERE id = 'ada'");
        const { migrated } = await restore(test1.config, join(folder, 'b'), { replace: true });
        expect(migrated).toEqual(all.slice(Number(number)).map(({ name }) => name));
      } finally {
        rmSync(folder, { recursive: true, force: true });
      }
      const [names] = await owner.query<RowDataPacket[]>(
        'SELECT name FROM person FOR SYSTEM_TIME ALL ORDER BY ROW_START, name',
      );
      expect(new Set(names.map(({ name }) => name))).toEqual(new Set(['Ada', 'Ada the second']));
      await holdsItsData();
    },
  );
  test('from the first one as it was before kinds were text', async () => {
    await asBefore([older('001_estate.sql'), ...all.slice(1, 3)]);
    await owner.query(
      "INSERT INTO organisation (id, name, time_zone, dialling) VALUES (1, 'Old ferry line', 'America/Vancouver', '{}')",
    );
    await migrate(test1.config);
    expect(await schemaOf(owner)).toEqual(await fresh);
    await owner.query('DELETE FROM organisation');
    await owner.query(DATA);
    await holdsItsData();
  });
  test('from the one in which nobody’s phone for placing calls was kept', async () => {
    await asBefore([...all.slice(0, 15), older('016_softphones.sql')]);
    await owner.query(DATA);
    await migrate(test1.config);
    await holdsItsData();
  });
});

describe('a set-up that was ended half way is gone on with', () => {
  test.each([
    ['in the middle of', (length: number) => Math.floor(length / 2)],
    ['before the last statement of', (length: number) => length - 1],
  ])('%s each migration in turn, whose statements were not noted', async (_where, countOf) => {
    for (const [at, { number, sql }] of all.entries()) {
      await migrate(test1.config, all.slice(0, at));
      const statements = statementsOf(sql);
      for (const statement of statements.slice(0, countOf(statements.length))) await owner.query(statement);
      await expect(
        migrate(test1.config, all.slice(0, at + 1)).then((names) => [number, names.length]),
      ).resolves.toEqual([number, 1]);
    }
    expect(await schemaOf(owner)).toEqual(await fresh);
    expect(await migrate(test1.config)).toEqual([]);
  });
});

test('migrations that have landed are as they landed', () => {
  const now = Object.fromEntries(all.map(({ name, checksum }) => [name, checksum]));
  for (const [name, checksum] of Object.entries(LANDED)) expect([name, now[name]]).toEqual([name, checksum]);
});
