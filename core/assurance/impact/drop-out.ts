import { momentsOf } from '../promises';
import { ANY_OUTSIDE_CALLER, runCall, type EstateIndex } from '../../calls/engine';
import { isoIn, scheduleClock } from '../../calls/time';
import type { Ms, Person } from '../../estate';

const YEAR_MS = 366 * 86_400_000;
/** So many moments are looked at: each way in which the hours of a plan can stand is one. */
const MOST_MOMENTS = 64;

/** A phone that calls rang before and do not ring any more. */
export interface DropOut {
  readonly endpoint: string;
  readonly label: string;
  /** The first moment of which that is so, ms since 1970; null: at every moment at which it rang. */
  readonly atMs: Ms | null;
}

/** The endpoints of somebody that a call from outside comes to at a moment. */
const rungAt = (index: EstateIndex, to: string, at: string, own: ReadonlySet<string>): ReadonlySet<string> =>
  new Set(
    runCall(index, { from: ANY_OUTSIDE_CALLER, to, at, patienceMs: null })
      .legs.map(({ endpoint }) => endpoint)
      .filter((endpoint) => own.has(endpoint)),
  );

/**
 * Which of a person's phones drop out of their calls with a change: gone through each way in which the hours that they
 * hang on can stand in the year from a moment on.
 * @param schedules the hours that the plans before and after hang on
 */
export function dropOuts(
  before: EstateIndex,
  after: EstateIndex,
  person: Person,
  schedules: ReadonlySet<string>,
  fromMs: Ms,
): readonly DropOut[] {
  const to = person.lines[0]?.extension;
  if (to === undefined) return [];
  const clocks = [...schedules].flatMap((id) =>
    [before, after].flatMap((index) => {
      const schedule = index.schedules.get(id);
      return schedule ? [scheduleClock(schedule)] : [];
    }),
  );
  const own = new Set(person.endpoints.map(({ id }) => id));
  const first = new Map<string, number>();
  const still = new Set<string>();
  for (const atMs of momentsOf(clocks, fromMs, fromMs + YEAR_MS, 0).steady.slice(0, MOST_MOMENTS)) {
    const at = isoIn(atMs, before.estate.timeZone);
    const now = rungAt(after, to, at, own);
    for (const endpoint of now) still.add(endpoint);
    for (const endpoint of rungAt(before, to, at, own))
      if (!now.has(endpoint) && !first.has(endpoint)) first.set(endpoint, atMs);
  }
  return person.endpoints.flatMap(({ id, label }) => {
    const atMs = first.get(id);
    return atMs === undefined ? [] : [{ endpoint: id, label, atMs: still.has(id) ? atMs : null }];
  });
}
