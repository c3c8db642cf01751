import ICAL from 'ical.js';
import { WEEKDAYS, type OpenSpan, type Schedule, type Weekday, type WeeklySpan } from '../estate';
import { isZone } from '../zones';

/** Times of a CPL time switch (RFC 3880, section 4.4), which are recurrences of RFC 5545, as hours of a schedule. */
export type ScriptHours = Omit<Schedule, 'id' | 'name'>;

interface TimeCase {
  readonly attributes: Readonly<Record<string, string>>;
  readonly line: number;
}

type Notes = { readonly line: number; readonly text: string }[];

/** Cases of a switch that do the same, with the hours in which they hold; null hours: they cannot be said. */
export interface HoursSwitch<T> {
  readonly content: T;
  readonly hours: ScriptHours | null;
  readonly notes: readonly { readonly line: number; readonly text: string }[];
}

const DAYS: Readonly<Record<string, Weekday>> = {
  MO: 'mon',
  TU: 'tue',
  WE: 'wed',
  TH: 'thu',
  FR: 'fri',
  SA: 'sat',
  SU: 'sun',
};
const MINUTES_A_DAY = 1440;
const two = (n: number) => String(n).padStart(2, '0');
const hhmm = (minutes: number) => `${two(Math.floor((minutes % MINUTES_A_DAY) / 60))}:${two(minutes % 60)}`;

interface StartTime {
  readonly date: string;
  readonly minutes: number;
}

function readStamp(text: string | undefined): StartTime | null {
  const [, y, m, d, hours, minutes] = /^(\d{4})(\d\d)(\d\d)(?:T(\d\d)(\d\d)\d\d)?$/.exec(text ?? '') ?? [];
  if (y === undefined) return null;
  const date = `${y}-${m}-${d}`;
  const real = new Date(`${date}T00:00:00Z`);
  const at = Number(hours ?? 0) * 60 + Number(minutes ?? 0);
  if (Number.isNaN(real.getTime()) || real.toISOString().slice(0, 10) !== date || at >= MINUTES_A_DAY)
    return null;
  return { date, minutes: at };
}

const daysBetween = (a: string, b: string) => (Date.parse(b) - Date.parse(a)) / 86_400_000;

/** How long one occurrence lasts, in minutes; null where the script does not say it rightly. */
function lengthOf({ dtstart, dtend, duration }: TimeCase['attributes'], start: StartTime): number | null {
  if (dtstart === undefined) return null;
  if (duration !== undefined) {
    try {
      const seconds = ICAL.Duration.fromString(duration).toSeconds();
      return seconds > 0 ? Math.round(seconds / 60) : null;
    } catch {
      return null;
    }
  }
  const end = readStamp(dtend);
  if (!end) return null;
  const minutes = daysBetween(start.date, end.date) * MINUTES_A_DAY + end.minutes - start.minutes;
  return minutes > 0 ? minutes : null;
}

type One =
  | { readonly kind: 'weekly'; readonly span: WeeklySpan }
  | { readonly kind: 'once'; readonly span: OpenSpan }
  | { readonly kind: 'day'; readonly date: string }
  | { readonly kind: 'no'; readonly why: string };

const no = (why: string): One => ({ kind: 'no', why });

function readTime(attributes: TimeCase['attributes']): One {
  const start = readStamp(attributes.dtstart);
  if (!start) return no('A time needs its dtstart, local, such as 20240101T080000');
  const minutes = lengthOf(attributes, start);
  if (minutes === null) return no('A time needs a duration or dtend after its dtstart');
  const { freq, interval = '1', until, count, byday } = attributes;
  const others = [
    'bysecond',
    'byminute',
    'byhour',
    'bymonthday',
    'byyearday',
    'byweekno',
    'bymonth',
    'bysetpos',
  ];
  const from = hhmm(start.minutes);
  const to = hhmm(start.minutes + minutes);
  if (freq === undefined || freq === 'none') {
    if (start.minutes === 0 && minutes === MINUTES_A_DAY) return { kind: 'day', date: start.date };
    return minutes > MINUTES_A_DAY
      ? no('A single time of more than a day')
      : { kind: 'once', span: { date: start.date, from, to } };
  }
  if (until !== undefined || count !== undefined) return no('A time that recurs only for a while');
  if (interval !== '1') return no('A time that recurs only every few days or weeks');
  if (others.some((name) => attributes[name] !== undefined) || minutes > MINUTES_A_DAY)
    return no('A recurrence that is more than days of the week');
  if (freq === 'daily' && byday === undefined) return { kind: 'weekly', span: { days: WEEKDAYS, from, to } };
  if (freq !== 'weekly' && freq !== 'daily') return no(`A time that recurs ${freq}`);
  const days =
    byday === undefined
      ? [WEEKDAYS[(new Date(`${start.date}T00:00:00Z`).getUTCDay() + 6) % 7]]
      : byday.split(',').map((day) => DAYS[day.trim().toUpperCase()]);
  if (days.some((day) => day === undefined)) return no('A recurrence on days that are none of the week');
  return { kind: 'weekly', span: { days: WEEKDAYS.filter((day) => days.includes(day)), from, to } };
}

/**
 * The cases of a time switch as hours: those that do the same one after the other are taken together, and whole days
 * before them that do what comes otherwise are the days on which they are closed.
 * @param otherwise the key of what is done in no case
 * @param keyOf tells whether two cases do the same
 */
export function hoursOf<T extends TimeCase>(
  cases: readonly T[],
  timeZone: string,
  otherwise: string,
  keyOf: (each: T) => string,
): readonly HoursSwitch<T>[] {
  const zoneIsKnown = isZone(timeZone);
  const before: Notes = [];
  const made: { key: string; content: T; weekly: WeeklySpan[]; open: OpenSpan[]; notes: Notes }[] = [];
  const closed: string[] = [];
  for (const each of cases) {
    const key = keyOf(each);
    const one = zoneIsKnown ? readTime(each.attributes) : no(`The zone ${timeZone} is not known`);
    if (key === otherwise) {
      // After weekly hours it has no say: they come first, and what comes otherwise is the same.
      if (made.some(({ weekly }) => weekly.length > 0)) continue;
      if (one.kind === 'day') closed.push(one.date);
      else
        (made.at(-1)?.notes ?? before).push({
          line: each.line,
          text: 'Only whole days can be closed: this time is left out.',
        });
      continue;
    }
    let group = made.at(-1);
    if (group?.key !== key) {
      group = { key, content: each, weekly: [], open: [], notes: before.splice(0) };
      made.push(group);
    }
    if (one.kind === 'no') group.notes.push({ line: each.line, text: `${one.why}: this time is left out.` });
    else if (one.kind === 'weekly') group.weekly.push(one.span);
    else {
      const span = one.kind === 'once' ? one.span : { date: one.date, from: '00:00', to: '00:00' };
      // A day that was closed before stays closed.
      if (!closed.includes(span.date)) group.open.push(span);
    }
  }
  return made.map(({ content, weekly, open, notes }): HoursSwitch<T> => {
    const hours: ScriptHours = {
      timeZone,
      weekly,
      ...(closed.length > 0 && weekly.length > 0 ? { closed } : {}),
      ...(open.length > 0 ? { open } : {}),
    };
    return { content, hours: weekly.length + open.length > 0 ? hours : null, notes };
  });
}
