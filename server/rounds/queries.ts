import type { ResultSetHeader, RowDataPacket } from 'mysql2/promise';
import type { RoundState } from '../../api/rounds';
import type { KeptState, ListRow, RoundPlan } from '../../core/rounds';
import type { E164 } from '../../core/estate';
import { fromJson, toJson, type Queryable, type Tx } from '../db';

/** A round as it is kept. */
export interface StoredRound {
  readonly id: number;
  readonly plan: RoundPlan;
  readonly state: RoundState;
  readonly version: number;
  readonly madeAt: Date;
  /** Accounts, by id. */
  readonly changedBy: number;
  readonly askedBy: number | null;
  readonly askedName: string | null;
  readonly approvedName: string | null;
  readonly approvedAt: Date | null;
  readonly startedAt: Date | null;
  readonly endedAt: Date | null;
  readonly listName: string | null;
  readonly removedAt: Date | null;
}
interface Row extends RowDataPacket {
  id: number;
  plan: string;
  state: RoundState;
  version: number;
  made_at: Date;
  changed_by: number;
  asked_by: number | null;
  asked_name: string | null;
  approved_name: string | null;
  approved_at: Date | null;
  started_at: Date | null;
  ended_at: Date | null;
  list_name: string | null;
  removed_at: Date | null;
}
const FIELDS =
  'id, plan, state, version, made_at, changed_by, asked_by, asked_name, approved_name, approved_at, started_at, ended_at, list_name, removed_at';
const MOST_ROUNDS = 500;
const roundOf = (row: Row): StoredRound => ({
  id: row.id,
  plan: fromJson(row.plan) as RoundPlan,
  state: row.state,
  version: row.version,
  madeAt: row.made_at,
  changedBy: row.changed_by,
  askedBy: row.asked_by,
  askedName: row.asked_name,
  approvedName: row.approved_name,
  approvedAt: row.approved_at,
  startedAt: row.started_at,
  endedAt: row.ended_at,
  listName: row.list_name,
  removedAt: row.removed_at,
});

export async function allRounds(db: Queryable): Promise<readonly StoredRound[]> {
  const [rows] = await db.query<Row[]>(
    `SELECT ${FIELDS} FROM call_round ORDER BY id DESC LIMIT ${MOST_ROUNDS}`,
  );
  return rows.map(roundOf);
}
/** @param locked until the transaction ends */
export async function readRound(db: Queryable, id: number, locked = false): Promise<StoredRound | null> {
  const [[row]] = await db.execute<Row[]>(
    `SELECT ${FIELDS} FROM call_round WHERE id = ?${locked ? ' FOR UPDATE' : ''}`,
    [id],
  );
  return row ? roundOf(row) : null;
}
export async function countRounds(db: Queryable): Promise<number> {
  const [[row]] = await db.query<RowDataPacket[]>('SELECT COUNT(*) AS n FROM call_round');
  return Number(row?.n);
}
export async function insertRound(
  db: Queryable,
  { plan, by, at }: { readonly plan: RoundPlan; readonly by: number; readonly at: Date },
): Promise<number> {
  const [{ insertId }] = await db.execute<ResultSetHeader>(
    'INSERT INTO call_round (plan, made_at, changed_by) VALUES (?, ?, ?)',
    [toJson(plan), at, by],
  );
  return insertId;
}

type Patch = Partial<Omit<StoredRound, 'id' | 'version' | 'madeAt'>> & { readonly listFile?: Uint8Array };
const COLUMNS: Readonly<Record<keyof Patch, string>> = {
  plan: 'plan',
  state: 'state',
  changedBy: 'changed_by',
  askedBy: 'asked_by',
  askedName: 'asked_name',
  approvedName: 'approved_name',
  approvedAt: 'approved_at',
  startedAt: 'started_at',
  endedAt: 'ended_at',
  listName: 'list_name',
  removedAt: 'removed_at',
  listFile: 'list_file',
};
/** Changes a round that the transaction has locked. */
export async function patchRound(tx: Tx, id: number, patch: Patch): Promise<void> {
  const names = (Object.keys(patch) as (keyof Patch)[]).filter((name) => patch[name] !== undefined);
  const value = (name: keyof Patch) =>
    name === 'plan'
      ? toJson(patch.plan)
      : patch[name] instanceof Uint8Array
        ? Buffer.from(patch[name])
        : patch[name];
  await tx.query(
    `UPDATE call_round SET ${[...names.map((name) => `${COLUMNS[name]} = ?`), 'version = version + 1'].join(', ')} WHERE id = ?`,
    [...names.map(value), id],
  );
}
export async function listFileOf(db: Queryable, id: number): Promise<Uint8Array | null> {
  const [[row]] = await db.execute<RowDataPacket[]>('SELECT list_file FROM call_round WHERE id = ?', [id]);
  return row?.list_file ? new Uint8Array(row.list_file as Buffer) : null;
}

const AT_A_TIME = 500;
/** Puts a list in place of the one there is. */
export async function putNumbers(tx: Tx, round: number, rows: readonly ListRow[], at: Date): Promise<void> {
  await tx.execute('DELETE FROM round_number WHERE round = ?', [round]);
  for (let from = 0; from < rows.length; from += AT_A_TIME)
    await tx.query(
      'INSERT INTO round_number (round, line, shown, number, name, zone, fields, state, why, not_before) VALUES ?',
      [
        rows
          .slice(from, from + AT_A_TIME)
          .map((row) => [
            round,
            row.line,
            row.shown,
            row.number,
            row.name,
            row.zone,
            toJson(row.fields),
            row.state,
            row.why.slice(0, 200),
            at,
          ]),
      ],
    );
}

/** How many numbers of each round stand how, those that wait by their zone. */
export async function countNumbers(
  db: Queryable,
  rounds: readonly number[],
): Promise<
  readonly {
    readonly round: number;
    readonly state: KeptState;
    readonly zone: string | null;
    readonly count: number;
  }[]
> {
  if (rounds.length === 0) return [];
  const [rows] = await db.query<RowDataPacket[]>(
    `SELECT round, state, IF(state = 'waiting', zone, NULL) AS zone, COUNT(*) AS n FROM round_number
     WHERE round IN (?) GROUP BY 1, 2, 3`,
    [rounds],
  );
  return rows.map((row) => ({
    round: Number(row.round),
    state: row.state as KeptState,
    zone: row.zone as string | null,
    count: Number(row.n),
  }));
}

/** A row of the list, with what has become of it. */
export interface StoredNumber extends Omit<ListRow, 'state'> {
  readonly state: KeptState;
  readonly tries: number;
  readonly notBefore: Date;
  readonly calledAt: Date | null;
  readonly playedMs: number | null;
}
interface NumberRow extends RowDataPacket {
  line: number;
  shown: string;
  number: string | null;
  name: string;
  zone: string | null;
  fields: string;
  state: KeptState;
  why: string;
  tries: number;
  not_before: Date;
  called_at: Date | null;
  played_ms: number | null;
}
const NUMBER_FIELDS =
  'line, shown, number, name, zone, fields, state, why, tries, not_before, called_at, played_ms';
const numberOf = (row: NumberRow): StoredNumber => ({
  line: row.line,
  shown: row.shown,
  number: row.number,
  name: row.name,
  zone: row.zone,
  fields: fromJson(row.fields) as Record<string, string>,
  state: row.state,
  why: row.why,
  tries: row.tries,
  notBefore: row.not_before,
  calledAt: row.called_at,
  playedMs: row.played_ms,
});

export interface NumberFilter {
  readonly states?: readonly KeptState[];
  /** Of those that wait: these zones alone, or all but these. */
  readonly zones?: { readonly of: readonly string[]; readonly isIn: boolean };
  readonly text?: string;
  /** Digits of a number, in any form. */
  readonly digits?: string;
}
const like = (text: string) => `%${text.replace(/[\\%_]/g, (each) => `\\${each}`)}%`;
/** Numbers of a round after a line of its file, in its order. */
export async function numbersOf(
  db: Queryable,
  round: number,
  { states, zones, text, digits }: NumberFilter,
  after: number,
  most: number,
): Promise<readonly StoredNumber[]> {
  const where = ['round = ?', 'line > ?'];
  const values: unknown[] = [round, after];
  if (states) {
    where.push('state IN (?)');
    values.push(states);
  }
  if (zones && zones.of.length > 0) {
    where.push(`zone ${zones.isIn ? 'IN' : 'NOT IN'} (?)`);
    values.push(zones.of);
  } else if (zones?.isIn) return [];
  if (text) {
    where.push(digits ? '(name LIKE ? OR shown LIKE ? OR number LIKE ?)' : '(name LIKE ? OR shown LIKE ?)');
    values.push(like(text), like(text), ...(digits ? [like(digits)] : []));
  }
  const [rows] = await db.query<NumberRow[]>(
    `SELECT ${NUMBER_FIELDS} FROM round_number WHERE ${where.join(' AND ')} ORDER BY line LIMIT ?`,
    [...values, most],
  );
  return rows.map(numberOf);
}

/** Numbers that are never to be called. @param of of these alone */
export async function neverCalled(db: Queryable, of?: readonly E164[]): Promise<ReadonlySet<E164>> {
  if (of?.length === 0) return new Set();
  const [rows] = await db.query<RowDataPacket[]>(
    `SELECT number FROM never_call${of ? ' WHERE number IN (?)' : ''}`,
    of ? [of] : [],
  );
  return new Set(rows.map((row) => String(row.number)));
}
export async function neverCallRows(
  db: Queryable,
  most: number,
): Promise<{
  readonly rows: readonly { number: string; since: Date; who: string; why: string }[];
  readonly total: number;
}> {
  const [rows] = await db.query<RowDataPacket[]>(
    'SELECT number, since, who, why FROM never_call ORDER BY since DESC, number LIMIT ?',
    [most],
  );
  const [[count]] = await db.query<RowDataPacket[]>('SELECT COUNT(*) AS n FROM never_call');
  return {
    rows: rows.map((row) => ({
      number: String(row.number),
      since: row.since as Date,
      who: String(row.who),
      why: String(row.why),
    })),
    total: Number(count?.n),
  };
}
/** @returns whether it was not there yet */
export async function putNeverCall(
  db: Queryable,
  { number, at, who, why }: { number: E164; at: Date; who: string; why: string },
): Promise<boolean> {
  const [{ affectedRows }] = await db.execute<ResultSetHeader>(
    'INSERT IGNORE INTO never_call (number, since, who, why) VALUES (?, ?, ?, ?)',
    [number, at, who.slice(0, 120), why.slice(0, 200)],
  );
  return affectedRows === 1;
}
export async function removeNeverCall(db: Queryable, number: E164): Promise<boolean> {
  const [{ affectedRows }] = await db.execute<ResultSetHeader>('DELETE FROM never_call WHERE number = ?', [
    number,
  ]);
  return affectedRows === 1;
}
