import type { Connection, RowDataPacket } from 'mysql2/promise';
import type { DbConfig } from './config';
import { connect } from './connect';

/** What the application may do with a table: the record is added to and read, what was migrated is read. */
const RIGHTS: Readonly<Record<string, string>> = {
  record_entry: 'SELECT, INSERT',
  migration: 'SELECT',
  migration_step: 'SELECT',
};
const USUAL = 'SELECT, INSERT, UPDATE, DELETE';
/** Tables of call records: the application reads them and notes how calls went; writing and deleting is another's. */
const KEPT: Readonly<Record<string, string>> = { call_record: 'SELECT, UPDATE', call_ladder: 'SELECT' };
const KEEPS: Readonly<Record<string, string>> = {
  call_record: 'SELECT, INSERT, DELETE, ALTER, CREATE, DROP',
  call_ladder: 'SELECT, INSERT, DELETE',
};

/** Grants the application's own account what it needs of each table, where another account owns them. */
export async function grantTables(owner: Connection, config: DbConfig): Promise<void> {
  if (!config.owner) return;
  const { keeper, ...own } = config;
  await grantTo(owner, own, (table) => (keeper ? KEPT[table] : undefined) ?? RIGHTS[table] ?? USUAL);
  if (keeper) await grantTo(owner, { ...own, ...keeper }, (table) => KEEPS[table] ?? null);
}

/** @param wantedOf what the account of the configuration is to have of a table; null: nothing */
async function grantTo(
  owner: Connection,
  config: DbConfig,
  wantedOf: (table: string) => string | null,
): Promise<void> {
  const account = await accountOf(config);
  const [tables] = await owner.query<RowDataPacket[]>(
    'SELECT table_name AS name FROM information_schema.tables WHERE table_schema = ?',
    [config.database],
  );
  const [given] = await owner.query<RowDataPacket[]>(
    `SELECT table_name AS name, GROUP_CONCAT(privilege_type ORDER BY privilege_type SEPARATOR ', ') AS rights
     FROM information_schema.table_privileges WHERE table_schema = ? AND grantee = ? GROUP BY table_name`,
    [config.database, account],
  );
  const rights = new Map(given.map((row) => [String(row.name), String(row.rights)]));
  for (const { name } of tables as { name: string }[]) {
    const wanted = wantedOf(name);
    if ((rights.get(name) ?? null) === (wanted?.split(', ').sort().join(', ') ?? null)) continue;
    const table = `\`${config.database}\`.\`${name}\``;
    if (rights.has(name)) await owner.query(`REVOKE ALL ON ${table} FROM ${account}`);
    if (wanted !== null) await owner.query(`GRANT ${wanted} ON ${table} TO ${account}`);
  }
}

/** The application's own account as the database knows it, `'user'@'host'`. */
async function accountOf({ database: _database, ...config }: DbConfig): Promise<string> {
  const connection = await connect(config);
  try {
    const [[row]] = await connection.query<RowDataPacket[]>('SELECT CURRENT_USER() AS name');
    const [, user = '', host = ''] = /^(.*)@(.*)$/.exec(String(row?.name)) ?? [];
    return `'${user}'@'${host}'`;
  } finally {
    await connection.end();
  }
}

/**
 * What the application's account may do beyond what it needs, each in words; none: as it should be. Looked at each
 * time the server starts.
 * @param db a connection or pool of the application's own account
 */
export async function rightsTooWide(
  db: { query: (sql: string) => Promise<unknown> },
  database: string,
): Promise<readonly string[]> {
  const [rows] = (await db.query('SHOW GRANTS')) as [Record<string, string>[]];
  return rows.flatMap((row) => {
    const grant = Object.values(row)[0] ?? '';
    const [, rights = '', on = ''] = /^GRANT (.*?) ON (\S+) TO /.exec(grant) ?? [];
    const list = rights.split(', ');
    if (rights === 'USAGE' || on === '') return [];
    if (on === '*.*' || on.startsWith('`mysql`')) return [`${rights} on ${on}`];
    const wide = list.filter((each) =>
      ['ALL PRIVILEGES', 'DROP', 'ALTER', 'CREATE', 'TRIGGER', 'DELETE HISTORY'].includes(each),
    );
    if (wide.length > 0) return [`${wide.join(', ')} on ${on}`];
    const isRecord = on === `\`${database}\`.\`record_entry\`` || on.endsWith('.*');
    const more = list.filter((each) => each !== 'SELECT' && each !== 'INSERT');
    return isRecord && more.length > 0 ? [`${more.join(', ')} on ${on}`] : [];
  });
}
