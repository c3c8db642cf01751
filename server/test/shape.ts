import { randomBytes } from 'node:crypto';
import mysql, { type Connection, type RowDataPacket } from 'mysql2/promise';
import { asOwner, migrate, type DbConfig } from '../db';

/**
 * A database that was migrated, and what makes another like it: its tables as the database itself tells them. Dozens of
 * tests begin with one, and to migrate each takes several times as long. (`upgrade.test.ts` holds what is made so to
 * what is migrated, from every version.)
 */
interface Shape {
  readonly database: string;
  readonly statements: readonly string[];
}

export const newName = (): string => `hostler_test_${randomBytes(6).toString('hex')}`;

export async function createDatabase(admin: Connection, database: string): Promise<void> {
  await admin.query(`CREATE DATABASE ${database} CHARACTER SET utf8mb4 COLLATE utf8mb4_bin`);
}

async function readShape(base: DbConfig): Promise<Shape> {
  const database = newName();
  const { database: _unused, owner: _owner, ...server } = asOwner(base);
  const admin = await mysql.createConnection(server);
  try {
    await createDatabase(admin, database);
    await migrate({ ...base, database });
    await admin.query(`USE ${database}`);
    const [tables] = await admin.query<RowDataPacket[]>('SHOW TABLES');
    const statements: string[] = [];
    for (const row of tables) {
      const [[made]] = await admin.query<RowDataPacket[]>(
        `SHOW CREATE TABLE ${String(Object.values(row)[0])}`,
      );
      statements.push(String(made!['Create Table']).replace(/ AUTO_INCREMENT=\d+/, ''));
    }
    return { database, statements };
  } finally {
    await admin.end();
  }
}

let shape: Promise<Shape> | null = null;

/** Makes the tables of a database as migrations would, and notes these as done. The first of a thread migrates one. */
export async function shapeAsMigrated(config: DbConfig): Promise<void> {
  const { database, statements } = await (shape ??= readShape(config));
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
