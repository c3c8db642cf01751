import type { RowDataPacket } from 'mysql2/promise';
import type { Queryable } from '../db';

/** What was decided about a finding. */
export interface Mark {
  readonly assignee: string | null;
  /** The date until which it is put off. */
  readonly putOffUntil: string | null;
  readonly acceptedWhy: string | null;
  readonly by: string;
  readonly at: string;
}

export async function readMarks(db: Queryable): Promise<ReadonlyMap<string, Mark>> {
  const [rows] = await db.query<RowDataPacket[]>(
    `SELECT finding, assignee, DATE_FORMAT(put_off_until, '%Y-%m-%d') AS put_off_until, accepted_why, marked_by, marked_at
     FROM finding_mark`,
  );
  return new Map(
    rows.map((row) => [
      String(row.finding),
      {
        assignee: row.assignee as string | null,
        putOffUntil: row.put_off_until as string | null,
        acceptedWhy: row.accepted_why as string | null,
        by: String(row.marked_by),
        at: (row.marked_at as Date).toISOString(),
      },
    ]),
  );
}

export async function putMark(
  db: Queryable,
  finding: string,
  mark: Pick<Mark, 'assignee' | 'putOffUntil' | 'acceptedWhy'>,
  who: string,
  at: Date,
): Promise<void> {
  if (mark.assignee === null && mark.putOffUntil === null && mark.acceptedWhy === null) {
    await db.execute('DELETE FROM finding_mark WHERE finding = ?', [finding]);
    return;
  }
  await db.execute(
    `REPLACE INTO finding_mark (finding, assignee, put_off_until, accepted_why, marked_by, marked_at)
     VALUES (?, ?, ?, ?, ?, ?)`,
    [finding, mark.assignee, mark.putOffUntil, mark.acceptedWhy, who, at],
  );
}
