import type { RowDataPacket } from 'mysql2/promise';
import { WENT, type CallRow, type CallsPage, type Went } from '../../api/calls';
import { bareNumber, readNumber } from '../../core/calls/dialling';
import { legEndText, OUTCOME_KINDS, type OutcomeKind } from '../../core/calls/engine';
import { readRecords, type CallRecord } from '../../core/records';
import type { Queryable } from '../db';
import type { LiveEstate } from '../estate';
import { calledAt } from './called';
import { callKey, readCallKey } from './queries';

const PAGE = 50;
/** People that a name may mean; with more it has to be told more closely. */
const MOST_MEANT = 40;

export interface CallsAsked {
  readonly text: string;
  readonly outcome: OutcomeKind | null;
  /** Whether calls went as planned; null: all. */
  readonly went: Went | null;
  /** When they began, ms since 1970; null: at any time. */
  readonly fromMs: number | null;
  readonly toMs: number | null;
  /** The key of the call to go on after. */
  readonly after: string | null;
  /** Whether digits may be searched for: not by those from whom numbers are masked. */
  readonly mayNumbers: boolean;
}

/** What a search means: numbers and extensions that were called or called from, and phones that answered. */
function meant({ estate }: LiveEstate, text: string, mayNumbers: boolean) {
  const digits = bareNumber(text);
  if (/^\+?\d{2,}$/.test(digits)) {
    if (!mayNumbers && digits.replace('+', '').length > estate.dialling.extensionDigits) return null;
    const read = readNumber(text, estate.dialling);
    return { numbers: [digits, ...(read.ok ? [read.e164] : [])], endpoints: [] };
  }
  const wanted = text.toLowerCase();
  const people = estate.people.filter(({ name }) => name.toLowerCase().includes(wanted)).slice(0, MOST_MEANT);
  const groups = estate.groups.filter(({ name }) => name.toLowerCase().includes(wanted));
  return {
    numbers: [
      ...people.flatMap(({ lines }) => lines.flatMap(({ extension, numbers }) => [extension, ...numbers])),
      ...groups.flatMap(({ extension, numbers = [] }) => [extension, ...numbers]),
    ],
    endpoints: people.flatMap(({ endpoints }) => endpoints.map(({ id }) => id)),
  };
}

/** With more values than these, one look goes over all of them. */
const MOST_LOOKS = 60;
/** Each value of a column by itself, so that its index gives the latest first; of very many, all of a column at once. */
function looks(found: NonNullable<ReturnType<typeof meant>>) {
  type Look = readonly [column: string, values: readonly string[]];
  const columns: readonly Look[] = [
    ['to_number', found.numbers],
    ['from_number', found.numbers],
    ['answered_by', found.endpoints],
  ];
  const isMany = found.numbers.length * 2 + found.endpoints.length > MOST_LOOKS;
  return columns
    .filter(([, values]) => values.length > 0)
    .flatMap((all): readonly Look[] => (isMany ? [all] : all[1].map((value): Look => [all[0], [value]])));
}

/** The calls that went, the latest first. */
export async function callsPage(db: Queryable, live: LiveEstate, asked: CallsAsked): Promise<CallsPage> {
  const where: string[] = [];
  const values: unknown[] = [];
  const only = (condition: string, ...of: unknown[]) => {
    where.push(condition);
    values.push(...of);
  };
  if (asked.outcome) only('outcome = ?', asked.outcome);
  if (asked.went) only('went = ?', asked.went);
  if (asked.fromMs !== null) only('started_at >= ?', new Date(asked.fromMs));
  if (asked.toMs !== null) only('started_at < ?', new Date(asked.toMs));
  const last = asked.after === null ? null : readCallKey(asked.after);
  if (last) {
    const { startedAt, id } = last;
    only('(started_at < ? OR (started_at = ? AND id < ?))', startedAt, startedAt, id);
  }
  const LATEST = `ORDER BY started_at DESC, id DESC LIMIT ${PAGE + 1}`;
  const text = asked.text.trim().slice(0, 80);
  const found = text === '' ? null : meant(live, text, asked.mayNumbers);
  if (text !== '' && (!found || found.numbers.length + found.endpoints.length === 0))
    return { calls: [], next: null };
  const parts = found
    ? looks(found).map(([column, of]) => ({ condition: [`${column} IN (?)`, ...where], of: [of, ...values] }))
    : [{ condition: where, of: values }];
  const [rows] = await db.query<RowDataPacket[]>(
    `SELECT started_at, id, went, import_id, body FROM call_record WHERE (started_at, id) IN (
       SELECT started_at, id FROM (${parts
         .map(
           ({ condition }) =>
             `(SELECT started_at, id FROM call_record ${
               condition.length > 0 ? `WHERE ${condition.join(' AND ')}` : ''
             } ${LATEST})`,
         )
         .join(' UNION ')}) AS found
     ) ${LATEST}`,
    parts.flatMap(({ of }) => of),
  );
  const shown = rows.slice(0, PAGE);
  const end = shown.at(-1);
  return {
    calls: shown.flatMap((row) => rowOf(live, row) ?? []),
    next: rows.length > PAGE && end ? callKey(end.started_at as Date, String(end.id)) : null,
  };
}

/** What a row of the table holds; null: nothing that can be read any more. */
export function recordIn(body: unknown): CallRecord | null {
  const read = readRecords([JSON.parse(String(body)) as unknown]);
  return (read.ok ? read.records[0] : null) ?? null;
}

/** A call as it is listed. */
export function rowOf(live: LiveEstate, row: RowDataPacket): CallRow | null {
  const record = recordIn(row.body);
  return record && listed(live, record, (row.went ?? null) as Went | null, row.import_id !== null);
}

/** A record as it is listed. */
export function listed(
  { index, finder }: LiveEstate,
  record: CallRecord,
  went: Went | null,
  isImported: boolean,
): CallRow {
  const nameOf = (endpoint: string): string => {
    const owner = finder.ownerOf(endpoint);
    const label = owner?.endpoints.find(({ id }) => id === endpoint)?.label;
    return owner && label ? `${owner.name}: ${label}` : endpoint;
  };
  return {
    id: record.id,
    key: callKey(new Date(record.startMs), record.id),
    went,
    isImported,
    at: new Date(record.startMs).toISOString(),
    from: record.from,
    to: record.to,
    toName: calledAt(index, record.to)?.name ?? null,
    outcome: record.outcome,
    atMs: record.atMs,
    talkMs: record.talkMs,
    answeredBy: record.answeredBy === undefined ? null : nameOf(record.answeredBy),
    legs: record.legs.map(({ endpoint, dialledMs, alertMs, endMs, end }) => ({
      name: nameOf(endpoint),
      dialledMs,
      alertMs,
      endMs,
      end: legEndText(end),
    })),
  };
}

export const outcomeAsked = (text: string | undefined): OutcomeKind | null =>
  OUTCOME_KINDS.find((kind) => kind === text) ?? null;
export const wentAsked = (text: string | undefined): Went | null =>
  WENT.find((kind) => kind === text) ?? null;
