import { DateTime } from 'luxon';
import { zoneNamed } from '../zones';

/** A week from Monday 00:00 to the next one, ms since 1970. */
export interface Week {
  readonly fromMs: number;
  readonly toMs: number;
}

const weekOf = (moment: DateTime): Week => {
  const monday = moment.startOf('week');
  return { fromMs: monday.toMillis(), toMs: monday.plus({ days: 7 }).toMillis() };
};
/** The week of an instant in a zone. */
export const weekAt = (epochMs: number, timeZone: string): Week =>
  weekOf(DateTime.fromMillis(epochMs, { zone: zoneNamed(timeZone) }));
/** The week of a date "YYYY-MM-DD" in a zone; null: it is none. */
export function weekOfDate(date: string, timeZone: string): Week | null {
  if (!/^\d{4}-\d{2}-\d{2}$/.test(date)) return null;
  const moment = DateTime.fromISO(`${date}T12:00:00`, { zone: zoneNamed(timeZone) });
  return moment.isValid ? weekOf(moment) : null;
}
