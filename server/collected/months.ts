import type { RowDataPacket } from 'mysql2/promise';
import type { Queryable } from '../db';

/** Call records lie in one partition for each month: one that is kept no longer goes in one statement. */

/** The first moment of the month that a moment lies in, UTC; `by` months later. */
export const monthOf = (at: Date, by = 0): Date =>
  new Date(Date.UTC(at.getUTCFullYear(), at.getUTCMonth() + by, 1));
const nameOf = (month: Date): string => `m${month.toISOString().slice(0, 7).replace('-', '')}`;
const sqlDay = (month: Date): string => `'${month.toISOString().slice(0, 10)}'`;

interface Part {
  readonly name: string;
  /** What begins with this moment lies in a later one; null: all that is left. */
  readonly before: Date | null;
}

async function partsOf(keeper: Queryable): Promise<readonly Part[]> {
  const [rows] = await keeper.query<RowDataPacket[]>(
    `SELECT partition_name AS name, partition_description AS before_day FROM information_schema.partitions
     WHERE table_schema = DATABASE() AND table_name = 'call_record' AND partition_name IS NOT NULL
     ORDER BY partition_ordinal_position`,
  );
  return rows.map(({ name, before_day }) => ({
    name: String(name),
    before: before_day === 'MAXVALUE' ? null : new Date(`${String(before_day).slice(1, 11)}T00:00:00Z`),
  }));
}

/** So many months may be parted off at once. */
const MOST_MONTHS = 120;

/**
 * Parts off each month of a span, so that it can go by itself later. What is parted off already stays as it is.
 * @returns the names of the new ones
 */
export async function partOffMonths(keeper: Queryable, from: Date, to: Date): Promise<readonly string[]> {
  const made: string[] = [];
  for (let month = monthOf(from); month <= to && made.length < MOST_MONTHS; month = monthOf(month, 1)) {
    const parts = await partsOf(keeper);
    const nth = parts.findIndex(({ before }) => before === null || before > month);
    const part = parts[nth];
    if (!part || part.name === nameOf(month)) continue;
    const next = monthOf(month, 1);
    const begins = parts[nth - 1]?.before ?? null;
    const pieces = [
      // What lies before this month stays in a part of its own.
      ...(begins === null || begins < month ? [[`before_${nameOf(month)}`, month] as const] : []),
      [nameOf(month), next] as const,
      ...(part.before === null || part.before > next ? [[part.name, part.before] as const] : []),
    ];
    try {
      await keeper.query(
        `ALTER TABLE call_record REORGANIZE PARTITION ${part.name} INTO (${pieces
          .map(
            ([name, before]) =>
              `PARTITION ${name} VALUES LESS THAN (${before ? sqlDay(before) : 'MAXVALUE'})`,
          )
          .join(', ')})`,
      );
    } catch (error) {
      if (!MEANWHILE.includes(codeOf(error))) throw error;
      continue;
    }
    made.push(nameOf(month));
  }
  return made;
}
/** Another server was quicker; or the account may not part the table, whose rows then go one by one. */
const MEANWHILE = [
  'ER_SAME_NAME_PARTITION',
  'ER_DROP_PARTITION_NON_EXISTENT',
  'ER_RANGE_NOT_INCREASING_ERROR',
  'ER_REORG_OUTSIDE_RANGE',
  'ER_TABLEACCESS_DENIED_ERROR',
  'ER_PARTITION_MGMT_ON_NONPARTITIONED',
];
const codeOf = (error: unknown): string => String((error as { code?: unknown }).code);

/** Deletes the months that lie wholly before a moment, each in one statement. @returns the names of their parts */
export async function dropMonthsBefore(keeper: Queryable, than: Date): Promise<readonly string[]> {
  const old = (await partsOf(keeper)).filter(({ before }) => before !== null && before <= than);
  const gone: string[] = [];
  for (const { name } of old) {
    try {
      await keeper.query(`ALTER TABLE call_record DROP PARTITION ${name}`);
      gone.push(name);
    } catch (error) {
      if (!MEANWHILE.includes(codeOf(error))) throw error;
    }
  }
  return gone;
}
