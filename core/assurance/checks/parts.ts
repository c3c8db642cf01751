import type { Person } from '../../estate';

/** What a check finds in each person by themselves, in the order of the estate; null: nothing. */
export type Parts = <T>(what: string, of: (person: Person) => T | null) => readonly (T | null)[];
/** The same object for as long as a check finds the same in everybody. */
export type PartsMark = (what: string, of: (person: Person) => unknown) => object;
/** What more than one person has: each with the places in the estate of those who have it, in no order. */
export type Shared = (
  what: string,
  of: (person: Person) => readonly string[],
) => ReadonlyMap<string, ReadonlySet<number>>;

/**
 * Keeps what checks of a whole organisation find in each person by themselves, so that after a change only those are
 * looked at again whom it can touch: the rest of a check is a sum over what was found.
 */
export interface PartsKeeper {
  readonly parts: Parts;
  readonly partsMark: PartsMark;
  readonly shared: Shared;
  /**
   * Goes over to the same people, some of them otherwise.
   * @param touched the ids of all whose parts can be other ones
   */
  readonly follow: (people: readonly Person[], touched: readonly string[]) => void;
}

/** What was found in anybody. */
export function foundIn<T>(parts: readonly (T | null)[]): T[] {
  const found: T[] = [];
  for (const each of parts) if (each !== null) found.push(each);
  return found;
}

interface Known {
  readonly values: unknown[];
  readonly stale: Set<number>;
  /** Another one when any of the values became another. */
  mark: object;
}

export function keepParts(first: readonly Person[]): PartsKeeper {
  let people = first;
  let places: ReadonlyMap<string, number> | null = null;
  const known = new Map<string, Known>();
  const havers = new Map<
    string,
    { readonly all: Map<string, Set<number>>; readonly several: Map<string, Set<number>> }
  >();

  /** @param other told of each that became another, before and after */
  function brought<T>(
    what: string,
    of: (person: Person) => T | null,
    other: (at: number, before: T | null, after: T | null) => void,
  ): readonly (T | null)[] {
    const before = known.get(what);
    if (!before) {
      const values = people.map(of);
      known.set(what, { values, stale: new Set(), mark: {} });
      for (const [at, value] of values.entries()) other(at, null, value);
      return values;
    }
    const values = before.values as (T | null)[];
    for (const at of before.stale) {
      const value = of(people[at]!);
      const old = values[at] ?? null;
      other(at, old, value);
      if (JSON.stringify(old) !== JSON.stringify(value)) before.mark = {};
      values[at] = value;
    }
    before.stale.clear();
    return values;
  }

  return {
    parts: (what, of) => brought(what, of, () => {}),
    partsMark: (what, of) => {
      brought(what, of, () => {});
      return known.get(what)!.mark;
    },
    shared: (what, of) => {
      const sums = havers.get(what) ?? {
        all: new Map<string, Set<number>>(),
        several: new Map<string, Set<number>>(),
      };
      havers.set(what, sums);
      const { all, several } = sums;
      brought<readonly string[]>(what, of, (at, before, after) => {
        for (const key of before ?? []) {
          const who = all.get(key);
          who?.delete(at);
          if (who?.size === 0) all.delete(key);
          if ((who?.size ?? 0) < 2) several.delete(key);
        }
        for (const key of after ?? []) {
          const who = all.get(key) ?? new Set<number>();
          who.add(at);
          all.set(key, who);
          if (who.size > 1) several.set(key, who);
        }
      });
      return several;
    },
    follow: (now, touched) => {
      places ??= new Map(now.map(({ id }, at) => [id, at]));
      people = now;
      for (const id of touched) {
        const at = places.get(id);
        if (at !== undefined) for (const { stale } of known.values()) stale.add(at);
      }
    },
  };
}
