import type { Connection, RowDataPacket } from 'mysql2/promise';
import { migrate, openDb, openKeeper, type DbConfig } from '../db';
import { emptyDatabase, shapeAsMigrated, tablesOf } from './shape';

/** What the accounts of the application may do in a database, as each is told. */
async function rightsIn(config: DbConfig): Promise<readonly string[]> {
  const rights: string[] = [];
  for (const open of [openDb, openKeeper]) {
    const db = open(config);
    const [rows] = await db.query<RowDataPacket[]>('SHOW GRANTS');
    await db.end();
    rights.push(...rows.map((row) => String(Object.values(row)[0])));
  }
  return rights
    .filter((each) => each.includes(config.database))
    .map((each) => each.replace(config.database, ''))
    .sort();
}

/** All that a database is made of, without its name: tables, triggers, what is noted of migrations, who may do what. */
async function allOf(admin: Connection, config: DbConfig) {
  const { database } = config;
  const ask = async (sql: string) => (await admin.query<RowDataPacket[]>(sql, [database]))[0];
  return {
    tables: await tablesOf(admin, database),
    triggers: await ask(
      `SELECT trigger_name, event_object_table, action_timing, event_manipulation, action_statement, definer, sql_mode
       FROM information_schema.triggers WHERE trigger_schema = ? ORDER BY trigger_name`,
    ),
    rights: await rightsIn(config),
    migrations: await ask(`SELECT number, name, checksum FROM ${database}.migration ORDER BY number`),
    steps: await ask(`SELECT step, number FROM ${database}.migration_step ORDER BY step`),
    partitions: await ask(
      `SELECT table_name, partition_name FROM information_schema.partitions WHERE table_schema = ? ORDER BY 1, 2`,
    ),
  };
}

test('a database that is made as one that was migrated is the same, with its triggers and rights', async () => {
  const [migrated, made] = await Promise.all([emptyDatabase(), emptyDatabase()]);
  try {
    await migrate(migrated.config);
    await shapeAsMigrated(made.config);
    const expected = await allOf(migrated.admin, migrated.config);
    expect(await allOf(made.admin, made.config)).toEqual(expected);
    expect([expected.triggers.length > 0, expected.rights.length > 0]).toEqual([true, true]);
  } finally {
    for (const { admin, config } of [migrated, made]) {
      await admin.query(`DROP DATABASE ${config.database}`);
      await admin.end();
    }
  }
});
