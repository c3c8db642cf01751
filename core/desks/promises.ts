import { scheduleClock } from '../calls/time';
import type { DeskPromise, Estate, Site } from '../estate';
import { desksAt, desksForAll, halfHoursIn, loadsAt, touches, type HalfHour } from './enough';
import { weekAt } from './week';

/** How many weeks a promise about desks is checked for: the one that is on, and those after it. */
export const PROMISED_WEEKS = 4;
const WEEK_MS = 7 * 86_400_000;

/** `open`: it holds if nobody needs a desk that is not for them, which is not gone through. */
export type DeskStanding = 'holds' | 'broken' | 'open';

/** What became of a promise that nobody is without a desk. */
export interface DeskVerdict {
  readonly promise: DeskPromise;
  readonly standing: DeskStanding;
  /** The half hour in which somebody is likeliest to find none; null: nobody is sent there then. */
  readonly worst: HalfHour | null;
  readonly desks: number;
  /** Of them, those that are for everybody who is ever sent there. */
  readonly forAll: number;
  /** The fewest desks that keep it. */
  readonly needed: number;
  /** Up to when it was checked, ms since 1970. */
  readonly untilMs: number;
}

type Asked = Pick<Estate, 'people' | 'schedules' | 'desks' | 'devices' | 'timeZone'>;

/**
 * Whether what a site promises about its shared desks holds: in each half hour of this week and the three after it
 * (of those that touch the hours named), exactly, the chance that everybody who comes finds a desk is at least as
 * promised. Desks that are not for everybody count as far as that is certain: where a promise needs them, it is left open.
 */
export function judgeDeskPromises(estate: Asked, site: Site, nowMs: number): readonly DeskVerdict[] {
  const promises = site.deskPromises ?? [];
  if (promises.length === 0) return [];
  const zone = site.timeZone ?? estate.timeZone;
  const { fromMs } = weekAt(nowMs, zone);
  // The middle of the last week lies in it, however long its days are.
  const untilMs = weekAt(fromMs + (PROMISED_WEEKS - 0.5) * WEEK_MS, zone).toMs;
  const desks = desksAt(estate, site.id).length;
  const forAll = desksForAll(estate, site.id);
  const starts = halfHoursIn(fromMs, untilMs);
  const loads = loadsAt(estate, site.id, starts);
  return promises.map((promise): DeskVerdict => {
    const schedule = estate.schedules.find(({ id }) => id === promise.schedule);
    const clock = schedule && scheduleClock(schedule);
    const counts = (at: number) => promise.schedule === undefined || touches(clock, at);
    // 0.99 leaves a hundredth, whatever binary fractions make of it.
    const atMost = Math.round((1 - promise.keeps) * 1e9) / 1e9;
    let worst: HalfHour | null = null;
    let needed = 0;
    starts.forEach((at, slot) => {
      const load = loads[slot]!;
      if (load.expected === 0 || !counts(at)) return;
      const chance = load.chanceOfMore(desks);
      if (!worst || chance > worst.chance) worst = { fromMs: at, expected: load.expected, chance };
      needed = Math.max(needed, load.needed(atMost));
    });
    const standing = needed > desks ? 'broken' : needed <= forAll ? 'holds' : 'open';
    return { promise, standing, worst, desks, forAll, needed, untilMs };
  });
}
