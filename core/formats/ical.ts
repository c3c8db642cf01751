import ICAL from 'ical.js';
import { DateTime } from 'luxon';
import { WEEKDAYS, type Fault, type OpenSpan, type Schedule, type Weekday, type WeeklySpan } from '../estate';
import { isZone, offsetChanges, zoneNamed } from '../zones';

/** Schedules as iCalendar (RFC 5545): weekly spans as recurring events, extra opening as single ones. */
const BYDAY: Record<Weekday, string> = {
  mon: 'MO',
  tue: 'TU',
  wed: 'WE',
  thu: 'TH',
  fri: 'FR',
  sat: 'SA',
  sun: 'SU',
};
const dayOf = (byday: string): Weekday | undefined => WEEKDAYS.find((day) => BYDAY[day] === byday);
const CLOSED = 'X-HOSTLER-CLOSED';
const DAY_MS = 86_400_000;
const YEARS = 3;

/** A date and time of day as it is written in a calendar, without a zone. */
const timeOf = (date: string, hhmm: string) => ICAL.Time.fromDateTimeString(`${date}T${hhmm}:00`);
const offsetOf = (minutes: number) => ICAL.UtcOffset.fromSeconds(minutes * 60);

function zoneComponent(timeZone: string, fromMs: number): ICAL.Component {
  const zone = zoneNamed(timeZone);
  const all = new ICAL.Component('vtimezone');
  all.addPropertyWithValue('tzid', timeZone);
  const observance = (name: string, atMs: number, before: number, after: number, local: string) => {
    const one = new ICAL.Component(name);
    one.addPropertyWithValue('dtstart', ICAL.Time.fromDateTimeString(local));
    one.addPropertyWithValue('tzoffsetfrom', offsetOf(before));
    one.addPropertyWithValue('tzoffsetto', offsetOf(after));
    one.addPropertyWithValue(
      'tzname',
      (zone.offsetName(atMs, { format: 'short', locale: 'en' }) ?? '').replace(/[^\w+-]/g, ''),
    );
    all.addSubcomponent(one);
  };
  const first = zone.offset(fromMs);
  observance('standard', fromMs, first, first, '1970-01-01T00:00:00');
  for (const at of offsetChanges(zone, fromMs, fromMs + YEARS * 366 * DAY_MS)) {
    const before = zone.offset(at - 1);
    const after = zone.offset(at);
    const local = DateTime.fromMillis(at + before * 60_000, { zone: 'utc' }).toFormat(
      "yyyy-MM-dd'T'HH:mm:ss",
    );
    observance(after > before ? 'daylight' : 'standard', at, before, after, local);
  }
  return all;
}

const nextDay = (date: string) =>
  DateTime.fromISO(date, { zone: 'utc' }).plus({ days: 1 }).toISODate() ?? date;
const weekdayOf = (date: string) => WEEKDAYS[DateTime.fromISO(date, { zone: 'utc' }).weekday - 1]!;

/**
 * A schedule as an iCalendar object.
 * @param fromDate the date ("YYYY-MM-DD") from which its weekly events recur
 */
export function writeICalendar(schedule: Schedule, fromDate: string): string {
  const zone = schedule.timeZone;
  const calendar = new ICAL.Component('vcalendar');
  calendar.addPropertyWithValue('version', '2.0');
  calendar.addPropertyWithValue('prodid', '-//Hostler//Hours//EN');
  for (const date of schedule.closed ?? []) {
    const closed = new ICAL.Property(CLOSED.toLowerCase());
    closed.resetType('date');
    closed.setValue(ICAL.Time.fromDateString(date));
    calendar.addProperty(closed);
  }
  calendar.addSubcomponent(
    zoneComponent(zone, DateTime.fromISO(fromDate, { zone: zoneNamed(zone) }).toMillis()),
  );
  const event = (uid: string, date: string, from: string, to: string): ICAL.Component => {
    const one = new ICAL.Component('vevent');
    one.addPropertyWithValue('uid', `${schedule.id}-${uid}`);
    one.addPropertyWithValue('dtstamp', ICAL.Time.fromDateTimeString(`${fromDate}T00:00:00Z`));
    one.addPropertyWithValue('dtstart', timeOf(date, from)).setParameter('tzid', zone);
    one
      .addPropertyWithValue('dtend', timeOf(to <= from ? nextDay(date) : date, to))
      .setParameter('tzid', zone);
    one.addPropertyWithValue('summary', schedule.name);
    calendar.addSubcomponent(one);
    return one;
  };
  schedule.weekly.forEach(({ days, from, to }, i) => {
    if (days.length === 0) return;
    let date = fromDate;
    while (!days.includes(weekdayOf(date))) date = nextDay(date);
    const weekly = event(`weekly-${i}`, date, from, to);
    const byday = WEEKDAYS.filter((day) => days.includes(day)).map((day) => BYDAY[day]);
    weekly.addPropertyWithValue('rrule', ICAL.Recur.fromData({ freq: 'WEEKLY', byday }));
    for (const out of (schedule.closed ?? []).filter((each) => days.includes(weekdayOf(each))))
      weekly.addPropertyWithValue('exdate', timeOf(out, from)).setParameter('tzid', zone);
  });
  (schedule.open ?? []).forEach(({ date, from, to }, i) => void event(`open-${i}`, date, from, to));
  return `${calendar.toString()}\r\n`;
}

export type ReadCalendar =
  | {
      readonly ok: true;
      readonly hours: Pick<Schedule, 'timeZone' | 'weekly' | 'closed' | 'open'>;
      /** What could not be carried over, or only in part. */
      readonly notes: readonly string[];
    }
  | { readonly ok: false; readonly faults: readonly Fault[] };

const MOST_BYTES = 4 << 20;
const MOST_EVENTS = 5000;
const MOST_OCCURRENCES = 400;
const HORIZON_DAYS = 400;
/** Holidays that come each year are written out for ten. */
const YEARLY_DAYS = 3653;

interface Into {
  readonly weekly: WeeklySpan[];
  readonly closed: Set<string>;
  readonly open: OpenSpan[];
  readonly notes: string[];
  timeZone: string | null;
}

const two = (n: number) => String(n).padStart(2, '0');
const dateText = (t: ICAL.Time) => `${t.year}-${two(t.month)}-${two(t.day)}`;
const clockText = (t: ICAL.Time) => `${two(t.hour)}:${two(t.minute)}`;

/** The place in the text of a line that cannot be read. */
function lineOf(text: string, part: string): number {
  const at = part ? text.split(/\r?\n/).findIndex((line) => line.includes(part)) : -1;
  return at + 1;
}

/**
 * Reads an iCalendar object as hours: timed events that recur weekly or daily without end are weekly spans, other
 * timed events extra opening, all-day events closed dates. Recurrences of other kinds are written out for 400 days, holidays that come
 * each year for ten years.
 * @param fallbackZone IANA zone of events that name none
 * @param fromDate the date from which recurrences are written out
 */
export function readICalendar(text: string, fallbackZone: string, fromDate: string): ReadCalendar {
  const fault = (path: string, message: string): ReadCalendar => ({ ok: false, faults: [{ path, message }] });
  if (text.length > MOST_BYTES) return fault('', 'is larger than 4 MiB');
  let calendar: ICAL.Component;
  try {
    const parsed: unknown = ICAL.parse(text);
    calendar = new ICAL.Component(
      (Array.isArray((parsed as unknown[])[0]) ? (parsed as unknown[])[0] : parsed) as unknown[],
    );
  } catch (error) {
    const message = error instanceof Error ? error.message : String(error);
    const line = lineOf(text, /"([^"]+)"\s*$/.exec(message)?.[1] ?? '');
    return fault(line ? `line ${line}` : '', `is no iCalendar: ${message}`);
  }
  if (calendar.name !== 'vcalendar') return fault('', 'has no VCALENDAR');
  const events = calendar.getAllSubcomponents('vevent');
  if (events.length > MOST_EVENTS) return fault('', `has more than ${MOST_EVENTS} events`);
  const into: Into = { weekly: [], closed: new Set(), open: [], notes: [], timeZone: null };
  for (const property of calendar.getAllProperties(CLOSED.toLowerCase())) {
    const date = String(property.getFirstValue()).replace(/^(\d{4})-?(\d{2})-?(\d{2})$/, '$1-$2-$3');
    if (/^\d{4}-\d{2}-\d{2}$/.test(date)) into.closed.add(date);
  }
  for (const event of events) takeEvent(event, fallbackZone, fromDate, into);
  const { weekly, closed, open, notes } = into;
  return {
    ok: true,
    notes,
    hours: {
      timeZone: into.timeZone ?? fallbackZone,
      weekly,
      ...(closed.size ? { closed: [...closed].sort() } : {}),
      ...(open.length ? { open } : {}),
    },
  };
}

function takeEvent(event: ICAL.Component, fallbackZone: string, fromDate: string, into: Into): void {
  const name = String(
    event.getFirstPropertyValue('summary') ?? event.getFirstPropertyValue('uid') ?? 'an event',
  );
  const note = (what: string) => into.notes.push(`“${name}”: ${what}`);
  const startProperty = event.getFirstProperty('dtstart');
  const start = startProperty?.getFirstValue() as ICAL.Time | null | undefined;
  if (!startProperty || !start) return void note('has no start');
  const rule = event.getFirstPropertyValue('rrule') as ICAL.Recur | null;
  if (start.isDate) return takeDates(event, start, rule, fromDate, into, note);

  const named = startProperty.getParameter('tzid');
  const zone = typeof named === 'string' ? named : start.zone?.tzid === 'UTC' ? 'UTC' : fallbackZone;
  if (!isZone(zone)) return void note(`is in a zone that is not known (${zone})`);
  into.timeZone ??= zone;
  if (zone !== into.timeZone)
    return void note(`is in another zone (${zone}) than the first, and was left out`);
  const span = spanOf(event, start);
  if (!span) return void note('lasts no time, or longer than a day, and was left out');
  if (!rule) return void into.open.push({ date: dateText(start), ...span });

  const days = weeklyDays(rule, start);
  if (days) {
    into.weekly.push({ days, ...span });
    for (const out of event.getAllProperties('exdate'))
      for (const value of out.getValues()) into.closed.add(dateText(value as ICAL.Time));
    return;
  }
  const left = writeOut(rule, start, fromDate, (date) => into.open.push({ date, ...span }));
  note(
    left
      ? `recurs in a way that hours do not know; written out for ${HORIZON_DAYS} days`
      : 'its recurrence was written out',
  );
}

/** The weekdays of a recurrence that goes on every week without end; null for any other. */
function weeklyDays(rule: ICAL.Recur, start: ICAL.Time): Weekday[] | null {
  if (rule.interval > 1 || rule.count || rule.until) return null;
  const { BYDAY: byday, ...others } = rule.parts as Record<string, unknown[] | undefined>;
  if (Object.keys(others).length > 0) return null;
  if (rule.freq === 'DAILY' && !byday) return [...WEEKDAYS];
  if (rule.freq !== 'WEEKLY' && rule.freq !== 'DAILY') return null;
  const days = byday ? byday.map((each) => dayOf(String(each))) : [WEEKDAYS[(start.dayOfWeek() + 5) % 7]];
  return days.every((day) => day !== undefined) ? WEEKDAYS.filter((day) => days.includes(day)) : null;
}

/** From when to when an event lasts, "HH:MM"; null if that is more than a day, or nothing. */
function spanOf(event: ICAL.Component, start: ICAL.Time): { from: string; to: string } | null {
  const end = event.getFirstPropertyValue('dtend') as ICAL.Time | null;
  const duration = event.getFirstPropertyValue('duration') as ICAL.Duration | null;
  const seconds = end
    ? DateTime.fromISO(`${dateText(end)}T${clockText(end)}`, { zone: 'utc' }).toSeconds() -
      DateTime.fromISO(`${dateText(start)}T${clockText(start)}`, { zone: 'utc' }).toSeconds()
    : (duration?.toSeconds() ?? 0);
  if (seconds <= 0 || seconds > 86_400) return null;
  const [hour = 0, minute = 0] = clockText(start).split(':').map(Number);
  const to = hour * 60 + minute + Math.round(seconds / 60);
  return { from: clockText(start), to: `${two(Math.floor(to / 60) % 24)}:${two(to % 60)}` };
}

/** Tells each date of a recurrence within the horizon; true if the recurrence goes on after it. */
function writeOut(
  rule: ICAL.Recur,
  start: ICAL.Time,
  fromDate: string,
  tell: (date: string) => void,
  days = HORIZON_DAYS,
): boolean {
  const last = DateTime.fromISO(fromDate, { zone: 'utc' }).plus({ days }).toISODate() ?? fromDate;
  const iterator = rule.iterator(start);
  let told = 0;
  for (let steps = 0; steps < 20_000; steps += 1) {
    const next = iterator.next() as ICAL.Time | null;
    if (!next) return false;
    const date = dateText(next);
    if (date > last || told >= MOST_OCCURRENCES) return true;
    if (date < fromDate) continue;
    tell(date);
    told += 1;
  }
  return true;
}

function takeDates(
  event: ICAL.Component,
  start: ICAL.Time,
  rule: ICAL.Recur | null,
  fromDate: string,
  into: Into,
  note: (what: string) => void,
): void {
  const end = event.getFirstPropertyValue('dtend') as ICAL.Time | null;
  const first = dateText(start);
  const length = end
    ? Math.round(
        DateTime.fromISO(dateText(end), { zone: 'utc' })
          .diff(DateTime.fromISO(first, { zone: 'utc' }), 'days')
          .as('days'),
      )
    : 1;
  /** All days of an occurrence; one that lasts no time is a day all the same. */
  const take = (from: string) => {
    let date = from;
    for (let days = 0; days < Math.min(366, Math.max(1, length)); days += 1) {
      into.closed.add(date);
      date = nextDay(date);
    }
  };
  if (!rule) {
    take(first);
    return;
  }
  const isYearly = rule.freq === 'YEARLY';
  const left = writeOut(rule, start, fromDate, take, isYearly ? YEARLY_DAYS : HORIZON_DAYS);
  if (left)
    note(
      isYearly
        ? 'comes each year: its closed dates were written out for ten years'
        : `its closed dates were written out for ${HORIZON_DAYS} days`,
    );
}
