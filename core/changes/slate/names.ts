import { OBJECT_LISTS, type Estate } from '../../estate';
import type { Difference } from '../../editing';

/** Names by id. */
export type Names = Readonly<Record<string, string>>;
/** A change with the names of what it speaks of by id. */
export interface ToldChange extends Difference {
  readonly names?: Names;
}

const isObject = (value: unknown): value is Readonly<Record<string, unknown>> =>
  typeof value === 'object' && value !== null && !Array.isArray(value);

/** Every object within a value that has an id and a name (or a label), by its id. */
function gather(value: unknown, into: Map<string, string>): void {
  if (Array.isArray(value)) {
    for (const each of value) gather(each, into);
    return;
  }
  if (!isObject(value)) return;
  const name = value.name ?? value.label;
  if (typeof value.id === 'string' && typeof name === 'string' && name !== '') into.set(value.id, name);
  for (const each of Object.values(value)) if (typeof each === 'object') gather(each, into);
}

/** The names of everything in an estate that is spoken of by its id: objects, people, their phones. */
export function namesOf(estate: Estate): ReadonlyMap<string, string> {
  const names = new Map<string, string>();
  for (const list of [...new Set(Object.values(OBJECT_LISTS)), 'people' as const])
    for (const each of (estate[list] ?? []) as readonly { id: string; name: string }[])
      names.set(each.id, each.name);
  for (const person of estate.people)
    for (const { id, label } of person.endpoints) if (label) names.set(id, label);
  return names;
}

/** The ids that a change speaks of: those its path goes through, and those it sets. */
function* spokenOf({ path, before, after }: Difference): Generator<string> {
  for (const [, id] of path.matchAll(/\[([^\]]+)\]/g)) if (id) yield id;
  const strings = function* (value: unknown): Generator<string> {
    if (typeof value === 'string') yield value;
    else if (typeof value === 'object' && value !== null)
      for (const each of Object.values(value)) yield* strings(each);
  };
  yield* strings(before);
  yield* strings(after);
}

/**
 * Changes with the names of what they speak of by id.
 * @param names of the estate; what the changed things hold themselves (rules, phones) goes before
 * @param things what was changed, before and after
 */
export function withNames(
  changes: readonly Difference[],
  names: Pick<ReadonlyMap<string, string>, 'get'>,
  ...things: readonly unknown[]
): readonly ToldChange[] {
  const own = new Map<string, string>();
  for (const thing of things) gather(thing, own);
  return changes.map((change) => {
    const said: Record<string, string> = {};
    for (const id of spokenOf(change)) {
      const name = own.get(id) ?? names.get(id);
      if (name !== undefined && name !== id) said[id] = name;
    }
    return Object.keys(said).length > 0 ? { ...change, names: said } : change;
  });
}
