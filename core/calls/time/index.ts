import { DateTime } from 'luxon';
import type { Schedule } from '../../estate';
import { insideAtLocal } from './local';
import { zoneNamed } from '../../zones';

export { scheduleClock, untilClock, untilClockId, type ScheduleClock } from './clock';
export { clockMs } from './local';
export { hoursAsText, readHoursText, toggleHour, type ReadHours } from './text';

/**
 * Whether a moment is inside a schedule, by the wall clock of the schedule's zone.
 * @param epochMs ms since 1970-01-01T00:00:00Z
 */
export const isInside = (schedule: Schedule, epochMs: number): boolean =>
  insideAtLocal(schedule, epochMs + zoneNamed(schedule.timeZone).offset(epochMs) * 60_000);

/**
 * Reads an ISO 8601 time that carries its offset.
 * @returns ms since 1970-01-01T00:00:00Z, or null if it is not such a time.
 */
export function instantOf(text: string): number | null {
  const before = recent.get(text);
  if (before !== undefined) return before;
  const at = readInstant(text);
  if (recent.size > 500) recent.clear();
  recent.set(text, at);
  return at;
}

/** Times read lately: calls are run again and again for the same moment. */
const recent = new Map<string, number | null>();

function readInstant(text: string): number | null {
  if (!/^\d{4}-\d{2}-\d{2}T\d{2}:\d{2}(:\d{2}(\.\d{1,9})?)?(Z|[+-]\d{2}:?\d{2})$/i.test(text)) return null;
  const at = DateTime.fromISO(text, { setZone: true });
  return at.isValid ? at.toMillis() : null;
}

/** A moment as ISO 8601 with the offset of a zone, e.g. `2026-11-24T14:20:00-07:00`. */
export const isoIn = (epochMs: number, timeZone: string): string =>
  DateTime.fromMillis(epochMs, { zone: zoneNamed(timeZone) }).toISO({ suppressMilliseconds: true }) ?? '';
