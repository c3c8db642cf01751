import { Zone } from 'luxon';
import table from './table.json';

/** The release of IANA's time zone database that all of the application reads, e.g. `2026f`. */
export const ZONES_VERSION: string = table.version;

const MINUTE_MS = 60_000;
const DAY_MS = 86_400_000;
/** From when on the table has changes; a moment before it is taken as one at it. */
const FROM_MS = Date.UTC(1990, 0, 1);

/** A day of every year on which the offset changes, and the minute of it by the clock of before. */
interface Yearly {
  readonly month: number;
  readonly weekday: number;
  /** It is the first such weekday from this day of the month on. */
  readonly firstDay: number;
  readonly minute: number;
  readonly before: number;
  readonly after: number;
}

interface ZoneEntry {
  /** Instants at which the offset changes, ms since 1970. */
  readonly changes: readonly number[];
  /** Minutes from UTC before the first change, after it, and so on. */
  readonly offsets: readonly number[];
  /** How it goes on after the last change; empty: it does not change any more. */
  readonly yearly: readonly Yearly[];
}

/** The instant at which a change of every year comes in one year. */
function changeIn(year: number, { month, weekday, firstDay, minute, before }: Yearly): number {
  const first = Date.UTC(year, month, firstDay);
  const wait = (weekday - new Date(first).getUTCDay() + 7) % 7;
  return first + wait * DAY_MS + (minute - before) * MINUTE_MS;
}

function readEntry(packed: string): ZoneEntry {
  const [offsetText = '', turns = '', gaps = '', goesOn] = packed.split('|');
  const known = offsetText.split(' ').map(Number);
  const offsets = [...turns].map((digit) => known[parseInt(digit, 36)]!);
  let at = FROM_MS;
  const changes = gaps === '' ? [] : gaps.split(' ').map((gap) => (at += parseInt(gap, 36) * MINUTE_MS));
  const yearly = (goesOn?.split(',') ?? []).map((rule): Yearly => {
    const [month, weekday, firstDay, minute, before, after] = rule.split(' ').map(Number);
    return {
      month: month!,
      weekday: weekday!,
      firstDay: firstDay!,
      minute: minute!,
      before: before!,
      after: after!,
    };
  });
  return { changes, offsets, yearly };
}

function offsetIn({ changes, offsets, yearly }: ZoneEntry, ms: number): number {
  const last = changes.at(-1);
  if (last !== undefined && ms >= last && yearly.length > 0) {
    const year = new Date(ms).getUTCFullYear();
    let offset = offsets.at(-1)!;
    for (const each of [year - 1, year, year + 1])
      for (const change of yearly) {
        const at = changeIn(each, change);
        if (at > last && at <= ms) offset = change.after;
      }
    return offset;
  }
  let low = 0;
  let high = changes.length;
  while (low < high) {
    const middle = (low + high) >> 1;
    if (changes[middle]! <= ms) low = middle + 1;
    else high = middle;
  }
  return offsets[low]!;
}

const zones: Readonly<Record<string, string>> = table.zones;
const links: Readonly<Record<string, string>> = table.links;
/** Names in small letters, as somebody may have written them, to how the table has them. */
const names = new Map(
  [...Object.keys(zones), ...Object.keys(links)].map((name) => [name.toLowerCase(), name]),
);

const two = (n: number) => String(n).padStart(2, '0');
function written(minutes: number, format: 'narrow' | 'short' | 'techie'): string {
  const sign = minutes < 0 ? '-' : '+';
  const hours = Math.floor(Math.abs(minutes) / 60);
  const rest = Math.abs(minutes) % 60;
  if (format === 'narrow') return `${sign}${hours}${rest ? `:${two(rest)}` : ''}`;
  return `${sign}${two(hours)}${format === 'short' ? ':' : ''}${two(rest)}`;
}

/** A time zone by the table, for the library of dates. */
class TableZone extends Zone {
  constructor(
    private readonly of: string,
    private readonly entry: ZoneEntry,
  ) {
    super();
  }
  override get name(): string {
    return this.of;
  }
  override get type(): string {
    return 'table';
  }
  get ianaName(): string {
    return this.of;
  }
  override get isUniversal(): boolean {
    return this.entry.changes.length === 0;
  }
  override get isValid(): boolean {
    return true;
  }
  override offset(ms: number): number {
    return offsetIn(this.entry, ms);
  }
  override offsetName(ms: number): string {
    return `UTC${written(this.offset(ms), 'short')}`;
  }
  override formatOffset(ms: number, format: 'narrow' | 'short' | 'techie'): string {
    return written(this.offset(ms), format);
  }
  override equals(other: Zone): boolean {
    return other.type === this.type && other.name === this.name;
  }
}

const made = new Map<string, Zone>();

/** Whether a name is that of a time zone in the table, in whatever case it is written. */
export const isZone = (name: string): boolean => names.has(name.toLowerCase());

/**
 * A time zone of IANA's database by its name. Everywhere a zone is needed it comes from here, so that browser, server,
 * command line and stand-ins agree about the clock, whatever the machines that they run on know of it.
 * @throws where the table has no such zone
 */
export function zoneNamed(name: string): Zone {
  const known = made.get(name);
  if (known) return known;
  const proper = names.get(name.toLowerCase());
  const packed = proper === undefined ? undefined : zones[links[proper] ?? proper];
  if (proper === undefined || packed === undefined) throw new Error(`no such time zone: ${name}`);
  const zone = new TableZone(proper, readEntry(packed));
  made.set(name, zone);
  return zone;
}

/** The instants in [fromMs, toMs) at which a zone's offset changes. */
export function offsetChanges(zone: Zone, fromMs: number, toMs: number): number[] {
  const changes: number[] = [];
  for (let day = fromMs; day < toMs; day += DAY_MS) {
    let before = day;
    let after = Math.min(day + DAY_MS, toMs);
    if (zone.offset(before) === zone.offset(after)) continue;
    while (after - before > 1) {
      const middle = Math.floor((before + after) / 2);
      if (zone.offset(middle) === zone.offset(before)) before = middle;
      else after = middle;
    }
    changes.push(after);
  }
  return changes;
}
