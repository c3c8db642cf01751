import type { ResultSetHeader, RowDataPacket } from 'mysql2/promise';
import type { CallImport } from '../../api/calls';
import type { ImportFound } from '../../api/call-imports';
import type { CallChoices } from '../../core/records';
import { fromJson, toJson, type Db, type Queryable } from '../db';

export type ImportState = CallImport['state'];
/** A file of calls, as the database has it. */
export interface StoredImport {
  readonly id: number;
  readonly who: string;
  readonly at: Date;
  readonly state: ImportState;
  readonly name: string;
  readonly bytes: number;
  readonly choices: Partial<CallChoices> | null;
  readonly rows: number;
  readonly calls: number;
  readonly added: number;
  readonly found: ImportFound | null;
}

/** Whoever works on one says so more often than this; after it, another server takes it up. */
const DEAD_AFTER_S = 20;
const COLUMNS = 'id, who, created_at, state, name, bytes, choices, rows_done, calls_done, calls_new, summary';

const stored = (row: RowDataPacket): StoredImport => ({
  id: Number(row.id),
  who: String(row.who),
  at: row.created_at as Date,
  state: row.state as ImportState,
  name: String(row.name),
  bytes: Number(row.bytes),
  choices: fromJson<Partial<CallChoices>>(row.choices as string | null) ?? null,
  rows: Number(row.rows_done),
  calls: Number(row.calls_done),
  added: Number(row.calls_new),
  found: fromJson<ImportFound>(row.summary as string | null) ?? null,
});

export async function createCallImport(
  db: Queryable,
  account: number,
  who: string,
  name: string,
  at: Date,
): Promise<number> {
  const [{ insertId }] = await db.execute<ResultSetHeader>(
    "INSERT INTO call_import (account_id, who, created_at, state, name) VALUES (?, ?, ?, 'sending', ?)",
    [account, who, at, name],
  );
  return insertId;
}

export async function findCallImport(db: Queryable, id: number): Promise<StoredImport | null> {
  const [[row]] = await db.query<RowDataPacket[]>(`SELECT ${COLUMNS} FROM call_import WHERE id = ?`, [id]);
  return row ? stored(row) : null;
}
export async function callImports(db: Queryable, most: number): Promise<readonly StoredImport[]> {
  const [rows] = await db.query<RowDataPacket[]>(
    `SELECT ${COLUMNS} FROM call_import ORDER BY id DESC LIMIT ?`,
    [most],
  );
  return rows.map(stored);
}

/** Puts a part of a file in its place; the same part again takes the place of the one before. */
export async function putPart(tx: Queryable, id: number, part: number, bytes: Buffer): Promise<number> {
  await tx.execute('REPLACE INTO call_import_part (import_id, part, bytes) VALUES (?, ?, ?)', [
    id,
    part,
    bytes,
  ]);
  const [[row]] = await tx.query<RowDataPacket[]>(
    'SELECT COALESCE(SUM(LENGTH(bytes)), 0) AS n FROM call_import_part WHERE import_id = ?',
    [id],
  );
  const total = Number(row?.n ?? 0);
  await tx.execute('UPDATE call_import SET bytes = ? WHERE id = ?', [total, id]);
  return total;
}
export async function readPart(db: Queryable, id: number, part: number): Promise<Buffer | null> {
  const [[row]] = await db.query<RowDataPacket[]>(
    'SELECT bytes FROM call_import_part WHERE import_id = ? AND part = ?',
    [id, part],
  );
  return (row?.bytes as Buffer | undefined) ?? null;
}
export async function dropParts(db: Queryable, id: number): Promise<void> {
  await db.execute('DELETE FROM call_import_part WHERE import_id = ?', [id]);
}

/** Moves an import on, if it stands where it is thought to. @returns whether it did */
export async function moveCallImport(
  db: Queryable,
  id: number,
  from: readonly ImportState[],
  to: ImportState,
): Promise<boolean> {
  const [result] = await db.query<ResultSetHeader>(
    'UPDATE call_import SET state = ?, seen_at = UTC_TIMESTAMP(3) WHERE id = ? AND state IN (?)',
    [to, id, from],
  );
  return result.affectedRows > 0;
}

/** Takes up what nobody works on any more. @returns whether it is ours now */
export async function takeUp(db: Queryable, id: number): Promise<boolean> {
  const [result] = await db.query<ResultSetHeader>(
    `UPDATE call_import SET seen_at = UTC_TIMESTAMP(3) WHERE id = ? AND state IN ('looking', 'taking')
       AND (seen_at IS NULL OR seen_at < UTC_TIMESTAMP(3) - INTERVAL ${DEAD_AFTER_S} SECOND)`,
    [id],
  );
  return result.affectedRows > 0;
}
export async function leftCallImports(db: Queryable): Promise<readonly number[]> {
  const [rows] = await db.query<RowDataPacket[]>(
    `SELECT id FROM call_import WHERE state IN ('looking', 'taking')
       AND (seen_at IS NULL OR seen_at < UTC_TIMESTAMP(3) - INTERVAL ${DEAD_AFTER_S} SECOND)`,
  );
  return rows.map(({ id }) => Number(id));
}

export interface ImportChange {
  readonly choices?: Partial<CallChoices> | null;
  readonly rows?: number;
  readonly calls?: number;
  readonly added?: number;
  readonly found?: ImportFound | null;
}
/** Notes how far an import has come. @returns whether it still stands in the state that is named */
export async function noteImport(
  db: Queryable,
  id: number,
  state: ImportState,
  change: ImportChange,
): Promise<boolean> {
  const sets: string[] = ['seen_at = UTC_TIMESTAMP(3)'];
  const values: unknown[] = [];
  const set = (column: string, value: unknown) => {
    sets.push(`${column} = ?`);
    values.push(value);
  };
  if (change.choices !== undefined) set('choices', toJson(change.choices ?? undefined));
  if (change.rows !== undefined) set('rows_done', change.rows);
  if (change.calls !== undefined) set('calls_done', change.calls);
  if (change.added !== undefined) set('calls_new', change.added);
  if (change.found !== undefined) set('summary', toJson(change.found ?? undefined));
  const [[row]] = await db.query<RowDataPacket[]>('SELECT state FROM call_import WHERE id = ?', [id]);
  if (row?.state !== state) return false;
  await db.query(`UPDATE call_import SET ${sets.join(', ')} WHERE id = ? AND state = ?`, [
    ...values,
    id,
    state,
  ]);
  return true;
}

/** What the columns of a file with the same headings meant before. */
export async function rememberedChoices(db: Db, headings: string): Promise<Partial<CallChoices> | null> {
  const [[row]] = await db.query<RowDataPacket[]>('SELECT choices FROM call_headings WHERE headings = ?', [
    headings,
  ]);
  return row ? (fromJson<Partial<CallChoices>>(String(row.choices)) ?? null) : null;
}
export async function rememberChoices(
  db: Queryable,
  headings: string,
  choices: CallChoices,
  at: Date,
): Promise<void> {
  await db.execute('REPLACE INTO call_headings (headings, choices, at) VALUES (?, ?, ?)', [
    headings,
    JSON.stringify(choices),
    at,
  ]);
}
