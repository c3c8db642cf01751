import { differences, isSame } from '../../editing';
import type { Estate, Person } from '../../estate';
import { objectFinder } from './apply';
import { mergeThree } from './merge';
import type { SlateEntry } from './types';

/** What people change many times a day, and no prepared change rests on: their status, and phones switched on and off. */
const isDaily = (path: string): boolean => /^status$|\.(enabled|switchedOff)$/.test(path);

/** Whether two states of a person differ in nothing but what is changed day by day. */
export const onlyDaily = (before: unknown, after: unknown): boolean =>
  differences(before, after).every(({ path }) => isDaily(path));

/** Whether two estates are the same but for what people change day by day. */
export function sameButDaily(before: Estate, after: Estate): boolean {
  const { people: were, ...rest } = before;
  const { people: are, ...now } = after;
  const keys = new Set([...Object.keys(rest), ...Object.keys(now)]) as Set<keyof typeof rest>;
  if ([...keys].some((key) => rest[key] !== now[key] && !isSame(rest[key], now[key]))) return false;
  return (
    were.length === are.length &&
    were.every((person, at) => {
      const other = are[at]!;
      return person === other || (person.id === other.id && onlyDaily(person, other));
    })
  );
}

/**
 * Entries with what was changed day by day since they were made taken in: a slate goes on resting on what it changes.
 * Where it sets the same itself, it has the last word.
 */
export function carryDaily(estate: Estate, entries: readonly SlateEntry[]): readonly SlateEntry[] {
  const find = objectFinder(estate);
  return entries.map((entry) => {
    if (entry.kind !== 'person' || entry.base === null || entry.after === null) return entry;
    const theirs = find(entry) as Person | null;
    if (theirs === null || isSame(entry.base, theirs)) return entry;
    const since = differences(entry.base, theirs);
    if (!since.every(({ path }) => isDaily(path))) return entry;
    const { merged } = mergeThree(entry.base, entry.after, theirs);
    return { ...entry, base: theirs, after: merged };
  });
}
