import type { Dialling } from '../estate';
import { bareNumber, readNumber } from '../calls/dialling';
import { readCsv } from './csv';
import { looksLikeLdif, readLdif } from './ldif';
import type { PlacedFault } from './text-file';

/** The most numbers that a list can have. */
export const MOST_LISTED = 200_000;

/** Something in a file that could be the number meant: a column of a table, an attribute of a directory. */
export interface NumberField {
  readonly name: string;
  /** How many of its values read as numbers. */
  readonly numbers: number;
}
export interface NumberListFile {
  readonly format: 'csv' | 'ldif';
  /** Rows of a table or entries of a directory. */
  readonly records: number;
  readonly fields: readonly NumberField[];
  readonly field: string;
  /** E.164, each once, in the order of the file. */
  readonly numbers: readonly string[];
  readonly repeated: number;
  /** Values that are no numbers, the first of them with their lines. */
  readonly refused: number;
  readonly refusals: readonly { readonly line: number; readonly text: string; readonly reason: string }[];
}
export type ReadNumberList =
  | { readonly ok: true; readonly list: NumberListFile }
  | { readonly ok: false; readonly faults: readonly PlacedFault[] };

interface Value {
  readonly field: string;
  readonly text: string;
  readonly line: number;
}
interface Values {
  readonly format: 'csv' | 'ldif';
  readonly records: number;
  readonly fields: readonly string[];
  readonly values: readonly Value[];
}

const MOST_REFUSALS = 50;
/** How many values of each field are looked at to guess which one has the numbers. */
const LOOKED_AT = 200;

/** Reads many texts as numbers; those that are E.164 already are not looked up in the numbering plan. */
function numberReader(dialling: Dialling): (text: string) => ReturnType<typeof readNumber> | string {
  return (text) => {
    const bare = bareNumber(text);
    return /^\+[1-9]\d{6,14}$/.test(bare) ? bare : readNumber(text, dialling);
  };
}

function valuesOf(text: string): Values | { readonly faults: readonly PlacedFault[] } {
  if (looksLikeLdif(text)) {
    const read = readLdif(text);
    if (!read.ok) return read;
    const values = read.entries.flatMap(({ attributes }) =>
      attributes.map(({ name, value, line }) => ({ field: name, text: value, line })),
    );
    return {
      format: 'ldif',
      records: read.entries.length,
      fields: [...new Set(values.map(({ field }) => field))],
      values,
    };
  }
  // A list may be numbers alone, one on each line, without a heading.
  const first =
    text
      .slice(0, 200)
      .replace(/^\uFEFF/, '')
      .split(/\r?\n|\r/)[0] ?? '';
  const bare = /^[\s"']*\+?[\d\s().\-/]{5,}["'\s]*$/.test(first);
  const read = readCsv(bare ? `number\n${text.replace(/^\uFEFF/, '')}` : text, {
    columns: 100,
    rows: MOST_LISTED,
  });
  if (!read.ok) return read;
  const { headings, rows } = read.table;
  const fields = headings.map((heading, at) => heading || `column ${at + 1}`);
  return {
    format: 'csv',
    records: rows.length,
    fields,
    values: rows.flatMap(({ cells, line }) =>
      cells.flatMap((cell, at) =>
        cell.trim() === ''
          ? []
          : [{ field: fields[at] ?? `column ${at + 1}`, text: cell, line: bare ? line - 1 : line }],
      ),
    ),
  };
}

/**
 * Reads a list of numbers from CSV (RFC 4180, or just a number on each line) or LDIF (RFC 2849).
 * @param field the column or attribute that has them; left out: the one that has most
 */
export function readNumberList(text: string, dialling: Dialling, field?: string): ReadNumberList {
  const found = valuesOf(text);
  if ('faults' in found) return { ok: false, faults: found.faults };
  const read = numberReader(dialling);
  const isNumber = (value: string) => {
    const number = read(value);
    return typeof number === 'string' || number.ok;
  };
  const looked = new Map<string, { seen: number; numbers: number; all: number }>();
  for (const { field: name, text: value } of found.values) {
    const count = looked.get(name) ?? { seen: 0, numbers: 0, all: 0 };
    looked.set(name, count);
    count.all += 1;
    if (count.seen >= LOOKED_AT) continue;
    count.seen += 1;
    if (isNumber(value)) count.numbers += 1;
  }
  const fields = found.fields
    .map((name): NumberField => {
      const { seen, numbers, all } = looked.get(name) ?? { seen: 1, numbers: 0, all: 0 };
      return { name, numbers: Math.round((numbers / seen) * all) };
    })
    .filter(({ numbers }) => numbers > 0)
    .sort((a, b) => b.numbers - a.numbers);
  const chosen = field?.toLowerCase();
  const known =
    chosen === undefined ? fields[0]?.name : found.fields.find((name) => name.toLowerCase() === chosen);
  if (known === undefined)
    return {
      ok: false,
      faults: [
        {
          line: 0,
          column: 0,
          message:
            field === undefined ? 'there is no number in it' : `there is nothing called "${field}" in it`,
        },
      ],
    };
  const numbers = new Set<string>();
  const refusals: { line: number; text: string; reason: string }[] = [];
  let refused = 0;
  let repeated = 0;
  for (const value of found.values) {
    if (value.field !== known) continue;
    const number = read(value.text);
    const e164 = typeof number === 'string' ? number : number.ok ? number.e164 : null;
    if (e164 === null) {
      refused += 1;
      if (refusals.length < MOST_REFUSALS && typeof number !== 'string' && !number.ok)
        refusals.push({ line: value.line, text: value.text.slice(0, 60), reason: number.reason });
    } else if (numbers.has(e164)) repeated += 1;
    else numbers.add(e164);
  }
  if (numbers.size > MOST_LISTED)
    return {
      ok: false,
      faults: [{ line: 0, column: 0, message: `there are more than ${MOST_LISTED} numbers in it` }],
    };
  const { format, records } = found;
  return {
    ok: true,
    list: { format, records, fields, field: known, numbers: [...numbers], repeated, refused, refusals },
  };
}

/** What replacing a list by another changes. */
export function listDifference(
  before: readonly string[],
  after: readonly string[],
): { readonly added: readonly string[]; readonly removed: readonly string[]; readonly kept: number } {
  const [was, is] = [new Set(before), new Set(after)];
  const added = after.filter((number) => !was.has(number));
  return { added, removed: before.filter((number) => !is.has(number)), kept: is.size - added.length };
}
