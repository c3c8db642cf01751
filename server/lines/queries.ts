import type { ResultSetHeader, RowDataPacket } from 'mysql2/promise';
import type { LineMeasured } from '../../api/lines';
import type { Queryable } from '../db';

/** A measured line as it is kept. */
export interface KeptLine {
  readonly id: number;
  readonly at: Date;
  readonly person: string;
  readonly site: string | null;
  readonly place: string | null;
  readonly measured: LineMeasured;
}

/** So many are kept of one person. */
const MOST_OF_PERSON = 20;

/** Within so many ms one is kept of a person. */
const SLOT_MS = 15_000;

/** Keeps what a person measured. @returns false: another one was kept at the same time */
export async function putLine(db: Queryable, line: Omit<KeptLine, 'id'>): Promise<boolean> {
  const { at, person, site, place, measured } = line;
  const [result] = await db.execute<ResultSetHeader>(
    'INSERT IGNORE INTO line_check (measured_at, slot, person, site, place, body) VALUES (?, ?, ?, ?, ?, ?)',
    [at, Math.floor(at.getTime() / SLOT_MS), person, site, place, JSON.stringify(measured)],
  );
  if (result.affectedRows === 0) return false;
  await db.execute(
    `DELETE FROM line_check WHERE person = ? AND id NOT IN
       (SELECT id FROM (SELECT id FROM line_check WHERE person = ? ORDER BY measured_at DESC, id DESC LIMIT ${MOST_OF_PERSON}) AS kept)`,
    [person, person],
  );
  return true;
}

/** The latest lines of a person or of a site, the latest first. */
export async function readLines(
  db: Queryable,
  of: 'person' | 'site',
  id: string,
  most: number,
): Promise<readonly KeptLine[]> {
  const [rows] = await db.query<RowDataPacket[]>(
    `SELECT id, measured_at, person, site, place, body FROM line_check WHERE ${of} = ?
     ORDER BY measured_at DESC, id DESC LIMIT ?`,
    [id, most],
  );
  return rows.map((row) => ({
    id: Number(row.id),
    at: row.measured_at as Date,
    person: String(row.person),
    site: row.site === null ? null : String(row.site),
    place: row.place === null ? null : String(row.place),
    measured: (typeof row.body === 'string' ? JSON.parse(row.body) : row.body) as LineMeasured,
  }));
}
