import { enoughDesks, HALF_HOUR_MS, worstOf, type EnoughDesks, type RosterChange } from './enough';

/** What another roster would come to. */
export interface DeskSaving {
  readonly change: RosterChange;
  readonly needed: number;
  /** The chance that somebody finds no desk in the worst half hour. */
  readonly worst: number;
}

/** What is tried of each shift: half an hour earlier and later, and each of its people coming a tenth less often. */
const TRIED: readonly Omit<RosterChange, 'schedule'>[] = [
  { byMs: -HALF_HOUR_MS },
  { byMs: HALF_HOUR_MS },
  { less: 0.1 },
];
/** Shifts that are tried, those of the most people first. */
const MOST_SHIFTS = 12;

/**
 * What moving one shift by half an hour, or a share a tenth lower, would save at a site: those changes alone by which
 * fewer desks are needed, or the worst half hour gets better by a tenth of its chance; the best first.
 * @param now how it is without any of them
 */
export function deskSavings(
  estate: Parameters<typeof enoughDesks>[0],
  site: string,
  fromMs: number,
  toMs: number,
  chance: number,
  now: EnoughDesks,
): readonly DeskSaving[] {
  const people = new Map<string, number>();
  for (const { roster = [] } of estate.people)
    for (const schedule of new Set(
      roster.filter((entry) => entry.site === site).map((entry) => entry.schedule),
    ))
      people.set(schedule, (people.get(schedule) ?? 0) + 1);
  const shifts = [...people].sort((a, b) => b[1] - a[1]).slice(0, MOST_SHIFTS);
  const worstNow = worstOf(now)?.chance ?? 0;
  return shifts
    .flatMap(([schedule]) =>
      TRIED.map((tried): DeskSaving => {
        const change = { schedule, ...tried };
        const then = enoughDesks(estate, site, fromMs, toMs, chance, change);
        return { change, needed: then.needed, worst: worstOf(then)?.chance ?? 0 };
      }),
    )
    .filter(({ needed, worst }) => needed < now.needed || (needed === now.needed && worst < 0.9 * worstNow))
    .sort((a, b) => a.needed - b.needed || a.worst - b.worst);
}
