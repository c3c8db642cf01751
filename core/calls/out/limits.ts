import { legCost, type TariffLine } from '../../records';
import type { DayLimit, Ms } from '../../estate';

/** What somebody has called today over the public network. */
export interface UsedToday {
  readonly ms: Ms;
  /** Hundred-thousandths of the tariff's currency. */
  readonly money: number;
}

/** What is said to somebody whose day is used up. */
export const USED_UP = 'You have called as much today as your permission allows.';

/** How long somebody may still call a number today. */
export interface LeftToday {
  /** null: as long as they like. */
  readonly mostMs: Ms | null;
  /** What ends it. */
  readonly by: 'minutes' | 'money' | null;
}

const MINUTE_MS = 60_000;

/** The longest that a call may be for a sum, in ms; 0: not even its beginning; null: it costs no more however long. */
function longestFor(line: TariffLine, money: number): Ms | null {
  if (legCost(line, 0).cost > money) return 0;
  if (line.perMinute === 0) return null;
  const seconds = Number((BigInt(money - line.perCall) * 60n) / BigInt(line.perMinute));
  const more = Math.max(0, Math.floor((seconds - line.firstS) / line.nextS));
  return (line.firstS + more * line.nextS) * 1000;
}

/**
 * How long somebody may call a number of a price for what their permission leaves them of the day.
 * @param line null: it has no price, so that minutes alone count
 */
export function leftToday(limit: DayLimit | undefined, used: UsedToday, line: TariffLine | null): LeftToday {
  const minutes = limit?.minutes === undefined ? null : Math.max(0, limit.minutes * MINUTE_MS - used.ms);
  const money =
    limit?.money === undefined || line === null
      ? null
      : longestFor(line, Math.max(0, limit.money - used.money));
  if (minutes === null && money === null) return { mostMs: null, by: null };
  return money === null || (minutes !== null && minutes <= money)
    ? { mostMs: minutes, by: 'minutes' }
    : { mostMs: money, by: 'money' };
}
