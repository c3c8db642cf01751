import { scheduleClock, type ScheduleClock } from '../calls/time';
import type { Desk, Estate, Person } from '../estate';
import { isAllowedAt } from './signing';
import { comingMore, comingOf, placesFor } from '../statistics';

export const HALF_HOUR_MS = 1_800_000;

/** A half hour of a week at a site. */
export interface HalfHour {
  /** When it begins, ms since 1970. */
  readonly fromMs: number;
  /** How many people come, on average. */
  readonly expected: number;
  /** The chance that somebody finds no desk. */
  readonly chance: number;
}

export interface EnoughDesks {
  readonly desks: number;
  /** The fewest desks that keep the chance in every half hour. */
  readonly needed: number;
  readonly halfHours: readonly HalfHour[];
}

/** When the half hours of a span begin, ms since 1970. */
export const halfHoursIn = (fromMs: number, toMs: number): readonly number[] =>
  Array.from(
    { length: Math.round((toMs - fromMs) / HALF_HOUR_MS) },
    (_each, at) => fromMs + at * HALF_HOUR_MS,
  );

/** Whether the hours of a schedule cover any part of a half hour. */
export const touches = (clock: ScheduleClock | undefined, at: number): boolean =>
  clock !== undefined && (clock.inside(at) || clock.nextChange(at) < at + HALF_HOUR_MS);

/** The shared desks whose phone stands at a site. */
export function desksAt(
  { desks = [], devices = [] }: Pick<Estate, 'desks' | 'devices'>,
  site: string,
): readonly Desk[] {
  const here = new Set(devices.filter((each) => each.site === site).map(({ id }) => id));
  return desks.filter(({ device }) => here.has(device));
}

type Rostered = Pick<Estate, 'people' | 'schedules'>;

/** A roster that is otherwise than it is: one shift moved, or those of one shift coming less often. */
export interface RosterChange {
  readonly schedule: string;
  /** Later by so many ms; below 0: earlier. */
  readonly byMs?: number;
  /** How much less likely each of them comes; nobody’s share falls below 0. */
  readonly less?: number;
}

/** How many come in a half hour with which chance, each counted once. */
type Crowds = ReadonlyMap<number, number>;

/** How likely those come who are ever rostered at a site, in each half hour: those with one roster are looked at once. */
function crowdsAt(
  estate: Rostered,
  site: string,
  starts: readonly number[],
  change: RosterChange | null,
): readonly Crowds[] {
  const covered = new Map<string, readonly boolean[]>();
  const coverOf = (id: string): readonly boolean[] => {
    const known = covered.get(id);
    if (known) return known;
    const schedule = estate.schedules.find((each) => each.id === id);
    const clock = schedule && scheduleClock(schedule);
    const byMs = change?.schedule === id ? (change.byMs ?? 0) : 0;
    const cover = starts.map((slot) => touches(clock, slot - byMs));
    covered.set(id, cover);
    return cover;
  };
  const alike = new Map<
    string,
    { readonly entries: readonly { cover: readonly boolean[]; share: number }[]; count: number }
  >();
  for (const { roster = [] } of estate.people) {
    const here = roster.filter((entry) => entry.site === site);
    if (here.length === 0) continue;
    const key = JSON.stringify(here.map(({ schedule, share = 1 }) => [schedule, share]));
    const known = alike.get(key);
    if (known) known.count += 1;
    else
      alike.set(key, {
        entries: here.map(({ share = 1, schedule }) => ({
          cover: coverOf(schedule),
          share: change?.schedule === schedule ? Math.max(0, share - (change.less ?? 0)) : share,
        })),
        count: 1,
      });
  }
  return starts.map((_at, slot) => {
    const crowds = new Map<number, number>();
    for (const { entries, count } of alike.values()) {
      let most = -1;
      for (const { cover, share } of entries) if (cover[slot] && share > most) most = share;
      if (most >= 0) crowds.set(most, (crowds.get(most) ?? 0) + count);
    }
    return crowds;
  });
}

/** How many people come in a half hour. */
export interface Load {
  readonly expected: number;
  /** The chance that more come than so many. */
  readonly chanceOfMore: (desks: number) => number;
  /** The fewest desks with which the chance that somebody finds none is at most so much. */
  readonly needed: (chance: number) => number;
}

/**
 * How many come to a site in half hours, exactly (Poisson binomial): each on their own, with the largest share of their
 * roster there that covers any part of it.
 * @param starts when the half hours begin, ms since 1970
 */
export function loadsAt(
  estate: Rostered,
  site: string,
  starts: readonly number[],
  change: RosterChange | null = null,
): readonly Load[] {
  const known = new Map<string, Load>();
  return crowdsAt(estate, site, starts, change).map((crowds) => {
    const sorted = [...crowds].sort(([a], [b]) => a - b);
    const key = sorted.join(' ');
    const before = known.get(key);
    if (before) return before;
    const coming = comingOf(sorted);
    const load: Load = {
      expected: sorted.reduce((sum, [share, count]) => sum + share * count, 0),
      chanceOfMore: (desks) => comingMore(coming, desks),
      needed: (chance) => placesFor(coming, chance),
    };
    known.set(key, load);
    return load;
  });
}

/**
 * Whether a site has enough shared desks, for each half hour.
 * @param fromMs the first instant, ms since 1970
 * @param toMs the instant after the last half hour
 * @param chance that somebody finds none, at most, for how many desks are needed
 * @param change the roster as it would be
 */
export function enoughDesks(
  estate: Rostered & Pick<Estate, 'desks' | 'devices'>,
  site: string,
  fromMs: number,
  toMs: number,
  chance = 0.01,
  change: RosterChange | null = null,
): EnoughDesks {
  const starts = halfHoursIn(fromMs, toMs);
  const desks = desksAt(estate, site).length;
  const loads = loadsAt(estate, site, starts, change);
  const found = new Map<Load, { readonly chance: number; readonly needed: number }>();
  for (const load of loads)
    if (!found.has(load)) found.set(load, { chance: load.chanceOfMore(desks), needed: load.needed(chance) });
  return {
    desks,
    needed: Math.max(0, ...[...found.values()].map(({ needed }) => needed)),
    halfHours: loads.map((load, slot) => ({
      fromMs: starts[slot] ?? 0,
      expected: load.expected,
      chance: found.get(load)!.chance,
    })),
  };
}

const isSentTo =
  (site: string) =>
  ({ roster = [] }: Pick<Person, 'roster'>): boolean =>
    roster.some((entry) => entry.site === site);

/** How many of the desks of a site are for everybody whose roster ever sends them there. */
export function desksForAll(estate: Pick<Estate, 'people' | 'desks' | 'devices'>, site: string): number {
  const sent = estate.people.filter(isSentTo(site));
  return desksAt(estate, site).filter((desk) => sent.every((person) => isAllowedAt(desk, person))).length;
}

/** Whether none of some desks is for somebody. */
export const noneAllows = (desks: readonly Desk[], person: Person): boolean =>
  !desks.some((desk) => isAllowedAt(desk, person));

/** People whose roster sends them to a site at which no desk allows them. */
export function withoutDesk(estate: Pick<Estate, 'people' | 'desks' | 'devices'>, site: string) {
  const here = desksAt(estate, site);
  return estate.people.filter((person) => isSentTo(site)(person) && noneAllows(here, person));
}

/** The worst half hour of a week; of equals the first. */
export const worstOf = ({ halfHours }: EnoughDesks): HalfHour | null =>
  halfHours.reduce<HalfHour | null>(
    (worst, each) => (worst && worst.chance >= each.chance ? worst : each),
    null,
  );
