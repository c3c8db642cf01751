import { scheduleClock } from '../calls/time';
import type { Estate, PersonId } from '../estate';

/** A shift at a site that is on at a moment. */
export interface ShiftAt {
  readonly site: string;
  readonly schedule: string;
  readonly people: readonly { readonly person: PersonId; readonly share: number }[];
}

/** The shifts that are on at a moment: whom the roster sends to a site in hours that the moment lies in. */
export function shiftsAt(
  { people, schedules }: Pick<Estate, 'people' | 'schedules'>,
  atMs: number,
): readonly ShiftAt[] {
  const on = new Set(
    schedules.filter((schedule) => scheduleClock(schedule).inside(atMs)).map(({ id }) => id),
  );
  const shifts = new Map<string, { site: string; schedule: string; people: Map<PersonId, number> }>();
  for (const { id, roster = [] } of people)
    for (const { site, schedule, share = 1 } of roster) {
      if (!on.has(schedule)) continue;
      const key = `${site} ${schedule}`;
      const shift = shifts.get(key) ?? { site, schedule, people: new Map<PersonId, number>() };
      shift.people.set(id, Math.max(share, shift.people.get(id) ?? 0));
      shifts.set(key, shift);
    }
  return [...shifts.values()].map(({ people: come, ...shift }) => ({
    ...shift,
    people: [...come].map(([person, share]) => ({ person, share })),
  }));
}
