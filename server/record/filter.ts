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

/** The newest entries before an id that a filter lets through. */
export function filterRecord(
  db: Queryable,
  filter: RecordFilter,
  limit: number,
  beforeId: number = Number.MAX_SAFE_INTEGER,
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
  if (filter.from) add('at >= ?', new Date(filter.from));
  if (filter.to) add('at < ?', new Date(filter.to));
  if (filter.text) {
    const like = `%${filter.text.replace(/[\\%_]/g, (each) => `\\${each}`)}%`;
    add('(subject LIKE ? OR detail LIKE ? OR why LIKE ?)', like, like, like);
  }
  return selectRecord(db, `${where.join(' AND ')} ORDER BY id DESC LIMIT ?`, [...values, limit]);
}
