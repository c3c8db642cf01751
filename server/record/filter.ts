import type { RowDataPacket } from 'mysql2';
import type { FoldedSlate } from '../../api/people';
import { maskText } from '../../core/privacy';
import type { Queryable } from '../db';
import { selectRecord, type RecordEntry } from './queries';

/** Which entries of the record are wanted. */
export interface RecordFilter {
  readonly person?: string;
  readonly who?: string;
  readonly kind?: string;
  readonly slate?: number;
  /** ISO 8601 instants: from the first on, before the second. */
  readonly from?: string;
  readonly to?: string;
  readonly text?: string;
}

/**
 * Entries are numbered as they are written, and their times rise with the numbers, but for those that are written at
 * the same time: among so many that lie next to a moment is the one that ends what has to be gone through.
 */
const NEXT_TO = 10_000;
const NEAR = (where: string, order: string) =>
  `SELECT id FROM record_entry WHERE ${where} ORDER BY ${order} LIMIT ${NEXT_TO}`;
const NONE = '18446744073709551615';

/** The newest entries before an id that a filter lets through; `folded`: of each slate only its last one. */
export function filterRecord(
  db: Queryable,
  filter: RecordFilter,
  limit: number,
  beforeId: number = Number.MAX_SAFE_INTEGER,
  folded = false,
): Promise<RecordEntry[]> {
  const where: string[] = ['id < ?'];
  const values: unknown[] = [beforeId];
  const add = (sql: string, ...more: unknown[]) => {
    where.push(sql);
    values.push(...more);
  };
  if (filter.person) add('person_id = ?', filter.person);
  if (filter.who) add('who = ?', filter.who);
  if (filter.kind) add('kind = ?', filter.kind);
  if (filter.slate !== undefined) add('slate_id = ?', filter.slate);
  if (filter.from) {
    const from = new Date(filter.from);
    add('at >= ?', from);
    add(`id >= COALESCE((SELECT MIN(id) FROM (${NEAR('at >= ?', 'at, id')}) AS near), ${NONE})`, from);
  }
  if (filter.to) {
    const to = new Date(filter.to);
    add('at < ?', to);
    add(`id <= COALESCE((SELECT MAX(id) FROM (${NEAR('at < ?', 'at DESC, id DESC')}) AS near), 0)`, to);
  }
  if (folded)
    where.push(
      '(slate_id IS NULL OR id = (SELECT MAX(last.id) FROM record_entry AS last WHERE last.slate_id = record_entry.slate_id))',
    );
  if (filter.text) {
    const like = `%${filter.text.replace(/[\\%_]/g, (each) => `\\${each}`)}%`;
    add('(subject LIKE ? OR detail LIKE ? OR why LIKE ?)', like, like, like);
  }
  return selectRecord(db, `${where.join(' AND ')} ORDER BY id DESC LIMIT ?`, [...values, limit]);
}

/** Of what a slate changed, so many names are told. */
const NAMES = 6;

/** What the slates of some entries changed, of those that changed more than one thing. */
export async function foldedSlates(
  db: Queryable,
  entries: readonly RecordEntry[],
): Promise<ReadonlyMap<number, FoldedSlate>> {
  const ids = [...new Set(entries.flatMap(({ slateId }) => (slateId === null ? [] : [slateId])))];
  if (ids.length === 0) return new Map();
  const [rows] = await db.query<
    (RowDataPacket & { id: number; name: string; changes: number; names: string })[]
  >(
    `SELECT slate.id AS id, slate.name AS name, COUNT(*) AS changes,
       GROUP_CONCAT(entry.subject ORDER BY entry.id SEPARATOR '\n' LIMIT ${NAMES}) AS names
     FROM record_entry AS entry JOIN slate ON slate.id = entry.slate_id
     WHERE entry.slate_id IN (?) AND entry.kind <> 'drills-overruled'
     GROUP BY slate.id, slate.name HAVING COUNT(*) > 1`,
    [ids],
  );
  return new Map(
    rows.map(({ id, name, changes, names }) => [
      Number(id),
      { name, changes: Number(changes), names: names.split('\n') },
    ]),
  );
}

/** Entries gone through in one search by somebody for whom private numbers are masked. */
const MOST_LOOKED_AT = 5000;
const AT_A_TIME = 500;

/**
 * The same for whom private numbers are masked: what is searched is what they see, so that no number can be found out
 * by searching for more and more of it.
 */
export async function filterMasked(
  db: Queryable,
  { text = '', ...filter }: RecordFilter,
  limit: number,
  beforeId: number | undefined,
  isOwn: (e164: string) => boolean,
): Promise<RecordEntry[]> {
  const wanted = text.toLowerCase();
  const found: RecordEntry[] = [];
  let from = beforeId;
  for (let looked = 0; looked < MOST_LOOKED_AT && found.length < limit; looked += AT_A_TIME) {
    const entries = await filterRecord(db, filter, AT_A_TIME, from);
    for (const entry of entries)
      if (
        found.length < limit &&
        [entry.subject, entry.detail, entry.why].some((each) =>
          maskText(each, isOwn).toLowerCase().includes(wanted),
        )
      )
        found.push(entry);
    if (entries.length < AT_A_TIME) break;
    from = entries.at(-1)?.id;
  }
  return found;
}
