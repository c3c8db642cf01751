import type { ResultSetHeader, RowDataPacket } from 'mysql2/promise';
import type { SlateEntry, EntryKind } from '../../core/changes/slate';
import { fromJson, type Queryable } from '../db';
import type { Slate } from '../../api/slates';

export const SLATE_STATES = ['work', 'timed', 'held', 'applied', 'dropped'] as const;
export type SlateState = (typeof SLATE_STATES)[number];

/** Whether a slate is neither live nor dropped. */
export const isOpen = ({ state }: Pick<Slate, 'state'>): boolean =>
  state === 'work' || state === 'timed' || state === 'held';
export interface StoredEntry extends SlateEntry {
  readonly why: string;
  readonly addedBy: string;
  readonly addedAt: string;
}

interface SlateRow extends RowDataPacket {
  id: number;
  name: string;
  owner: string;
  shared: number;
  note: string;
  state: SlateState;
  due_at: Date | null;
  held_why: string | null;
  overrule: string | null;
  created_at: Date;
  updated_at: Date;
  applied_at: Date | null;
  applied_by: string | null;
  version: number;
  size: number;
}
interface EntryRow extends RowDataPacket {
  kind: EntryKind;
  id: string;
  name: string;
  base: string | null;
  after: string | null;
  why: string;
  added_by: string;
  added_at: Date;
}

const iso = (date: Date | null) => date?.toISOString() ?? null;
const slateOf = (row: SlateRow): Slate => ({
  id: row.id,
  name: row.name,
  owner: row.owner,
  shared: row.shared === 1,
  note: row.note,
  state: row.state,
  dueAt: iso(row.due_at),
  heldWhy: row.held_why,
  overrule: row.overrule,
  createdAt: row.created_at.toISOString(),
  updatedAt: row.updated_at.toISOString(),
  appliedAt: iso(row.applied_at),
  appliedBy: row.applied_by,
  version: row.version,
  size: Number(row.size),
});
const SELECT = `SELECT slate.*, (SELECT COUNT(*) FROM slate_entry WHERE slate_id = slate.id) AS size FROM slate`;

/** Slates in work, the newest first, and after them some that are done with. */
export async function listSlates(db: Queryable, done: number): Promise<Slate[]> {
  const [open] = await db.query<SlateRow[]>(
    `${SELECT} WHERE state IN ('work', 'timed', 'held') ORDER BY updated_at DESC, id DESC`,
  );
  const [closed] = await db.query<SlateRow[]>(
    `${SELECT} WHERE state IN ('applied', 'dropped') ORDER BY updated_at DESC, id DESC LIMIT ?`,
    [done],
  );
  return [...open, ...closed].map(slateOf);
}

/** How many slates an account has in work. */
export async function openSlates(db: Queryable, owner: string): Promise<number> {
  const [[row]] = await db.execute<RowDataPacket[]>(
    "SELECT COUNT(*) AS n FROM slate WHERE owner = ? AND state IN ('work', 'timed', 'held')",
    [owner],
  );
  return Number(row?.n ?? 0);
}

/** @param lock holds the row to the end of the transaction */
export async function readSlate(db: Queryable, id: number, lock = false): Promise<Slate | null> {
  if (lock) await db.query('SELECT id FROM slate WHERE id = ? FOR UPDATE', [id]);
  const [[row]] = await db.query<SlateRow[]>(`${SELECT} WHERE id = ?`, [id]);
  return row ? slateOf(row) : null;
}

export async function addSlate(db: Queryable, name: string, owner: string, at: Date): Promise<number> {
  const [{ insertId }] = await db.execute<ResultSetHeader>(
    'INSERT INTO slate (name, owner, created_at, updated_at) VALUES (?, ?, ?, ?)',
    [name, owner, at, at],
  );
  return insertId;
}

const COLUMNS = {
  name: 'name',
  owner: 'owner',
  shared: 'shared',
  note: 'note',
  state: 'state',
  dueAt: 'due_at',
  heldWhy: 'held_why',
  overrule: 'overrule',
  appliedAt: 'applied_at',
  appliedBy: 'applied_by',
} as const;
export type SlatePatch = {
  readonly [K in keyof typeof COLUMNS]?: string | boolean | Date | null;
};

/** Changes a slate's own columns, and counts its version up. */
export async function patchSlate(db: Queryable, id: number, patch: SlatePatch, at: Date): Promise<void> {
  const names = Object.keys(patch) as (keyof typeof COLUMNS)[];
  const set = names.map((name) => `${COLUMNS[name]} = ?, `).join('');
  await db.query(`UPDATE slate SET ${set}updated_at = ?, version = version + 1 WHERE id = ?`, [
    ...names.map((name) => patch[name]),
    at,
    id,
  ]);
}

/** Takes a slate away that nobody has seen and of which nothing was live. */
export async function removeUnseen(db: Queryable, id: number): Promise<void> {
  await db.execute("DELETE FROM slate WHERE id = ? AND state = 'work' AND applied_at IS NULL", [id]);
}

/** @param only of these objects; left out: all */
export async function readEntries(
  db: Queryable,
  slate: number,
  only?: readonly { readonly kind: string; readonly id: string }[],
): Promise<StoredEntry[]> {
  if (only?.length === 0) return [];
  const [rows] = await db.query<EntryRow[]>(
    `SELECT kind, id, name, base, after, why, added_by, added_at FROM slate_entry
     WHERE slate_id = ?${only ? ' AND (kind, id) IN (?)' : ''} ORDER BY position, kind, id`,
    only ? [slate, only.map(({ kind, id }) => [kind, id])] : [slate],
  );
  return rows.map((row) => ({
    kind: row.kind,
    id: row.id,
    name: row.name,
    base: fromJson(row.base) ?? null,
    after: fromJson(row.after) ?? null,
    why: row.why,
    addedBy: row.added_by,
    addedAt: row.added_at.toISOString(),
  }));
}

export async function countEntries(db: Queryable, slate: number): Promise<number> {
  const [[row]] = await db.query<RowDataPacket[]>(
    'SELECT COUNT(*) AS n FROM slate_entry WHERE slate_id = ?',
    [slate],
  );
  return Number(row?.n ?? 0);
}

const CHUNK = 200;

/** Writes entries, each in the place of the one for the same object; what that rested on stays. */
export async function putEntries(
  db: Queryable,
  slate: number,
  entries: readonly (SlateEntry & { readonly why?: string })[],
  who: string,
  at: Date,
): Promise<void> {
  const [[row]] = await db.query<RowDataPacket[]>(
    'SELECT COALESCE(MAX(position) + 1, 0) AS next FROM slate_entry WHERE slate_id = ?',
    [slate],
  );
  const first = Number(row?.next ?? 0);
  const json = (value: unknown) => (value === null || value === undefined ? null : JSON.stringify(value));
  for (let from = 0; from < entries.length; from += CHUNK)
    await db.query(
      `INSERT INTO slate_entry (slate_id, kind, id, position, name, base, after, why, added_by, added_at) VALUES ?
       ON DUPLICATE KEY UPDATE name = VALUES(name), base = VALUES(base), after = VALUES(after), why = VALUES(why),
         added_by = VALUES(added_by), added_at = VALUES(added_at)`,
      [
        entries
          .slice(from, from + CHUNK)
          .map((entry, i) => [
            slate,
            entry.kind,
            entry.id,
            first + from + i,
            entry.name,
            json(entry.base),
            json(entry.after),
            entry.why ?? '',
            who,
            at,
          ]),
      ],
    );
}

export async function removeEntry(db: Queryable, slate: number, kind: string, id: string): Promise<boolean> {
  const [{ affectedRows }] = await db.execute<ResultSetHeader>(
    'DELETE FROM slate_entry WHERE slate_id = ? AND kind = ? AND id = ?',
    [slate, kind, id],
  );
  return affectedRows > 0;
}

/** The slates whose time has come. */
export async function dueSlates(db: Queryable, at: Date): Promise<number[]> {
  const [rows] = await db.query<RowDataPacket[]>(
    `SELECT id FROM slate WHERE state = 'timed' AND due_at <= ? ORDER BY due_at, id`,
    [at],
  );
  return rows.map((row) => Number(row.id));
}

export async function doneSteps(db: Queryable, slate: number): Promise<ReadonlyMap<string, string>> {
  const [rows] = await db.query<RowDataPacket[]>('SELECT step, done_by FROM slate_step WHERE slate_id = ?', [
    slate,
  ]);
  return new Map(rows.map((row) => [String(row.step), String(row.done_by)]));
}

export async function tickStep(
  db: Queryable,
  slate: number,
  step: string,
  done: boolean,
  who: string,
  at: Date,
): Promise<void> {
  if (done)
    await db.execute('INSERT IGNORE INTO slate_step (slate_id, step, done_by, done_at) VALUES (?, ?, ?, ?)', [
      slate,
      step,
      who,
      at,
    ]);
  else await db.execute('DELETE FROM slate_step WHERE slate_id = ? AND step = ?', [slate, step]);
}
