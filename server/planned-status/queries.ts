import type { ResultSetHeader, RowDataPacket } from 'mysql2/promise';
import type { PlannedStatus } from '../../api/planned-status';
import type { Queryable } from '../db';

export interface StoredPlan {
  readonly id: number;
  readonly person: string;
  readonly status: string;
  readonly from: Date;
  readonly to: Date;
  readonly backTo: string | null;
  readonly state: 'planned' | 'on' | 'done' | 'failed';
  readonly madeBy: string;
}

const planOf = (row: RowDataPacket): StoredPlan => ({
  id: Number(row.id),
  person: String(row.person_id),
  status: String(row.status_id),
  from: row.from_at as Date,
  to: row.to_at as Date,
  backTo: row.back_to === null ? null : String(row.back_to),
  state: row.state as StoredPlan['state'],
  madeBy: String(row.made_by),
});

/** What is planned for somebody or has begun, the soonest first. */
export async function openPlans(db: Queryable, person: string): Promise<StoredPlan[]> {
  const [rows] = await db.query<RowDataPacket[]>(
    "SELECT * FROM planned_status WHERE person_id = ? AND state IN ('planned', 'on') ORDER BY from_at, id",
    [person],
  );
  return rows.map(planOf);
}

/** One of them, held to the end of the transaction. */
export async function lockPlan(db: Queryable, id: number): Promise<StoredPlan | null> {
  const [[row]] = await db.query<RowDataPacket[]>('SELECT * FROM planned_status WHERE id = ? FOR UPDATE', [
    id,
  ]);
  return row ? planOf(row) : null;
}

const MOST_AT_ONCE = 200;
/** Those that begin or end by a moment. */
export async function duePlans(db: Queryable, at: Date): Promise<readonly number[]> {
  const [rows] = await db.query<RowDataPacket[]>(
    `SELECT id FROM planned_status WHERE (state = 'planned' AND from_at <= ?) OR (state = 'on' AND to_at <= ?)
     ORDER BY LEAST(from_at, to_at), id LIMIT ?`,
    [at, at, MOST_AT_ONCE],
  );
  return rows.map(({ id }) => Number(id));
}

export async function addPlan(
  db: Queryable,
  plan: Pick<StoredPlan, 'person' | 'status' | 'from' | 'to' | 'madeBy'>,
): Promise<number> {
  const [{ insertId }] = await db.execute<ResultSetHeader>(
    'INSERT INTO planned_status (person_id, status_id, from_at, to_at, made_by) VALUES (?, ?, ?, ?, ?)',
    [plan.person, plan.status, plan.from, plan.to, plan.madeBy],
  );
  return insertId;
}

export async function patchPlan(
  db: Queryable,
  id: number,
  state: StoredPlan['state'],
  backTo: string | null,
): Promise<void> {
  await db.execute('UPDATE planned_status SET state = ?, back_to = ? WHERE id = ?', [state, backTo, id]);
}

export const shown = ({ id, status, from, to, state, madeBy }: StoredPlan): PlannedStatus => ({
  id,
  status,
  from: from.toISOString(),
  to: to.toISOString(),
  state: state === 'on' ? 'on' : 'planned',
  madeBy,
});
