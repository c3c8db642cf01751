import Papa from 'papaparse';
import type { PlacedFault } from './text-file';

/** A table as it was read: the headings, and the rows with the line of the file each begins on. */
export interface Table {
  readonly delimiter: string;
  readonly headings: readonly string[];
  readonly rows: readonly TableRow[];
}

export interface TableRow {
  readonly line: number;
  readonly cells: readonly string[];
}

export type ReadTable =
  | { readonly ok: true; readonly table: Table }
  | { readonly ok: false; readonly faults: readonly PlacedFault[] };

export interface TableLimits {
  readonly columns: number;
  readonly rows: number;
}

export const TABLE_LIMITS: TableLimits = { columns: 100, rows: 20_000 };
/** Of a list of everybody. */
export const STAFF_LIMITS: TableLimits = { ...TABLE_LIMITS, rows: 100_000 };
/** Lines looked at for each row that may be read: some are empty. */
const LINES_PER_ROW = 2;
const DELIMITERS = [',', ';', '\t', '|'];

const newlines = (text: string) => {
  let count = 0;
  for (let at = text.indexOf('\n'); at >= 0; at = text.indexOf('\n', at + 1)) count += 1;
  return count;
};

const fault = (line: number, column: number, message: string): ReadTable => ({
  ok: false,
  faults: [{ line, column, message }],
});

/**
 * Reads delimiter-separated values (RFC 4180; comma, semicolon, tab or bar, told by the text itself) with one line of
 * headings.
 */
export function readCsv(text: string, limits: TableLimits = TABLE_LIMITS): ReadTable {
  // Line ends may differ within one file.
  const body = text.replace(/^\uFEFF/, '').replace(/\r\n?/g, '\n');
  if (body.trim() === '') return fault(0, 0, 'there is nothing in it');
  // More than so many lines are not looked at: how many cells they hold is bounded by how long the text may be.
  const parsed = Papa.parse<string[]>(body, {
    delimitersToGuess: DELIMITERS,
    skipEmptyLines: false,
    preview: limits.rows * LINES_PER_ROW + 2,
  });
  const widest = parsed.data.find((row) => row.length > limits.columns);
  const lines: number[] = [];
  let line = 1;
  for (const row of parsed.data) {
    lines.push(line);
    line += 1 + row.reduce((sum, cell) => sum + newlines(cell), 0);
  }
  const broken = parsed.errors.filter((error) => error.type === 'Quotes');
  if (broken.length > 0)
    return {
      ok: false,
      faults: broken.slice(0, 20).map((error) => ({
        line: lines[error.row ?? 0] ?? 1,
        column: parsed.data[error.row ?? 0]?.length ?? 1,
        message:
          error.code === 'MissingQuotes'
            ? 'a quote is opened and never closed'
            : 'a quote stands in the middle of a cell; write it twice, or close the cell before it',
      })),
    };
  const [headings = [], ...data] = parsed.data;
  const delimiter = parsed.meta.delimiter;
  const hasMore = parsed.meta.truncated;
  if (headings.length > limits.columns)
    return fault(
      1,
      limits.columns + 1,
      `there are ${headings.length} columns; ${limits.columns} is the most that is read`,
    );
  const rows = data
    .map((cells, i) => ({ line: lines[i + 1] ?? i + 2, cells }))
    .filter(({ cells }) => cells.some((cell) => cell.trim() !== ''));
  if (widest)
    return fault(
      lines[parsed.data.indexOf(widest)] ?? 0,
      limits.columns + 1,
      `there are ${widest.length} columns; ${limits.columns} is the most that is read`,
    );
  if (rows.length > limits.rows || hasMore)
    return fault(
      rows[limits.rows]?.line ?? 0,
      0,
      `there are ${hasMore ? `more than ${limits.rows}` : rows.length} rows; ${limits.rows} is the most that is read at once`,
    );
  const twice = headings.findIndex(
    (h, i) => h.trim() !== '' && headings.findIndex((g) => sameHeading(g, h)) < i,
  );
  if (twice >= 0) return fault(1, twice + 1, `the heading "${headings[twice]}" stands there twice`);
  return { ok: true, table: { delimiter, headings: headings.map((h) => h.trim()), rows } };
}

const sameHeading = (a: string, b: string) => a.trim().toLowerCase() === b.trim().toLowerCase();

/** A cell that a spreadsheet would take for a formula gets an apostrophe before it; an E.164 number stays as text. */
export const safeCell = (cell: string): string =>
  /^[=+\-@\t\r]/.test(cell) && !/^\+\d{5,18}$/.test(cell) ? `'${cell}` : cell;

/** Writes a table as CSV (RFC 4180: commas, CR LF, quotes where needed) without cells that act as formulas. */
export const writeCsv = (headings: readonly string[], rows: readonly (readonly string[])[]): string =>
  Papa.unparse(
    { fields: headings.map(safeCell), data: rows.map((row) => row.map(safeCell)) },
    { newline: '\r\n' },
  ) + '\r\n';

/** Rows alone, to go on from what was written before. */
export const writeCsvRows = (rows: readonly (readonly string[])[]): string =>
  rows.length === 0
    ? ''
    : `${Papa.unparse(
        rows.map((row) => row.map(safeCell)),
        { newline: '\r\n' },
      )}\r\n`;
