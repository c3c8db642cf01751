import type { ResultSetHeader, RowDataPacket } from 'mysql2/promise';
import type { RecordKind } from '../../api/record';
import { fromJson, toJson, type Queryable } from '../db';

export interface NewRecord {
  readonly who: string;
  readonly kind: RecordKind;
  readonly personId?: string;
  readonly subject: string;
  readonly detail?: string;
  readonly why?: string;
  readonly slateId?: number;
  readonly before?: unknown;
  readonly after?: unknown;
}

export interface RecordEntry {
  readonly id: number;
  /** ISO 8601, UTC. */
  readonly at: string;
  readonly who: string;
  readonly kind: RecordKind;
  readonly personId: string | null;
  readonly subject: string;
  readonly detail: string;
  readonly why: string;
  readonly slateId: number | null;
  readonly before?: unknown;
  readonly after?: unknown;
}

const CHUNK = 200;

/** Adds entries to the record, in the transaction of the change that they tell of. @returns the id of the first */
export async function addRecords(db: Queryable, entries: readonly NewRecord[]): Promise<number> {
  let first = 0;
  for (let from = 0; from < entries.length; from += CHUNK) {
    const [{ insertId }] = await db.query<ResultSetHeader>(
      `INSERT INTO record_entry
         (at, who, kind, person_id, subject, detail, why, slate_id, before_json, after_json)
       VALUES ${entries
         .slice(from, from + CHUNK)
         .map(() => '(UTC_TIMESTAMP(3), ?, ?, ?, ?, ?, ?, ?, ?, ?)')
         .join(', ')}`,
      entries
        .slice(from, from + CHUNK)
        .flatMap((entry) => [
          entry.who,
          entry.kind,
          entry.personId ?? null,
          entry.subject,
          entry.detail ?? '',
          entry.why ?? '',
          entry.slateId ?? null,
          toJson(entry.before),
          toJson(entry.after),
        ]),
    );
    first ||= insertId;
  }
  return first;
}

/**
 * Adds an entry to the record, in the transaction of the change that it tells of.
 * @returns the entry's id
 */
export const addRecord = (db: Queryable, entry: NewRecord): Promise<number> => addRecords(db, [entry]);

interface Row extends RowDataPacket {
  id: number;
  at: Date;
  who: string;
  kind: RecordKind;
  person_id: string | null;
  subject: string;
  detail: string;
  why: string;
  slate_id: number | null;
  before_json: string | null;
  after_json: string | null;
}

/** Kinds as they were called in entries of before, which stay as they are. */
const OLDER_KINDS: Readonly<Record<string, RecordKind | undefined>> = {
  'self-set-added': 'provisioning-added',
  'self-set-removed': 'provisioning-ended',
  'self-set-policy': 'provisioning-policy',
};

const COLUMNS = 'id, at, who, kind, person_id, subject, detail, why, slate_id, before_json, after_json';

/** Entries by what follows WHERE. */
export async function selectRecord(db: Queryable, where: string, values: unknown[]): Promise<RecordEntry[]> {
  const [rows] = await db.query<Row[]>(`SELECT ${COLUMNS} FROM record_entry WHERE ${where}`, values);
  return rows.map(entryOf);
}

/** Entries by their ids, oldest first. */
export const readRecord = (db: Queryable, ids: readonly number[]): Promise<RecordEntry[]> =>
  ids.length === 0 ? Promise.resolve([]) : selectRecord(db, 'id IN (?) ORDER BY id', [ids]);

function entryOf(row: Row): RecordEntry {
  return {
    id: row.id,
    at: row.at.toISOString(),
    who: row.who,
    kind: OLDER_KINDS[row.kind] ?? row.kind,
    personId: row.person_id,
    subject: row.subject,
    detail: row.detail,
    why: row.why,
    slateId: row.slate_id,
    before: fromJson(row.before_json),
    after: fromJson(row.after_json),
  };
}
