import type { ResultSetHeader, RowDataPacket } from 'mysql2/promise';
import type { Queryable } from '../db';

/** When each person's PIN was set; the PIN itself is nowhere. */
export async function readPinDates(db: Queryable): Promise<ReadonlyMap<string, string>> {
  const [rows] = await db.query<RowDataPacket[]>('SELECT person_id, set_at FROM person_pin');
  return new Map(rows.map((row) => [String(row.person_id), (row.set_at as Date).toISOString()]));
}
export async function readPinHash(db: Queryable, person: string): Promise<string | null> {
  const [[row]] = await db.execute<RowDataPacket[]>('SELECT hash FROM person_pin WHERE person_id = ?', [
    person,
  ]);
  return row ? String(row.hash) : null;
}
/** @returns whether there was one */
export async function deletePin(db: Queryable, person: string): Promise<boolean> {
  const [{ affectedRows }] = await db.execute<ResultSetHeader>('DELETE FROM person_pin WHERE person_id = ?', [
    person,
  ]);
  return affectedRows > 0;
}
export async function putPin(
  db: Queryable,
  person: string,
  hash: string,
  by: string,
  at: Date,
): Promise<void> {
  await db.execute(
    `INSERT INTO person_pin (person_id, hash, set_at, set_by) VALUES (?, ?, ?, ?)
     ON DUPLICATE KEY UPDATE hash = VALUES(hash), set_at = VALUES(set_at), set_by = VALUES(set_by)`,
    [person, hash, at, by],
  );
}
