import type { KeptPromise, PersonId } from '../../estate';

/** Of the promises that are kept an eye on, those that are kept for a person. */
export const promisesFor = (
  kept: readonly KeptPromise[] | undefined,
  person: PersonId,
): readonly KeptPromise[] => (kept ?? []).filter(({ people }) => !people || people.includes(person));
