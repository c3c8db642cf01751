import { DateTime } from 'luxon';
import { WEEKDAYS, type OpenSpan, type Schedule, type WeeklySpan } from '../estate';

/** A wall clock reading in some zone: the date "YYYY-MM-DD", the weekday 0 (Monday) to 6, and ms since midnight. */
export interface WallClock {
  readonly date: string;
  readonly dayBefore: string;
  readonly weekday: number;
  readonly ms: number;
}

const pad = (n: number) => (n < 10 ? `0${n}` : `${n}`);
const isoDate = (at: DateTime) => `${at.year}-${pad(at.month)}-${pad(at.day)}`;

/**
 * Reads the wall clock of a zone.
 * @param epochMs ms since 1970-01-01T00:00:00Z
 * @param timeZone IANA zone name
 */
export function wallClock(epochMs: number, timeZone: string): WallClock {
  const at = DateTime.fromMillis(epochMs, { zone: timeZone });
  return {
    date: isoDate(at),
    dayBefore: isoDate(at.minus({ days: 1 })),
    weekday: at.weekday - 1,
    ms: ((at.hour * 60 + at.minute) * 60 + at.second) * 1000 + at.millisecond,
  };
}

const clockMs = (hhmm: string) => (Number(hhmm.slice(0, 2)) * 60 + Number(hhmm.slice(3, 5))) * 60_000;

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

/**
 * Whether a moment is inside a schedule. Extra opening beats closed dates; a closed date is outside as a whole,
 * and no weekly span begins on it. Spans are half open and follow the wall clock of the schedule's zone.
 * @param epochMs ms since 1970-01-01T00:00:00Z
 */
export function isInside(schedule: Schedule, epochMs: number): boolean {
  const now = wallClock(epochMs, schedule.timeZone);
  const open = schedule.open ?? [];
  if (openCovers(open, now.date, false, now.ms) || openCovers(open, now.dayBefore, true, now.ms)) return true;
  const closed = schedule.closed ?? [];
  if (closed.includes(now.date)) return false;
  if (weeklyCovers(schedule.weekly, now.weekday, false, now.ms)) return true;
  return (
    !closed.includes(now.dayBefore) && weeklyCovers(schedule.weekly, (now.weekday + 6) % 7, true, now.ms)
  );
}

/**
 * Reads an ISO 8601 time that carries its offset.
 * @returns ms since 1970-01-01T00:00:00Z, or null if it is not such a time.
 */
export function instantOf(text: string): number | null {
  if (!/^\d{4}-\d{2}-\d{2}T\d{2}:\d{2}(:\d{2}(\.\d{1,9})?)?(Z|[+-]\d{2}:?\d{2})$/i.test(text)) return null;
  const at = DateTime.fromISO(text, { setZone: true });
  return at.isValid ? at.toMillis() : null;
}

/** A moment as ISO 8601 with the offset of a zone, e.g. `2026-11-24T14:20:00-08:00`. */
export const isoIn = (epochMs: number, timeZone: string): string =>
  DateTime.fromMillis(epochMs, { zone: timeZone }).toISO({ suppressMilliseconds: true }) ?? '';
