import { clockMs, type ScheduleClock } from '../calls/time';
import type { Desk, Person } from '../estate';
import { zoneNamed } from '../zones';
import type { SignOffReason } from './signing';

const DAY_MS = 86_400_000;
const MINUTE_MS = 60_000;
/** A sign-on so long before a span of the roster belongs to it. */
export const EARLY_MS = 2 * 3_600_000;
/** More turns than any roster has in a shift; one that never ends is given up. */
const MOST_TURNS = 1000;

/**
 * The end of the shift that a sign-on belongs to: of the spans of the person’s roster at the site, merged, the one
 * that it lies in, else the last to end of those that begin within two hours.
 * @param onMs the sign-on, ms since 1970
 * @returns ms since 1970; null: it belongs to none, or to one that never ends
 */
export function shiftEnd(
  { roster = [] }: Pick<Person, 'roster'>,
  site: string,
  onMs: number,
  clockOf: (schedule: string) => ScheduleClock | undefined,
): number | null {
  const clocks = roster.flatMap((entry) => (entry.site === site ? (clockOf(entry.schedule) ?? []) : []));
  const isInside = (at: number) => clocks.some((clock) => clock.inside(at));
  const endFrom = (from: number): number | null => {
    let at = from;
    for (let turns = 0; turns < MOST_TURNS && isInside(at); turns += 1) {
      const until = Math.max(
        ...clocks.filter((clock) => clock.inside(at)).map((clock) => clock.nextChange(at)),
      );
      if (!Number.isFinite(until)) return null;
      at = until;
    }
    return isInside(at) ? null : at;
  };
  if (isInside(onMs)) return endFrom(onMs);
  let found: number | null = null;
  let at = onMs;
  for (let turns = 0; turns < MOST_TURNS; turns += 1) {
    const begins = Math.min(Infinity, ...clocks.map((clock) => clock.nextChange(at)));
    if (begins > onMs + EARLY_MS) return found;
    const end = endFrom(begins);
    if (end === null) return null;
    found = end;
    at = end;
  }
  return found;
}

/**
 * The first instant after another at which clocks of a zone show a time of day: a time that is skipped is the end of
 * the gap, one that comes twice the first.
 * @param time "HH:MM"
 */
export function nextDaily(time: string, timeZone: string, afterMs: number): number {
  const zone = zoneNamed(timeZone);
  const offsetMs = (at: number) => zone.offset(at) * MINUTE_MS;
  const firstOn = (day: number): number => {
    const local = day * DAY_MS + clockMs(time);
    const offsets = [...new Set([offsetMs(local - DAY_MS), offsetMs(local + DAY_MS)])];
    const instants = offsets.map((offset) => local - offset).filter((at) => at + offsetMs(at) === local);
    if (instants.length > 0) return Math.min(...instants);
    // Skipped: where the offset changes.
    let [before, after] = [local - DAY_MS, local + DAY_MS];
    while (after - before > 1) {
      const middle = Math.floor((before + after) / 2);
      if (offsetMs(middle) === offsetMs(before)) before = middle;
      else after = middle;
    }
    return after;
  };
  const today = Math.floor((afterMs + offsetMs(afterMs)) / DAY_MS);
  for (const day of [today - 1, today, today + 1]) {
    const at = firstOn(day);
    if (at > afterMs) return at;
  }
  return firstOn(today + 2);
}

export interface DueOff {
  /** ms since 1970. */
  readonly atMs: number;
  readonly why: Extract<SignOffReason, 'shift-end' | 'idle' | 'daily'>;
}

/**
 * When somebody is signed off by itself, and why: whichever is first.
 * @param sinceMs the sign-on, ms since 1970
 * @param usedMs the last call or key at the phone, or when a server that counts them began to; ms since 1970
 */
export function dueOff(
  { signOff = {} }: Pick<Desk, 'signOff'>,
  on: { readonly sinceMs: number; readonly usedMs: number },
  at: {
    readonly person: Pick<Person, 'roster'>;
    readonly site: string | undefined;
    readonly timeZone: string;
    readonly graceS: number;
    readonly clockOf: (schedule: string) => ScheduleClock | undefined;
  },
): DueOff | null {
  const { atShiftEnd = true, afterIdleS = null, dailyAt = null } = signOff;
  const end =
    atShiftEnd && at.site !== undefined ? shiftEnd(at.person, at.site, on.sinceMs, at.clockOf) : null;
  const all: DueOff[] = [
    ...(end === null ? [] : [{ atMs: end + at.graceS * 1000, why: 'shift-end' as const }]),
    ...(afterIdleS === null ? [] : [{ atMs: on.usedMs + afterIdleS * 1000, why: 'idle' as const }]),
    ...(dailyAt === null
      ? []
      : [{ atMs: nextDaily(dailyAt, at.timeZone, on.sinceMs), why: 'daily' as const }]),
  ];
  return all.reduce<DueOff | null>((first, each) => (first && first.atMs <= each.atMs ? first : each), null);
}
