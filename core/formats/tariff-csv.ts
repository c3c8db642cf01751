import type { Tariff, TariffLine } from '../records';
import { readCsv } from './csv';
import type { PlacedFault } from './text-file';

export type ReadTariff =
  | { readonly ok: true; readonly tariff: Tariff }
  | { readonly ok: false; readonly faults: readonly PlacedFault[] };

const FIELDS = {
  prefix: ['prefix', 'digits', 'destination code'],
  name: ['name', 'destination', 'description'],
  perMinute: ['per minute', 'minute', 'price per minute', 'rate'],
  perCall: ['per call', 'call', 'price per call', 'set up', 'connection'],
  first: ['first interval', 'first', 'first interval s', 'first s'],
  next: ['next interval', 'next', 'next interval s', 'next s', 'interval'],
  from: ['from', 'from date', 'from a date', 'since', 'valid from'],
  trunk: ['trunk'],
  currency: ['currency'],
} as const;
type TariffField = keyof typeof FIELDS;
const NEEDED: readonly TariffField[] = ['prefix', 'perMinute'];
const LIMITS = { columns: 40, rows: 200_000 };
const MOST_FAULTS = 50;
/** Money is read with five figures after the point: in hundred-thousandths. */
const MONEY = /^(\d{1,9})(?:[.,](\d{1,5}))?$/;

const plain = (heading: string) =>
  heading
    .trim()
    .replace(/([a-z])([A-Z])/g, '$1 $2')
    .toLowerCase()
    .replace(/[_\-()]+/g, ' ')
    .replace(/\s+/g, ' ')
    .trim();

/** A sum of money in hundred-thousandths; null where it is none, or has more figures than that. */
export function readMoney(text: string): number | null {
  const match = MONEY.exec(text.trim());
  return match ? Number(match[1]) * 100_000 + Number((match[2] ?? '').padEnd(5, '0')) : null;
}
const isDate = (text: string) =>
  /^\d{4}-\d{2}-\d{2}$/.test(text) &&
  !Number.isNaN(Date.parse(`${text}T00:00:00Z`)) &&
  new Date(`${text}T00:00:00Z`).toISOString().startsWith(text);

/**
 * Reads a tariff (CSV): prefix, name, per minute, per call, first interval, next interval (s), from (a date), trunk,
 * currency (ISO 4217, one for the whole file). What is left out: no name, nothing per call, 1 s and 1 s, from the
 * beginning, any trunk. Errors: line, column and what is wrong; a prefix that stands twice for one date and trunk.
 */
export function readTariff(text: string, currency = 'CAD'): ReadTariff {
  const read = readCsv(text, LIMITS);
  if (!read.ok) return read;
  const { headings, rows } = read.table;
  const columns: Partial<Record<TariffField, number>> = {};
  for (const field of Object.keys(FIELDS) as TariffField[]) {
    const at = headings.findIndex((heading) => (FIELDS[field] as readonly string[]).includes(plain(heading)));
    if (at >= 0) columns[field] = at;
  }
  const faults: PlacedFault[] = NEEDED.filter((field) => columns[field] === undefined).map((field) => ({
    line: 1,
    column: 0,
    message: `there is no column “${FIELDS[field][0]}”`,
  }));
  if (faults.length > 0) return { ok: false, faults };
  const lines: TariffLine[] = [];
  const seen = new Map<string, number>();
  let said: string | null = null;
  for (const { line, cells } of rows) {
    const cell = (field: TariffField) => (cells[columns[field] ?? -1] ?? '').trim();
    const say = (field: TariffField, message: string) =>
      faults.push({ line, column: (columns[field] ?? -1) + 1, message });
    const money = (field: TariffField) => {
      const value = cell(field) === '' && field === 'perCall' ? 0 : readMoney(cell(field));
      if (value === null)
        say(field, 'must be a sum such as 0.0125, with five figures after the point at most');
      return value ?? 0;
    };
    const seconds = (field: TariffField, other: number) => {
      const written = cell(field);
      if (written === '') return other;
      if (!/^\d{1,5}$/.test(written) || Number(written) < 1) say(field, 'must be whole seconds, 1 or more');
      return Number(written);
    };
    const digits = cell('prefix').replace(/^\+/, '');
    if (!/^\d{1,15}$/.test(digits)) say('prefix', 'must be the first digits of E.164 numbers, such as +1604');
    const from = cell('from');
    if (from !== '' && !isDate(from)) say('from', 'must be a date YYYY-MM-DD');
    const money4217 = cell('currency');
    if (money4217 !== '' && !/^[A-Z]{3}$/.test(money4217))
      say('currency', 'must be a currency of ISO 4217, such as CAD');
    else if (money4217 !== '' && said !== null && said !== money4217)
      say('currency', `must be ${said}, as above: one currency for the file`);
    else if (money4217 !== '') said = money4217;
    const first = seconds('first', 1);
    const each: TariffLine = {
      prefix: `+${digits}`,
      name: cell('name'),
      perMinute: money('perMinute'),
      perCall: money('perCall'),
      firstS: first,
      nextS: seconds('next', first),
      from: from === '' ? null : from,
      trunk: cell('trunk') || null,
    };
    const key = [each.prefix, each.from ?? '', each.trunk ?? ''].join(' ');
    const before = seen.get(key);
    if (before !== undefined)
      say('prefix', `${each.prefix} stands in line ${before} already, from the same date`);
    else seen.set(key, line);
    lines.push(each);
    if (faults.length >= MOST_FAULTS) break;
  }
  return faults.length > 0
    ? { ok: false, faults: faults.slice(0, MOST_FAULTS) }
    : { ok: true, tariff: { currency: said ?? currency, lines } };
}
