import type { Person } from './types';

type People = readonly Person[];
const known = new WeakMap<People, ReadonlyMap<string, number>>();
const phones = new WeakMap<People, ReadonlySet<string>>();

/** The places of people in a list, by their ids: worked out once for a list, and for those made of it. */
export function placesOf(people: People): ReadonlyMap<string, number> {
  const before = known.get(people);
  if (before) return before;
  const places = new Map(people.map(({ id }, at) => [id, at]));
  known.set(people, places);
  return places;
}

/** The ids of the phones of people: worked out once for a list, and for those made of it in which no phone came or went. */
export function phonesIn(people: People): ReadonlySet<string> {
  const ids = phones.get(people) ?? new Set(people.flatMap(({ endpoints }) => endpoints.map(({ id }) => id)));
  phones.set(people, ids);
  return ids;
}
const isSamePhones = ({ endpoints: a }: Person, { endpoints: b }: Person): boolean =>
  a.length === b.length && a.every(({ id }, n) => id === b[n]!.id);

/** Somebody by their id. */
export function personIn(people: People, id: string): Person | undefined {
  const at = placesOf(people).get(id);
  return at === undefined ? undefined : people[at];
}

/**
 * A list of people in which some are otherwise, each in the place of whoever has their id; null: somebody is new. What
 * it takes is no matter of how many there are, but for the copy of the list.
 */
export function withOthers(people: People, others: People): People | null {
  const places = placesOf(people);
  if (!others.every(({ id }) => places.has(id))) return null;
  const now = people.slice();
  const had = phones.get(people);
  let isSame = true;
  for (const other of others) {
    const at = places.get(other.id)!;
    isSame &&= isSamePhones(people[at]!, other);
    now[at] = other;
  }
  known.set(now, places);
  if (had && isSame) phones.set(now, had);
  return now;
}

/** Those of some ids, in the order of the list. */
export function peopleIn(people: People, ids: Iterable<string>): People {
  const places = placesOf(people);
  const at = [...ids].flatMap((id) => places.get(id) ?? []).sort((a, b) => a - b);
  return at.map((each) => people[each]!);
}
