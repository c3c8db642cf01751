import { placesOf, type Person } from '../../estate';

/** What a check finds in each person by themselves, in the order of the estate; null: nothing. */
export type Parts = <T>(what: string, of: (person: Person) => T | null) => readonly (T | null)[];
/** The same object for as long as a check finds the same in everybody. */
export type PartsMark = (what: string, of: (person: Person) => unknown) => object;

/** What somebody has that others can have too. */
export interface Had {
  readonly keys: readonly string[];
  /** All else that what is made of those who have one of these depends on. */
  readonly of?: string;
}
/** Who has what, by places in the estate, in no order. */
export interface ByKey {
  readonly all: ReadonlyMap<string, ReadonlySet<number>>;
  /** What more than one person has. */
  readonly several: ReadonlyMap<string, ReadonlySet<number>>;
  /** The same object for as long as those who have it are the same, and what is told of them is. */
  readonly markOf: (key: string) => object;
}
export type GroupParts = (what: string, of: (person: Person) => Had | null) => ByKey;

/**
 * Keeps what checks of a whole organisation find in each person by themselves, so that after a change only those are
 * looked at again whom it can touch: the rest of a check is a sum over what was found.
 */
export interface PartsKeeper {
  readonly parts: Parts;
  readonly partsMark: PartsMark;
  readonly groupParts: GroupParts;
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

interface Groups extends ByKey {
  readonly put: (at: number, before: Had | null, after: Had | null) => void;
}
function groups(): Groups {
  const all = new Map<string, Set<number>>();
  const several = new Map<string, Set<number>>();
  const marks = new Map<string, object>();
  return {
    all,
    several,
    markOf: (key) => {
      const mark = marks.get(key) ?? {};
      marks.set(key, mark);
      return mark;
    },
    put: (at, before, after) => {
      for (const key of before?.keys ?? []) {
        marks.delete(key);
        const who = all.get(key);
        who?.delete(at);
        if (who?.size === 0) all.delete(key);
        if ((who?.size ?? 0) < 2) several.delete(key);
      }
      for (const key of after?.keys ?? []) {
        marks.delete(key);
        const who = all.get(key) ?? new Set<number>();
        who.add(at);
        all.set(key, who);
        if (who.size > 1) several.set(key, who);
      }
    },
  };
}

export function keepParts(first: readonly Person[]): PartsKeeper {
  let people = first;
  const known = new Map<string, Known>();
  const grouped = new Map<string, Groups>();

  /** @param other told of each that became another, before and after */
  function brought<T>(
    what: string,
    of: (person: Person) => T | null,
    other: (at: number, before: T | null, after: T | null) => void = () => {},
  ): Known {
    const before = known.get(what);
    if (!before) {
      const values = people.map(of);
      const made: Known = { values, stale: new Set(), mark: {} };
      known.set(what, made);
      for (const [at, value] of values.entries()) other(at, null, value);
      return made;
    }
    for (const at of before.stale) {
      const value = of(people[at]!);
      const old = (before.values[at] ?? null) as T | null;
      before.values[at] = value;
      if (JSON.stringify(old) === JSON.stringify(value)) continue;
      other(at, old, value);
      before.mark = {};
    }
    before.stale.clear();
    return before;
  }

  return {
    parts: <T>(what: string, of: (person: Person) => T | null) =>
      brought(what, of).values as readonly (T | null)[],
    partsMark: (what, of) => brought(what, of).mark,
    groupParts: (what, of) => {
      const found = grouped.get(what) ?? groups();
      grouped.set(what, found);
      brought(what, of, found.put);
      return found;
    },
    follow: (now, touched) => {
      people = now;
      const places = placesOf(now);
      for (const id of touched) {
        const at = places.get(id);
        if (at !== undefined) for (const { stale } of known.values()) stale.add(at);
      }
    },
  };
}
