import type { ResultSetHeader, RowDataPacket } from 'mysql2/promise';
import type { SignOffReason, SignOnWay } from '../../core/desks';
import type { Queryable } from '../db';

/** Somebody at a shared desk; `endedAt` null: still there. */
export interface DeskSignOn {
  readonly id: number;
  readonly desk: string;
  readonly person: string;
  readonly site: string | null;
  readonly since: Date;
  readonly how: SignOnWay;
  /** The last call or key at the phone. */
  readonly usedAt: Date;
  readonly endedAt: Date | null;
  readonly why: SignOffReason | null;
}

interface Row extends RowDataPacket {
  id: number;
  desk: string;
  person: string;
  site: string | null;
  since: Date;
  how: SignOnWay;
  used_at: Date;
  ended_at: Date | null;
  why: SignOffReason | null;
}
const FIELDS = 'id, desk, person, site, since, how, used_at, ended_at, why';
const MOST_READ = 20_000;
const signOnOf = (row: Row): DeskSignOn => ({
  id: Number(row.id),
  desk: row.desk,
  person: row.person,
  site: row.site,
  since: row.since,
  how: row.how,
  usedAt: row.used_at,
  endedAt: row.ended_at,
  why: row.why,
});

/** All who are signed on now. */
export async function openSignOns(db: Queryable): Promise<readonly DeskSignOn[]> {
  const [rows] = await db.query<Row[]>(
    `SELECT ${FIELDS} FROM desk_sign_on WHERE open_desk IS NOT NULL ORDER BY id LIMIT ${MOST_READ}`,
  );
  return rows.map(signOnOf);
}

/** Whoever is at a desk now, and where a person is now: none, one or two rows. */
export async function openAt(db: Queryable, desk: string, person: string): Promise<readonly DeskSignOn[]> {
  const [rows] = await db.execute<Row[]>(
    `SELECT ${FIELDS} FROM desk_sign_on WHERE open_desk = ? UNION SELECT ${FIELDS} FROM desk_sign_on WHERE open_person = ?`,
    [desk, person],
  );
  return rows.map(signOnOf);
}

/** Where somebody is signed on now; null: nowhere. */
export async function openOf(db: Queryable, person: string): Promise<DeskSignOn | null> {
  const [[row]] = await db.execute<Row[]>(`SELECT ${FIELDS} FROM desk_sign_on WHERE open_person = ?`, [
    person,
  ]);
  return row ? signOnOf(row) : null;
}

/** Who was signed on at an instant, from the record of it. */
export async function signOnsAt(db: Queryable, at: Date): Promise<readonly DeskSignOn[]> {
  const [rows] = await db.execute<Row[]>(
    `SELECT ${FIELDS} FROM desk_sign_on WHERE since <= ? AND (ended_at > ? OR ended_at IS NULL) ORDER BY id LIMIT ${MOST_READ}`,
    [at, at],
  );
  return rows.map(signOnOf);
}

/** The sign-ons of a desk or a person that touch a span, the latest first. */
export async function signOnsIn(
  db: Queryable,
  of: { readonly desk: string } | { readonly person: string },
  from: Date,
  to: Date,
  most: number,
): Promise<readonly DeskSignOn[]> {
  const [field, id] = 'desk' in of ? (['desk', of.desk] as const) : (['person', of.person] as const);
  const [rows] = await db.execute<Row[]>(
    `SELECT ${FIELDS} FROM desk_sign_on WHERE ${field} = ? AND since < ? AND (ended_at > ? OR ended_at IS NULL)
     ORDER BY since DESC, id DESC LIMIT ${Math.trunc(most)}`,
    [id, to, from],
  );
  return rows.map(signOnOf);
}

/** @throws ER_DUP_ENTRY where somebody is at the desk, or the person at another */
export async function insertSignOn(
  db: Queryable,
  { desk, person, site, since, how }: Pick<DeskSignOn, 'desk' | 'person' | 'site' | 'since' | 'how'>,
): Promise<void> {
  await db.execute(
    'INSERT INTO desk_sign_on (desk, person, site, since, how, used_at) VALUES (?, ?, ?, ?, ?, ?)',
    [desk, person, site, since, how, since],
  );
}

/** Ends one that has not ended. @returns whether it was this that ended it */
export async function endSignOn(
  db: Queryable,
  id: number,
  endedAt: Date,
  why: SignOffReason,
): Promise<boolean> {
  const [result] = await db.execute<ResultSetHeader>(
    'UPDATE desk_sign_on SET ended_at = GREATEST(since, ?), why = ? WHERE id = ? AND ended_at IS NULL',
    [endedAt, why, id],
  );
  return result.affectedRows === 1;
}

/** Notes that a desk's phone was used. */
export async function noteUse(db: Queryable, desks: readonly string[], at: Date): Promise<void> {
  if (desks.length === 0) return;
  await db.query('UPDATE desk_sign_on SET used_at = GREATEST(used_at, ?) WHERE open_desk IN (?)', [
    at,
    desks,
  ]);
}

/** Notes that the phones of people who are signed on were used. */
export async function noteUseBy(db: Queryable, people: readonly string[], at: Date): Promise<void> {
  if (people.length === 0) return;
  await db.query('UPDATE desk_sign_on SET used_at = GREATEST(used_at, ?) WHERE open_person IN (?)', [
    at,
    people,
  ]);
}

/** A server that did not run has counted no calls and keys: idle times begin anew. */
export async function beginIdleAnew(db: Queryable, at: Date): Promise<void> {
  await db.execute('UPDATE desk_sign_on SET used_at = GREATEST(used_at, ?) WHERE open_desk IS NOT NULL', [
    at,
  ]);
}

/** Changes whenever somebody signs on or off, on whichever server. */
export async function signOnStamp(db: Queryable): Promise<string> {
  const [[row]] = await db.query<RowDataPacket[]>(
    'SELECT COUNT(*) AS n, MAX(id) AS newest, SUM(id) AS mark FROM desk_sign_on WHERE open_desk IS NOT NULL',
  );
  return `${String(row?.n)} ${String(row?.newest)} ${String(row?.mark)}`;
}
