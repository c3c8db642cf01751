import type { Estate } from '../../estate';

/** A person taken to have another status. */
export interface AsIf {
  readonly person: string;
  readonly status: string;
}

/** An estate with one person's status as if it were another; null: as it is. */
export const estateAsIf = (estate: Estate, asIf: AsIf | null): Estate =>
  asIf
    ? {
        ...estate,
        people: estate.people.map((each) =>
          each.id === asIf.person ? { ...each, status: asIf.status } : each,
        ),
      }
    : estate;
