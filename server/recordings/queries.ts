import type { ResultSetHeader, RowDataPacket } from 'mysql2/promise';
import type { RecordingRow } from '../../api/rounds';
import type { Queryable } from '../db';

interface Row extends RowDataPacket {
  id: number;
  name: string;
  length_ms: number;
  made_by: string;
  made_at: Date;
}
const FIELDS = 'id, name, length_ms, made_by, made_at';
const MOST_SHOWN = 500;
const rowOf = (row: Row): RecordingRow => ({
  id: row.id,
  name: row.name,
  ms: row.length_ms,
  madeBy: row.made_by,
  madeAt: row.made_at.toISOString(),
});

export async function allRecordings(db: Queryable): Promise<readonly RecordingRow[]> {
  const [rows] = await db.query<Row[]>(
    `SELECT ${FIELDS} FROM recording WHERE removed_at IS NULL ORDER BY id DESC LIMIT ${MOST_SHOWN}`,
  );
  return rows.map(rowOf);
}
/** One recording, a removed one too. */
export async function recordingOf(db: Queryable, id: number): Promise<RecordingRow | null> {
  const [[row]] = await db.execute<Row[]>(`SELECT ${FIELDS} FROM recording WHERE id = ?`, [id]);
  return row ? rowOf(row) : null;
}
/** Its sound as µ-law, 8000 samples a second. */
export async function soundOf(db: Queryable, id: number): Promise<Uint8Array | null> {
  const [[row]] = await db.execute<RowDataPacket[]>('SELECT mu_law FROM recording WHERE id = ?', [id]);
  return row ? new Uint8Array(row.mu_law as Buffer) : null;
}
export async function countRecordings(db: Queryable): Promise<number> {
  const [[row]] = await db.query<RowDataPacket[]>(
    'SELECT COUNT(*) AS n FROM recording WHERE removed_at IS NULL',
  );
  return Number(row?.n);
}
export async function insertRecording(
  db: Queryable,
  { name, muLaw, ms, by, at }: { name: string; muLaw: Uint8Array; ms: number; by: string; at: Date },
): Promise<number> {
  const [{ insertId }] = await db.query<ResultSetHeader>(
    'INSERT INTO recording (name, made_by, made_at, length_ms, mu_law) VALUES (?, ?, ?, ?, ?)',
    [name, by, at, ms, Buffer.from(muLaw)],
  );
  return insertId;
}
/** @param at null: it is brought back. @returns whether anything changed */
export async function removeRecording(db: Queryable, id: number, at: Date | null): Promise<boolean> {
  const [{ affectedRows }] = await db.execute<ResultSetHeader>(
    `UPDATE recording SET removed_at = ? WHERE id = ? AND removed_at IS ${at ? 'NULL' : 'NOT NULL'}`,
    [at, id],
  );
  return affectedRows === 1;
}
