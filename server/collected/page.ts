import type { RowDataPacket } from 'mysql2/promise';
import type { CallRow, CallsPage } from '../../api/calls';
import { bareNumber, readNumber } from '../../core/calls/dialling';
import { legEndText, OUTCOME_KINDS, type OutcomeKind } from '../../core/calls/engine';
import { readRecords } from '../../core/records';
import type { Queryable } from '../db';
import type { LiveEstate } from '../estate';

const PAGE = 50;
/** People that a name may mean; with more it has to be told more closely. */
const MOST_MEANT = 40;

export interface CallsAsked {
  readonly text: string;
  readonly outcome: OutcomeKind | null;
  /** The call to go on after. */
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

/** The calls that went, the latest first. */
export async function callsPage(db: Queryable, live: LiveEstate, asked: CallsAsked): Promise<CallsPage> {
  const where = ['1 = 1'];
  const values: unknown[] = [];
  const text = asked.text.trim().slice(0, 80);
  if (text !== '') {
    const found = meant(live, text, asked.mayNumbers);
    if (!found || found.numbers.length + found.endpoints.length === 0) return { calls: [], next: null };
    const of = [
      ...(found.numbers.length > 0
        ? ["JSON_VALUE(body, '$.to') IN (?)", "JSON_VALUE(body, '$.from') IN (?)"]
        : []),
      ...(found.endpoints.length > 0 ? ["JSON_VALUE(body, '$.answeredBy') IN (?)"] : []),
    ];
    where.push(`(${of.join(' OR ')})`);
    if (found.numbers.length > 0) values.push(found.numbers, found.numbers);
    if (found.endpoints.length > 0) values.push(found.endpoints);
  }
  if (asked.outcome) {
    where.push("JSON_VALUE(body, '$.outcome') = ?");
    values.push(asked.outcome);
  }
  if (asked.after !== null) {
    where.push('(started_at, id) < (SELECT started_at, id FROM call_record WHERE id = ?)');
    values.push(asked.after);
  }
  const [rows] = await db.query<RowDataPacket[]>(
    `SELECT id, body FROM call_record WHERE ${where.join(' AND ')} ORDER BY started_at DESC, id DESC LIMIT ${PAGE + 1}`,
    values,
  );
  const shown = rows.slice(0, PAGE);
  return {
    calls: shown.flatMap(({ body }) => rowOf(live, String(body)) ?? []),
    next: rows.length > PAGE ? String(shown.at(-1)?.id) : null,
  };
}

function rowOf({ index, finder }: LiveEstate, body: string): CallRow | null {
  const read = readRecords([JSON.parse(body) as unknown]);
  const [record] = read.ok ? read.records : [];
  if (!record) return null;
  const nameOf = (endpoint: string): string => {
    const owner = finder.ownerOf(endpoint);
    const label = owner?.endpoints.find(({ id }) => id === endpoint)?.label;
    return owner && label ? `${owner.name}: ${label}` : endpoint;
  };
  const called = index.destinations.get(record.to);
  const calledName =
    called?.kind === 'line'
      ? called.person.name
      : called?.kind === 'group'
        ? called.group.name
        : (called?.menu.name ?? null);
  return {
    id: record.id,
    at: new Date(record.startMs).toISOString(),
    from: record.from,
    to: record.to,
    toName: calledName,
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
