import type { ResultSetHeader, RowDataPacket } from 'mysql2/promise';
import type { NumberList } from '../../core/estate';
import type { RouteTable } from '../../core/routes';
import type { Queryable } from '../db';
import type { TableBody } from '../../api/routing';

export const NO_TABLE: TableBody = { peers: [], routes: [] };

export interface StoredTable {
  readonly body: TableBody;
  readonly version: number;
}
export interface StoredList extends NumberList {
  readonly version: number;
  readonly hasPrevious: boolean;
}

const joined = (numbers: readonly string[]) => numbers.join('\n');
const parted = (text: string) => (text === '' ? [] : text.split('\n'));

/** The table as stored; an empty one of version 0 where none has been written. */
export async function readTableBody(db: Queryable, lock = false, at = ''): Promise<StoredTable> {
  const [[row]] = await db.query<RowDataPacket[]>(
    `SELECT body, version FROM route_table${at}${lock ? ' FOR UPDATE' : ''}`,
  );
  return row
    ? { body: JSON.parse(String(row.body)) as TableBody, version: Number(row.version) }
    : { body: NO_TABLE, version: 0 };
}

/** @param version the version of a table that is the first */
export async function writeTableBody(db: Queryable, body: TableBody, version = 1): Promise<void> {
  await db.execute(
    `INSERT INTO route_table (id, body, version) VALUES (1, ?, ?)
     ON DUPLICATE KEY UPDATE body = VALUES(body), version = version + 1`,
    [JSON.stringify(body), version],
  );
}

const listOf = (row: RowDataPacket): StoredList => ({
  id: String(row.id),
  name: String(row.name),
  numbers: parted(String(row.numbers)),
  version: Number(row.version),
  hasPrevious: Number(row.has_previous) === 1,
});
const COLUMNS = 'id, name, numbers, version, previous IS NOT NULL AS has_previous';

export async function readLists(db: Queryable, at = ''): Promise<StoredList[]> {
  const [rows] = await db.query<RowDataPacket[]>(
    `SELECT ${COLUMNS} FROM route_list${at} ORDER BY position, id`,
  );
  return rows.map(listOf);
}
/** @param lock holds the row to the end of the transaction */
export async function readList(db: Queryable, id: string, lock = false): Promise<StoredList | null> {
  const [[row]] = await db.query<RowDataPacket[]>(
    `SELECT ${COLUMNS} FROM route_list WHERE id = ?${lock ? ' FOR UPDATE' : ''}`,
    [id],
  );
  return row ? listOf(row) : null;
}

/** What lists there are and their versions: enough to know whether a copy still holds. */
export async function listVersions(db: Queryable): Promise<string> {
  const [rows] = await db.query<RowDataPacket[]>('SELECT id, version FROM route_list ORDER BY position, id');
  return rows.map(({ id, version }) => `${String(id)} ${String(version)}`).join('\n');
}

/** Puts numbers in the place of a list's, keeping those before; a new list goes to the end. */
export async function writeList(db: Queryable, { id, name, numbers }: NumberList): Promise<void> {
  const [result] = await db.execute<ResultSetHeader>(
    'UPDATE route_list SET name = ?, previous = numbers, numbers = ?, version = version + 1 WHERE id = ?',
    [name, joined(numbers), id],
  );
  if (result.affectedRows > 0) return;
  await db.execute(
    `INSERT INTO route_list (id, position, name, numbers)
     SELECT ?, COALESCE(MAX(position) + 1, 0), ?, ? FROM route_list`,
    [id, name, joined(numbers)],
  );
}

/** Brings back the numbers before the last replacement. @returns false: there are none */
export async function bringBackList(db: Queryable, id: string): Promise<boolean> {
  const [result] = await db.execute<ResultSetHeader>(
    `UPDATE route_list AS list JOIN (SELECT id, numbers, previous FROM route_list) AS before_it USING (id)
     SET list.numbers = before_it.previous, list.previous = before_it.numbers, list.version = list.version + 1
     WHERE list.id = ? AND before_it.previous IS NOT NULL`,
    [id],
  );
  return result.affectedRows > 0;
}

export async function removeList(db: Queryable, id: string): Promise<void> {
  await db.execute('DELETE FROM route_list WHERE id = ?', [id]);
}

/**
 * The whole table as the estate file has it; undefined: there is none.
 * @param at from `asOf`, for the table as it was then
 */
export async function loadRouting(db: Queryable, at = ''): Promise<RouteTable | undefined> {
  const [{ body, version }, lists] = await Promise.all([readTableBody(db, false, at), readLists(db, at)]);
  if (version === 0 && lists.length === 0) return undefined;
  const { peers, routes, ...rest } = body;
  return { peers, ...rest, lists: lists.map(({ id, name, numbers }) => ({ id, name, numbers })), routes };
}

/**
 * Puts a whole table in the place of the one that is there; undefined: there is none any longer.
 * @param revision the estate's revision, from which versions count, so that no copy of before is taken for this
 */
export async function replaceRouting(
  db: Queryable,
  table: RouteTable | undefined,
  revision: number,
): Promise<void> {
  await db.query('DELETE FROM route_table');
  await db.query('DELETE FROM route_list');
  if (!table) return;
  const { lists, schedules: _schedules, ...body } = table;
  await writeTableBody(db, body, revision);
  if (lists.length > 0)
    await db.query('INSERT INTO route_list (id, position, name, numbers, version) VALUES ?', [
      lists.map(({ id, name, numbers }, position) => [id, position, name, joined(numbers), revision]),
    ]);
}
