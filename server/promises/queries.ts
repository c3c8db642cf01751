import type { ResultSetHeader, RowDataPacket } from 'mysql2/promise';
import { readKept } from '../../core/estate';
import type { ProofRun } from '../../core/assurance/promises';
import { inTransaction, type Db, type Queryable } from '../db';

export type RunState = 'running' | 'done' | 'cancelled' | 'failed';

export interface Broken {
  /** The id of the kept promise. */
  readonly id: string;
  readonly why: string;
}
export interface StoredRun {
  readonly id: number;
  readonly revision: number;
  readonly state: RunState;
  readonly done: number;
  readonly total: number;
  readonly cases: number;
  readonly incomplete: number;
  readonly broken: readonly { readonly person: string; readonly broken: readonly Broken[] }[];
}

/** A run whose server has not moved it on for so long is taken for dead. */
const DEAD_AFTER_S = 120;

export async function beginRun(db: Db, revision: number, total: number): Promise<number> {
  return inTransaction(db, async (connection) => {
    await connection.query("UPDATE proof_run SET state = 'cancelled' WHERE state = 'running'");
    await connection.query("DELETE FROM proof_run WHERE state <> 'running'");
    const [made] = await connection.execute<ResultSetHeader>(
      `INSERT INTO proof_run (revision, state, total, started_at, seen_at)
       VALUES (?, 'running', ?, UTC_TIMESTAMP(3), UTC_TIMESTAMP(3))`,
      [revision, total],
    );
    return made.insertId;
  });
}

export async function runState(db: Queryable, id: number): Promise<RunState | null> {
  const [[row]] = await db.query<RowDataPacket[]>('SELECT state FROM proof_run WHERE id = ?', [id]);
  return row ? (row.state as RunState) : null;
}

export async function endRun(db: Queryable, id: number | null, state: RunState): Promise<void> {
  await db.query(
    `UPDATE proof_run SET state = ?, seen_at = UTC_TIMESTAMP(3) WHERE state = 'running' AND (? IS NULL OR id = ?)`,
    [state, id, id],
  );
}

/** Keeps what was found of one person; of a run that is gone meanwhile nothing is kept. */
export async function noteResult(
  db: Db,
  id: number,
  person: string,
  { cases, complete }: ProofRun,
  broken: readonly Broken[],
): Promise<void> {
  await inTransaction(db, async (connection) => {
    const [counted] = await connection.execute<ResultSetHeader>(
      "UPDATE proof_run SET done = done + 1, seen_at = UTC_TIMESTAMP(3) WHERE id = ? AND state = 'running'",
      [id],
    );
    if (counted.affectedRows === 0) return;
    await connection.execute(
      'INSERT INTO proof_result (run_id, person_id, cases, complete, broken) VALUES (?, ?, ?, ?, ?)',
      [id, person, cases, complete, JSON.stringify(broken)],
    );
  });
}

/** The newest run with what it has found; null: there was none. */
export async function newestRun(db: Queryable): Promise<StoredRun | null> {
  await db.query(
    `UPDATE proof_run SET state = 'failed'
     WHERE state = 'running' AND seen_at < UTC_TIMESTAMP(3) - INTERVAL ${DEAD_AFTER_S} SECOND`,
  );
  const [[run]] = await db.query<RowDataPacket[]>('SELECT * FROM proof_run ORDER BY id DESC LIMIT 1');
  if (!run) return null;
  const [rows] = await db.query<RowDataPacket[]>(
    'SELECT person_id, cases, complete, broken FROM proof_result WHERE run_id = ? ORDER BY person_id',
    [run.id],
  );
  return {
    id: Number(run.id),
    revision: Number(run.revision),
    state: run.state as RunState,
    done: Number(run.done),
    total: Number(run.total),
    cases: rows.reduce((sum, row) => sum + Number(row.cases), 0),
    incomplete: rows.filter((row) => !row.complete).length,
    broken: rows.flatMap((row) => {
      const broken = readKept(String(row.broken)) as Broken[];
      return broken.length ? [{ person: String(row.person_id), broken }] : [];
    }),
  };
}
