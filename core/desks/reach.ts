import { scheduleClock } from '../calls/time';
import type { Estate, Person } from '../estate';

/** How likely somebody must come by their roster to be taken as there. */
const LIKELY = 0.5;

/** Whether the roster has somebody at a shared desk at an instant, with a share above a half. */
export function isRostered(
  { roster = [] }: Pick<Person, 'roster'>,
  { schedules }: Pick<Estate, 'schedules'>,
  atMs: number,
): boolean {
  return roster.some(({ schedule, share = 1 }) => {
    const known = share > LIKELY ? schedules.find(({ id }) => id === schedule) : undefined;
    return known !== undefined && scheduleClock(known).inside(atMs);
  });
}

/**
 * Phones that are whichever shared desk somebody is signed on to, of those who are signed on nowhere: they are not
 * registered. A second one of a person never is.
 * @param isOn whether somebody is signed on
 */
export const deskPhonesAway = (
  people: readonly Person[],
  isOn: (person: Person) => boolean,
): readonly string[] =>
  people.flatMap((person) => {
    const hot = person.endpoints.filter(({ kind }) => kind === 'hot-desk').map(({ id }) => id);
    return hot.length > 0 && isOn(person) ? hot.slice(1) : hot;
  });

/** The same as the world of a call has them. */
export const awayBehaviours = (
  people: readonly Person[],
  isOn: (person: Person) => boolean,
): Readonly<Record<string, { readonly state: 'unregistered' }>> =>
  Object.fromEntries(deskPhonesAway(people, isOn).map((id) => [id, { state: 'unregistered' }]));
