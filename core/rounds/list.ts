import {
  classOf,
  emergencyNumbers,
  mayDialBy,
  NO_WAY_OUT,
  bareNumber,
  readNumber,
  watchedAs,
} from '../calls/dialling';
import type { E164, Estate } from '../estate';
import type { PlacedFault, Table } from '../formats';
import { isZone } from '../zones';
import type { ListRow } from './types';

/** Headings by which the columns of a list are known. */
const HEADINGS = {
  number: ['number', 'phone', 'phone number', 'telephone', 'mobile', 'mobile number', 'tel', 'tel.'],
  name: ['name', 'passenger', 'person', 'full name', 'customer', 'guest'],
  zone: ['zone', 'time zone', 'timezone', 'tz'],
} as const;
type Column = keyof typeof HEADINGS;

/** Which column (from 0) each is read from; -1: none. */
export type RoundColumns = Readonly<Record<Column, number>>;

const MOST_CELL = 200;
const FIELDS_KEPT = 20;

export function roundColumns(headings: readonly string[]): RoundColumns {
  const plain = headings.map((heading) => heading.trim().toLowerCase().replace(/[_-]+/g, ' '));
  const of = (column: Column) => {
    const names: readonly string[] = HEADINGS[column];
    return plain.findIndex((heading) => names.includes(heading));
  };
  return { number: of('number'), name: of('name'), zone: of('zone') };
}

export type ReadRoundList =
  | { readonly ok: true; readonly columns: RoundColumns; readonly rows: readonly ListRow[] }
  | { readonly ok: false; readonly faults: readonly PlacedFault[] };

/** What a list is judged by. */
export interface RoundJudge {
  readonly estate: Pick<Estate, 'dialling' | 'trunks' | 'permissions' | 'settings'>;
  /** The permission with which the list is called. */
  readonly permission: string;
  /** Numbers that are never to be called. */
  readonly never: ReadonlySet<E164>;
}

/** Why a number is not called by a round, by permission, trunks and fraud guard; null: it may be. */
export function whyNotCalled(number: E164, { estate, permission, never }: RoundJudge): string | null {
  if (never.has(number)) return 'is on the never-call list';
  const watched = watchedAs(number, estate);
  if (watched !== null)
    return watched === 'premium'
      ? 'is a premium number, which the fraud guard watches'
      : 'begins as the fraud guard watches';
  const given = estate.permissions.find(({ id }) => id === permission);
  if (!given) return 'cannot be called: the permission of this round is gone';
  const may = mayDialBy(given, number, estate);
  return may.ok ? null : may.reason ? NO_WAY_OUT[may.reason] : 'cannot be called';
}

/**
 * Takes up a list of numbers to call: each row with the state it begins in, so that nothing is left out unsaid. A
 * number that stands there twice is called once. A zone is needed in each row: hours are those of the called person.
 */
export function readRoundList(table: Table, judge: RoundJudge): ReadRoundList {
  const columns = roundColumns(table.headings);
  const missing = (['number', 'zone'] as const).filter((column) => columns[column] < 0);
  if (missing.length > 0)
    return {
      ok: false,
      faults: missing.map((column) => ({
        line: 1,
        column: 0,
        message:
          column === 'number'
            ? 'no column is headed "number"'
            : 'no column is headed "zone": the hours of a call are those of the person called',
      })),
    };
  const { dialling } = judge.estate;
  const emergency = new Set(emergencyNumbers(dialling.country));
  const before = new Map<E164, number>();
  const rows = table.rows.map(({ line, cells }): ListRow => {
    const cell = (at: number) => (at < 0 ? '' : (cells[at] ?? '').trim().slice(0, MOST_CELL));
    // A spreadsheet keeps a number as text by an apostrophe before it.
    const shown = cell(columns.number).replace(/^'/, '');
    const zone = cell(columns.zone);
    const base = {
      line,
      shown,
      name: cell(columns.name),
      zone: isZone(zone) ? zone : null,
      fields: fieldsOf(table.headings, cells, columns),
    };
    const bad = (why: string): ListRow => ({ ...base, number: null, state: 'bad-number', why });
    if (emergency.has(bareNumber(shown))) return bad('is an emergency number');
    const read = readNumber(shown, dialling);
    if (!read.ok) return bad(read.reason);
    const number = read.e164;
    if (classOf(number, dialling) === 'bad-number') return bad('the numbering plan has no such number');
    const earlier = before.get(number);
    if (earlier !== undefined)
      return { ...base, number, state: 'refused', why: `stands in line ${earlier} already` };
    before.set(number, line);
    if (base.zone === null)
      return {
        ...base,
        number,
        state: 'refused',
        why: zone === '' ? 'has no time zone' : `"${zone}" is no time zone such as America/Vancouver`,
      };
    const why = whyNotCalled(number, judge);
    if (why === null) return { ...base, number, state: 'waiting', why: '' };
    return { ...base, number, state: judge.never.has(number) ? 'never-call' : 'refused', why };
  });
  return { ok: true, columns, rows };
}

function fieldsOf(
  headings: readonly string[],
  cells: readonly string[],
  columns: RoundColumns,
): Readonly<Record<string, string>> {
  const taken = new Set(Object.values(columns));
  return Object.fromEntries(
    headings
      .map((heading, at) => [heading.slice(0, 60), (cells[at] ?? '').trim().slice(0, MOST_CELL), at] as const)
      .filter(([heading, , at]) => heading !== '' && !taken.has(at))
      .slice(0, FIELDS_KEPT)
      .map(([heading, value]) => [heading, value]),
  );
}
