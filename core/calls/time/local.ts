import { WEEKDAYS, type OpenSpan, type Schedule, type WeeklySpan } from '../../estate';

const DAY_MS = 86_400_000;
/** 1970-01-01 was a Thursday: the fourth day of a week that begins on Monday. */
const FIRST_WEEKDAY = 3;

export const clockMs = (hhmm: string): number =>
  (Number(hhmm.slice(0, 2)) * 60 + Number(hhmm.slice(3, 5))) * 60_000;

/** Whether a span that begins today, or began yesterday and runs past midnight, covers this time of day. */
function covers(span: { from: string; to: string }, beganYesterday: boolean, ms: number): boolean {
  const from = clockMs(span.from);
  const to = clockMs(span.to);
  if (to > from) return !beganYesterday && ms >= from && ms < to;
  return beganYesterday ? ms < to : ms >= from;
}

const weeklyCovers = (spans: readonly WeeklySpan[], weekday: number, yesterday: boolean, ms: number) => {
  const day = WEEKDAYS[weekday]!;
  return spans.some((span) => span.days.includes(day) && covers(span, yesterday, ms));
};
const openCovers = (spans: readonly OpenSpan[], date: string, yesterday: boolean, ms: number) =>
  spans.some((span) => span.date === date && covers(span, yesterday, ms));

/** A day counted from 1970-01-01, as "YYYY-MM-DD". */
export const dateOf = (day: number): string => new Date(day * DAY_MS).toISOString().slice(0, 10);
/** The weekday 0 (Monday) to 6 of a day counted from 1970-01-01. */
export const weekdayOf = (day: number): number => (((day + FIRST_WEEKDAY) % 7) + 7) % 7;

/**
 * Whether a wall clock reading is inside a schedule. Extra opening beats closed dates; a closed date is outside as a
 * whole, and no weekly span begins on it. Spans are half open.
 * @param localMs ms since 1970-01-01T00:00 of the wall clock
 */
export function insideAtLocal(schedule: Schedule, localMs: number): boolean {
  const day = Math.floor(localMs / DAY_MS);
  const ms = localMs - day * DAY_MS;
  const open = schedule.open ?? [];
  const closed = schedule.closed ?? [];
  const dated = open.length > 0 || closed.length > 0;
  const today = dated ? dateOf(day) : '';
  const yesterday = dated ? dateOf(day - 1) : '';
  if (openCovers(open, today, false, ms) || openCovers(open, yesterday, true, ms)) return true;
  if (closed.includes(today)) return false;
  if (weeklyCovers(schedule.weekly, weekdayOf(day), false, ms)) return true;
  return !closed.includes(yesterday) && weeklyCovers(schedule.weekly, weekdayOf(day - 1), true, ms);
}

/** The times of day, in ms since midnight and in order, at which a schedule can turn. */
export const localBoundaries = (schedule: Schedule): readonly number[] =>
  [
    ...new Set([
      0,
      ...[...schedule.weekly, ...(schedule.open ?? [])].flatMap(({ from, to }) => [
        clockMs(from),
        clockMs(to),
      ]),
    ]),
  ].sort((a, b) => a - b);
