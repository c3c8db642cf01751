import type { RowDataPacket } from 'mysql2/promise';
import type { Queryable } from '../db';

/** What somebody has seen to on their own mobile. Times ISO 8601, UTC. */
export interface OwnCheck {
  readonly endpoint: string;
  readonly item: string;
  readonly doneAt: string;
}

/** @param person whose; null: everybody's */
export async function readChecks(db: Queryable, person: string | null): Promise<readonly OwnCheck[]> {
  const [rows] = await db.execute<RowDataPacket[]>(
    'SELECT endpoint, item, done_at FROM own_check WHERE ? IS NULL OR person_id = ?',
    [person, person],
  );
  return rows.map((row) => ({
    endpoint: String(row.endpoint),
    item: String(row.item),
    doneAt: (row.done_at as Date).toISOString(),
  }));
}

export async function putCheck(
  db: Queryable,
  person: string,
  endpoint: string,
  item: string,
  done: boolean,
  now: Date,
): Promise<void> {
  if (!done)
    await db.execute('DELETE FROM own_check WHERE person_id = ? AND endpoint = ? AND item = ?', [
      person,
      endpoint,
      item,
    ]);
  else
    await db.execute(
      `INSERT INTO own_check (person_id, endpoint, item, done_at) VALUES (?, ?, ?, ?)
       ON DUPLICATE KEY UPDATE done_at = VALUES(done_at)`,
      [person, endpoint, item, now],
    );
}
