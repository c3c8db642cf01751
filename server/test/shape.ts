import { randomBytes } from 'node:crypto';
import mysql, { type Connection, type RowDataPacket } from 'mysql2/promise';
import { asOwner, dbConfig, migrate, type DbConfig } from '../db';

/**
 * A database that was migrated, and what makes another like it: its tables as the database itself tells them. Dozens of
 * tests begin with one, and to migrate each takes several times as long. `shape.test.ts` holds what is made so to what is
 * migrated.
 */
interface Shape {
  readonly database: string;
  readonly statements: readonly string[];
}

/** Makes an empty database by a name of its own. @returns the connection that made it, and how it is reached */
export async function emptyDatabase(): Promise<{ readonly admin: Connection; readonly config: DbConfig }> {
  const base = dbConfig();
  const database = `hostler_test_${randomBytes(6).toString('hex')}`;
  const { database: _unused, owner: _owner, ...server } = asOwner(base);
  const admin = await mysql.createConnection(server);
  await admin.query(`CREATE DATABASE ${database} CHARACTER SET utf8mb4 COLLATE utf8mb4_bin`);
  return { admin, config: { ...base, database } };
}

/** What makes each table of a database, as it tells itself. */
export async function tablesOf(connection: Connection, database: string): Promise<readonly string[]> {
  const [tables] = await connection.query<RowDataPacket[]>(`SHOW TABLES FROM ${database}`);
  const made: string[] = [];
  for (const row of tables) {
    const name = `${database}.${String(Object.values(row)[0])}`;
    const [[table]] = await connection.query<RowDataPacket[]>(`SHOW CREATE TABLE ${name}`);
    made.push(String(table!['Create Table']).replace(/ AUTO_INCREMENT=\d+/, ''));
  }
  return made;
}

async function readShape(): Promise<Shape> {
  const { admin, config } = await emptyDatabase();
  try {
    await migrate(config);
    return { database: config.database, statements: await tablesOf(admin, config.database) };
  } finally {
    await admin.end();
  }
}

let shape: Promise<Shape> | null = null;

/** Makes the tables of a database as migrations would, and notes these as done. The first of a thread migrates one. */
export async function shapeAsMigrated(config: DbConfig): Promise<void> {
  const { database, statements } = await (shape ??= readShape());
  const owner = await mysql.createConnection({ ...asOwner(config), multipleStatements: true });
  try {
    await owner.query(
      [
        'SET foreign_key_checks = 0',
        ...statements,
        ...['migration', 'migration_step'].map(
          (table) => `INSERT INTO ${table} SELECT * FROM ${database}.${table}`,
        ),
      ].join(';\n'),
    );
  } finally {
    await owner.end();
  }
  // Triggers, and what the accounts of the application may do.
  await migrate(config);
}
