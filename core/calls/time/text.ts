import {
  WEEKDAYS,
  type Fault,
  type OpenSpan,
  type Schedule,
  type Weekday,
  type WeeklySpan,
} from '../../estate';

type Hours = Pick<Schedule, 'weekly' | 'closed' | 'open'>;
export type ReadHours =
  | { readonly ok: true; readonly hours: Hours }
  | { readonly ok: false; readonly faults: readonly Fault[] };

/** Weekdays with neighbours drawn together: `mon-fri, sun`. */
function sayDays(days: readonly Weekday[]): string {
  const at = WEEKDAYS.map((day) => days.includes(day));
  const parts: string[] = [];
  for (let from = 0; from < 7; from += 1) {
    if (!at[from]) continue;
    let to = from;
    while (at[to + 1]) to += 1;
    parts.push(
      to - from >= 2 ? `${WEEKDAYS[from]}-${WEEKDAYS[to]}` : WEEKDAYS.slice(from, to + 1).join(', '),
    );
    from = to;
  }
  return parts.join(', ');
}

/** A schedule's hours as text, a line for each span and date: `mon-fri 08:00-17:00`, `closed 2026-12-25`. */
export const hoursAsText = ({ weekly, closed, open }: Hours): string =>
  [
    ...weekly.map(({ days, from, to }) => `${sayDays(days)} ${from}-${to}`),
    ...(closed ?? []).map((date) => `closed ${date}`),
    ...(open ?? []).map(({ date, from, to }) => `open ${date} ${from}-${to}`),
  ].join('\n');

const CLOCK = '([01]?\\d|2[0-3]):([0-5]\\d)';
const SPAN = new RegExp(`^${CLOCK}\\s*-\\s*(?:${CLOCK}|24:00)$`);

function readSpan(text: string): { from: string; to: string } | null {
  const found = SPAN.exec(text.trim());
  if (!found) return null;
  const [, fromHour = '', fromMinute = '', toHour, toMinute] = found;
  const pad = (hour: string, minute: string) => `${hour.padStart(2, '0')}:${minute}`;
  return {
    from: pad(fromHour, fromMinute),
    to: toHour === undefined ? '00:00' : pad(toHour, toMinute ?? ''),
  };
}

function readDays(text: string): Weekday[] | null {
  const days: Weekday[] = [];
  for (const part of text.split(',').map((each) => each.trim().toLowerCase())) {
    const [first = '', last = first] = part.split('-').map((each) => each.trim().slice(0, 3));
    const from = WEEKDAYS.indexOf(first as Weekday);
    const to = WEEKDAYS.indexOf(last as Weekday);
    if (from < 0 || to < 0) return null;
    for (let day = from; ; day = (day + 1) % 7) {
      days.push(WEEKDAYS[day]!);
      if (day === to) break;
    }
  }
  return WEEKDAYS.filter((day) => days.includes(day));
}

const isDate = (text: string) => {
  const at = new Date(`${text}T00:00:00Z`);
  return /^\d{4}-\d{2}-\d{2}$/.test(text) && !Number.isNaN(at.getTime()) && at.toISOString().startsWith(text);
};

/**
 * Reads hours as `hoursAsText` writes them. Empty lines and what stands after `#` are passed over; `24:00` ends a day.
 * @returns the hours, or each fault with its line (`line 3`)
 */
export function readHoursText(text: string): ReadHours {
  const weekly: WeeklySpan[] = [];
  const closed: string[] = [];
  const open: OpenSpan[] = [];
  const faults: Fault[] = [];
  text.split(/\r?\n/).forEach((raw, i) => {
    const line = raw.replace(/#.*$/, '').trim();
    const fault = (message: string) => faults.push({ path: `line ${i + 1}`, message });
    if (line === '') return;
    const dated = /^(closed|open)\s+(\S+)\s*(.*)$/i.exec(line);
    if (dated) {
      const [, what = '', date = '', rest = ''] = dated;
      if (!isDate(date)) return void fault(`"${date}" is no date such as 2026-12-25`);
      if (what.toLowerCase() === 'closed')
        return void (rest === '' ? closed.push(date) : fault(`closed dates have no hours: "${rest}"`));
      const span = readSpan(rest);
      return void (span ? open.push({ date, ...span }) : fault(`"${rest}" is no span such as 09:00-12:00`));
    }
    const weeks = /^([^\d]+?)\s+(\d.*)$/.exec(line);
    const days = weeks ? readDays(weeks[1]!) : null;
    const span = weeks ? readSpan(weeks[2]!) : null;
    if (!days) return void fault('begins with days such as mon-fri, or with closed or open and a date');
    if (!span) return void fault(`"${weeks?.[2] ?? ''}" is no span such as 08:00-17:00`);
    weekly.push({ days, ...span });
  });
  if (faults.length > 0) return { ok: false, faults };
  return {
    ok: true,
    hours: { weekly, ...(closed.length ? { closed } : {}), ...(open.length ? { open } : {}) },
  };
}

/** One hour of one weekday turned round: taken into the weekly spans, or out of them. */
export function toggleHour({ weekly, ...dates }: Hours, day: Weekday, hour: number): Hours {
  const inDay = weekly
    .filter(({ days }) => days.includes(day))
    .map(({ from, to }) => [minutes(from), minutes(to)] as const);
  const covered = inDay.some(([from, to]) => from <= hour * 60 && (to > hour * 60 || to <= from));
  const span: readonly [number, number] = [hour * 60, hour * 60 + 60];
  const after = covered ? inDay.flatMap((each) => without(each, span)) : joined([...inDay, span]);
  const others = weekly.flatMap(({ days, from, to }): WeeklySpan[] => {
    const rest = days.filter((each) => each !== day);
    return rest.length ? [{ days: rest, from, to }] : [];
  });
  return {
    ...dates,
    weekly: together([
      ...others,
      ...after.map(([from, to]) => ({ days: [day], from: clock(from), to: clock(to) })),
    ]),
  };
}

const minutes = (hhmm: string) => Number(hhmm.slice(0, 2)) * 60 + Number(hhmm.slice(3));
const clock = (at: number) =>
  `${String(Math.floor(at / 60) % 24).padStart(2, '0')}:${String(at % 60).padStart(2, '0')}`;
const endOf = ([from, to]: readonly [number, number]) => (to <= from ? to + 1440 : to);

function without(
  each: readonly [number, number],
  [from, to]: readonly [number, number],
): (readonly [number, number])[] {
  const end = endOf(each);
  if (to <= each[0] || from >= end) return [each];
  return [
    ...(each[0] < from ? [[each[0], from] as const] : []),
    ...(end > to ? [[to, end > 1440 ? end - 1440 : end] as const] : []),
  ];
}

function joined(spans: readonly (readonly [number, number])[]): (readonly [number, number])[] {
  const sorted = spans.map((span) => [span[0], endOf(span)] as const).sort((a, b) => a[0] - b[0]);
  const out: [number, number][] = [];
  for (const [from, to] of sorted) {
    const last = out.at(-1);
    if (last && from <= last[1]) last[1] = Math.max(last[1], to);
    else out.push([from, to]);
  }
  return out.map(([from, to]) => [from, to > 1440 ? to - 1440 : to] as const);
}

/** Spans of the same times put together under all their days. */
function together(spans: readonly WeeklySpan[]): WeeklySpan[] {
  const byTimes = new Map<string, Set<Weekday>>();
  for (const { days, from, to } of spans) {
    const key = `${from} ${to}`;
    const known = byTimes.get(key) ?? new Set<Weekday>();
    for (const day of days) known.add(day);
    byTimes.set(key, known);
  }
  return [...byTimes].map(([key, days]) => {
    const [from = '', to = ''] = key.split(' ');
    return { days: WEEKDAYS.filter((day) => days.has(day)), from, to };
  });
}
