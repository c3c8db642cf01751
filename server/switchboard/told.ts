import { changedPeople, hasSamePhones } from '../../core/changes/slate';
import type { Estate, Person } from '../../core/estate';

/** After changes of more people than this all of the estate is told. */
const MOST_PEOPLE = 500;

/**
 * The people of whom alone the stand-ins need be told: most changes are of a few whose phones stay theirs, so that no
 * account is another.
 * @param told the estate that they were told of last
 * @returns null: all of the estate is to be told
 */
export function fewPeople(told: Estate | null, now: Estate): readonly Person[] | null {
  const changed = told && changedPeople(told, now);
  return changed && changed.length <= MOST_PEOPLE && changed.every(hasSamePhones)
    ? changed.map(({ after }) => after)
    : null;
}
