import type { ResultSetHeader, RowDataPacket } from 'mysql2/promise';
import { readKept } from '../../core/estate';
import type { PlannedRow, StaffColumns, TextEncoding, PlacedFault } from '../../core/formats';
import { fromJson, toJson, type Queryable } from '../db';

export type ImportState = 'reading' | 'read' | 'writing' | 'written' | 'failed';

/** What is known of a list once it has been read. */
export interface ImportSummary {
  readonly encoding?: TextEncoding;
  readonly delimiter?: string;
  readonly headings?: readonly string[];
  readonly columns?: StaffColumns;
  /** What keeps the list as a whole from being read. */
  readonly faults: readonly PlacedFault[];
  readonly counts?: Readonly<Record<PlannedRow['action'], number>>;
}

export interface StaffImport {
  readonly id: number;
  readonly accountId: number;
  readonly state: ImportState;
  readonly done: number;
  readonly total: number;
  readonly readAs: TextEncoding | null;
  readonly chosen: StaffColumns | null;
  readonly revision: number;
  readonly summary: ImportSummary | null;
}

interface Row extends RowDataPacket {
  id: number;
  account_id: number;
  state: ImportState;
  done: number;
  total: number;
  read_as: TextEncoding | null;
  chosen: string | null;
  revision: number;
  summary: string | null;
}

export async function createImport(db: Queryable, accountId: number, source: Buffer): Promise<number> {
  await db.query('DELETE FROM staff_import WHERE created_at < UTC_TIMESTAMP(3) - INTERVAL 1 DAY');
  const [result] = await db.execute<ResultSetHeader>(
    `INSERT INTO staff_import (account_id, created_at, seen_at, state, source)
     VALUES (?, UTC_TIMESTAMP(3), UTC_TIMESTAMP(3), 'reading', ?)`,
    [accountId, source],
  );
  return result.insertId;
}

export async function findImport(db: Queryable, id: number): Promise<StaffImport | null> {
  const [[row]] = await db.execute<Row[]>(
    'SELECT id, account_id, state, done, total, read_as, chosen, revision, summary FROM staff_import WHERE id = ?',
    [id],
  );
  if (!row) return null;
  return {
    id: row.id,
    accountId: row.account_id,
    state: row.state,
    done: row.done,
    total: row.total,
    readAs: row.read_as,
    chosen: fromJson<StaffColumns>(row.chosen) ?? null,
    revision: row.revision,
    summary: fromJson<ImportSummary>(row.summary) ?? null,
  };
}

export async function importSource(db: Queryable, id: number): Promise<Buffer> {
  const [[row]] = await db.execute<RowDataPacket[]>('SELECT source FROM staff_import WHERE id = ?', [id]);
  return (row?.source as Buffer | undefined) ?? Buffer.alloc(0);
}

/**
 * Moves an import from one of some states to another.
 * @returns false if it was in none of them, as when another request was quicker
 */
export async function moveImport(
  db: Queryable,
  id: number,
  from: readonly ImportState[],
  to: ImportState,
  begins = to === 'reading' || to === 'writing',
): Promise<boolean> {
  const [result] = await db.query<ResultSetHeader>(
    `UPDATE staff_import SET state = ?, seen_at = UTC_TIMESTAMP(3)${begins ? ', done = 0, total = 0' : ''} WHERE id = ? AND state IN (?)`,
    [to, id, from],
  );
  return result.affectedRows === 1;
}

/** An import that no server has moved on for so long was ended with its server. */
const DEAD_AFTER_S = 30;

/** Says that an import is still worked on. Does not wait where its own transaction holds it: that says so as well. */
export async function touchImport(db: Queryable, id: number): Promise<void> {
  await db.query(
    'SET STATEMENT innodb_lock_wait_timeout = 0 FOR UPDATE staff_import SET seen_at = UTC_TIMESTAMP(3) WHERE id = ?',
    [id],
  );
}

/** Imports that were being read or written when their server ended: not seen of late, and held by nobody. */
export async function leftImports(
  db: Queryable,
  id: number | null = null,
): Promise<readonly { readonly id: number; readonly state: ImportState }[]> {
  const [rows] = await db.execute<Row[]>(
    `SELECT id, state FROM staff_import WHERE state IN ('reading', 'writing') AND (? IS NULL OR id = ?)
       AND (seen_at IS NULL OR seen_at < UTC_TIMESTAMP(3) - INTERVAL ${DEAD_AFTER_S} SECOND)
     FOR UPDATE SKIP LOCKED`,
    [id, id],
  );
  return rows;
}

/** Imports that an account has of late. */
export async function importsOf(db: Queryable, accountId: number): Promise<number> {
  const [[row]] = await db.execute<RowDataPacket[]>(
    'SELECT COUNT(*) AS n FROM staff_import WHERE account_id = ?',
    [accountId],
  );
  return Number(row?.n ?? 0);
}

export async function setProgress(db: Queryable, id: number, done: number, total: number): Promise<void> {
  await db.execute('UPDATE staff_import SET done = ?, total = ? WHERE id = ?', [done, total, id]);
}

export async function setChoices(
  db: Queryable,
  id: number,
  readAs: TextEncoding | null,
  chosen: StaffColumns | null,
): Promise<void> {
  await db.execute('UPDATE staff_import SET read_as = ?, chosen = ? WHERE id = ?', [
    readAs,
    toJson(chosen ?? undefined),
    id,
  ]);
}

export async function saveReading(
  db: Queryable,
  id: number,
  summary: ImportSummary,
  revision: number,
  rows: readonly PlannedRow[],
): Promise<void> {
  await db.execute('DELETE FROM staff_import_row WHERE import_id = ?', [id]);
  for (let at = 0; at < rows.length; at += 500)
    await db.query('INSERT INTO staff_import_row (import_id, line, action, body) VALUES ?', [
      rows.slice(at, at + 500).map((row) => [id, row.line, row.action, JSON.stringify(row)]),
    ]);
  await db.execute('UPDATE staff_import SET summary = ?, revision = ? WHERE id = ?', [
    JSON.stringify(summary),
    revision,
    id,
  ]);
}

/** Planned rows in the order of the file, of one action or all. */
export async function importRows(
  db: Queryable,
  id: number,
  { action, afterLine = 0, limit }: { action?: PlannedRow['action']; afterLine?: number; limit: number },
): Promise<PlannedRow[]> {
  const [rows] = await db.query<(RowDataPacket & { body: string })[]>(
    `SELECT body FROM staff_import_row WHERE import_id = ? AND line > ? AND (? IS NULL OR action = ?)
     ORDER BY line LIMIT ?`,
    [id, afterLine, action ?? null, action ?? null, limit],
  );
  return rows.map((row) => readKept(row.body) as PlannedRow);
}
