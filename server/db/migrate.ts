import { createHash } from 'node:crypto';
import { readdirSync, readFileSync } from 'node:fs';
import { join, resolve } from 'node:path';
import type { Connection, RowDataPacket } from 'mysql2/promise';
import { asOwner, type DbConfig } from './config';
import { connect } from './connect';
import { grantTables } from './grants';
import { locked } from './lock';
import { OLDER } from './older';

export interface Migration {
  readonly number: number;
  readonly name: string;
  readonly sql: string;
  /** SHA-256 of the file, in hex. */
  readonly checksum: string;
}

const FOLDER = resolve(__dirname, 'migrations');

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

/** The statements of a file: each ends with a semicolon at the end of a line. */
export const statementsOf = (sql: string): readonly string[] =>
  sql
    .replace(/^\s*--.*$/gm, '')
    .split(/;[ \t]*(?:\n|$)/)
    .map((each) => each.trim())
    .filter((each) => each !== '');

/**
 * What the database says where a statement was done before, by a set-up that was ended between doing and noting it:
 * the table, column, key, trigger or constraint is there, or what it takes away is gone.
 */
const DONE_BEFORE = [
  'ER_TABLE_EXISTS_ERROR',
  'ER_DUP_FIELDNAME',
  'ER_DUP_KEYNAME',
  'ER_TRG_ALREADY_EXISTS',
  'ER_DUP_CONSTRAINT_NAME',
  'ER_FK_DUP_NAME',
  'ER_VERS_ALREADY_VERSIONED',
  'ER_TRG_DOES_NOT_EXIST',
];
function wasDoneBefore(error: unknown): boolean {
  const { code, errno, sqlMessage = '' } = error as { code?: string; errno?: number; sqlMessage?: string };
  return (
    DONE_BEFORE.includes(code ?? '') ||
    // A table that keeps every version already; the library has no name for it.
    / is already system-versioned$/.test(sqlMessage) ||
    // A foreign key that is there by that name: InnoDB says no more than errno 121.
    (errno === 1005 && /errno: 121\b/.test(sqlMessage))
  );
}

/**
 * Applies what has not been applied yet, in order, under a lock of the database so that two servers never do it at
 * the same time. Each statement is noted by itself: where a set-up is ended half way, the next one goes on from there.
 * At the end the application's own account is granted what it needs of each table.
 * @returns the names of the migrations applied now
 * @throws if an applied migration's file has changed or is gone, or the lock cannot be had
 */
export async function migrate(config: DbConfig, migrations = readMigrations()): Promise<string[]> {
  const connection = await connect(asOwner(config), { timezone: 'Z', charset: 'utf8mb4' });
  try {
    return await locked(connection, config, 'migrations', async () => {
      const now = await applyAll(connection, migrations);
      await setTriggers(connection, migrations, config.owner !== undefined);
      await grantTables(connection, config);
      return now;
    });
  } finally {
    await connection.end();
  }
}

/** A table that stands in a database while a backup takes its place. */
export const UNDER_WAY = 'restore_under_way';

async function applyAll(connection: Connection, migrations: readonly Migration[]): Promise<string[]> {
  const [half] = await connection.query<RowDataPacket[]>('SHOW TABLES LIKE ?', [UNDER_WAY]);
  if (half.length > 0)
    throw new Error(
      'A backup is being restored into this database, or that was not finished: restore it again.',
    );
  // A migration that is gone on with may be past the place where it says so itself.
  await connection.query('SET @@session.system_versioning_alter_history = KEEP');
  await connection.query(
    `CREATE TABLE IF NOT EXISTS migration (
       number INT UNSIGNED NOT NULL PRIMARY KEY,
       name VARCHAR(200) NOT NULL,
       checksum CHAR(64) NOT NULL,
       applied_at DATETIME(3) NOT NULL
     ) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_bin`,
  );
  await connection.query(
    `CREATE TABLE IF NOT EXISTS migration_step (
       step CHAR(64) NOT NULL PRIMARY KEY,
       number INT UNSIGNED NOT NULL,
       done_at DATETIME(3) NOT NULL
     ) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_bin`,
  );
  const [applied] = await connection.query<Applied[]>('SELECT number, name, checksum FROM migration');
  for (const before of applied) {
    const file = migrations.find((each) => each.number === before.number);
    if (!file) throw new Error(`the database has migration ${before.name}, which this version does not know`);
    if (file.checksum === before.checksum) continue;
    const older = OLDER.find((each) => each.number === before.number && each.checksum === before.checksum);
    if (!older) throw new Error(`migration ${before.name} was changed after it had been applied`);
    await runSteps(connection, file.number, older.mend);
    await connection.execute('UPDATE migration SET checksum = ? WHERE number = ?', [
      file.checksum,
      file.number,
    ]);
  }
  const done = new Set(applied.map((each) => each.number));
  const now: string[] = [];
  for (const migration of migrations) {
    if (done.has(migration.number)) continue;
    await runSteps(connection, migration.number, statementsOf(migration.sql));
    await connection.execute(
      'INSERT INTO migration (number, name, checksum, applied_at) VALUES (?, ?, ?, UTC_TIMESTAMP(3))',
      [migration.number, migration.name, migration.checksum],
    );
    now.push(migration.name);
  }
  return now;
}

/**
 * A statement as every node of a cluster does it: a setting of this session is not one of theirs, so that it stands in
 * the statement itself.
 */
const onEveryNode = (statement: string): string =>
  /^ALTER TABLE/i.test(statement)
    ? `SET STATEMENT system_versioning_alter_history = KEEP FOR ${statement}`
    : statement;

/** A database that keeps a binary log, as each node of a cluster does, takes triggers of administrators alone. */
const isTriggerRefused = (error: unknown): boolean =>
  (error as { code?: unknown } | null)?.code === 'ER_BINLOG_CREATE_ROUTINE_NEED_SUPER';
const TRIGGER = /^CREATE TRIGGER (\w+)/i;

/**
 * Makes the triggers that are missing: those that a database refused before, and takes now.
 * @param isOwned whether the application has another account than the owner of the tables: then its rights keep the
 *   record as it is, and the triggers, which hold for the owner too, may be missing
 * @throws where they are refused and nothing else keeps the record
 */
async function setTriggers(
  connection: Connection,
  migrations: readonly Migration[],
  isOwned: boolean,
): Promise<void> {
  // Of one that was made anew the latest.
  const wanted = new Map(
    migrations
      .flatMap(({ sql }) => statementsOf(sql))
      .flatMap((statement) => {
        const name = TRIGGER.exec(statement)?.[1];
        return name === undefined ? [] : [[name, statement] as const];
      }),
  );
  const [rows] = await connection.query<RowDataPacket[]>(
    'SELECT trigger_name AS name FROM information_schema.triggers WHERE trigger_schema = DATABASE()',
  );
  for (const { name } of rows) wanted.delete(String(name));
  for (const statement of wanted.values())
    await connection.query(statement).catch((error: unknown) => {
      if (!isTriggerRefused(error)) throw error;
      if (!isOwned)
        throw new Error(
          'The database keeps a binary log and takes no triggers from this account, so that nothing would keep the record as it is: set log_bin_trust_function_creators = 1, or name another account as HOSTLER_DB_OWNER.',
        );
    });
}

/** Does the statements that have not been noted as done; settings of the session are made each time. */
async function runSteps(
  connection: Connection,
  number: number,
  statements: readonly string[],
): Promise<void> {
  const [rows] = await connection.query<RowDataPacket[]>('SELECT step FROM migration_step WHERE number = ?', [
    number,
  ]);
  const noted = new Set(rows.map(({ step }) => String(step)));
  for (const [at, statement] of statements.entries()) {
    if (/^SET /i.test(statement)) {
      await connection.query(statement);
      continue;
    }
    const step = createHash('sha256').update(`${number}/${at}/${statement}`).digest('hex');
    if (noted.has(step)) continue;
    await connection.query(onEveryNode(statement)).catch((error: unknown) => {
      if (!wasDoneBefore(error) && !isTriggerRefused(error)) throw error;
    });
    await connection.execute(
      'INSERT INTO migration_step (step, number, done_at) VALUES (?, ?, UTC_TIMESTAMP(3))',
      [step, number],
    );
  }
}
