import { isSame } from '../../editing';

/** What two changes of one object come to together; where both changed the same, the place as a path. */
export interface Merged {
  readonly merged: unknown;
  readonly clashes: readonly string[];
}

type Json = Record<string, unknown>;
const isRecord = (value: unknown): value is Json =>
  typeof value === 'object' && value !== null && !Array.isArray(value);
const nameOf = (item: unknown): string | null => {
  if (typeof item === 'string') return item;
  const name = isRecord(item) ? (item.id ?? item.endpoint) : null;
  return typeof name === 'string' ? name : null;
};

/** A list whose items have names of their own, as a record in its order; null if it is none. */
function byName(value: unknown): ReadonlyMap<string, unknown> | null {
  if (!Array.isArray(value)) return null;
  const map = new Map<string, unknown>();
  for (const item of value as readonly unknown[]) {
    const name = nameOf(item);
    if (name === null || map.has(name)) return null;
    map.set(name, item);
  }
  return map;
}

/**
 * Brings two changes of the same object together: what only one of them changed is taken from that one; what both
 * changed in different ways is a clash, in which mine stands.
 * @param base what both began with
 */
export function mergeThree(base: unknown, mine: unknown, theirs: unknown, path = ''): Merged {
  if (isSame(mine, theirs) || isSame(base, theirs)) return { merged: mine, clashes: [] };
  if (isSame(base, mine)) return { merged: theirs, clashes: [] };
  if (isRecord(base) && isRecord(mine) && isRecord(theirs)) {
    const clashes: string[] = [];
    const merged: Json = {};
    for (const key of new Set([...Object.keys(theirs), ...Object.keys(mine)])) {
      const each = mergeThree(base[key], mine[key], theirs[key], path ? `${path}.${key}` : key);
      clashes.push(...each.clashes);
      if (each.merged !== undefined) merged[key] = each.merged;
    }
    return { merged, clashes };
  }
  const lists = [byName(base), byName(mine), byName(theirs)] as const;
  if (lists[0] && lists[1] && lists[2]) return mergeLists(lists[0], lists[1], lists[2], path);
  return { merged: mine, clashes: [path] };
}

function mergeLists(
  base: ReadonlyMap<string, unknown>,
  mine: ReadonlyMap<string, unknown>,
  theirs: ReadonlyMap<string, unknown>,
  path: string,
): Merged {
  const clashes: string[] = [];
  const orderOf = (map: ReadonlyMap<string, unknown>) => [...map.keys()].filter((name) => base.has(name));
  const isMoved = (map: ReadonlyMap<string, unknown>) =>
    orderOf(map).join() !== [...base.keys()].filter((name) => map.has(name)).join();
  const both = (map: ReadonlyMap<string, unknown>) =>
    [...map.keys()].filter((name) => mine.has(name) && theirs.has(name)).join();
  const moved = isMoved(mine);
  const first = moved ? mine : theirs;
  if (moved && isMoved(theirs) && both(mine) !== both(theirs)) clashes.push(`${path}.order`);
  const names = new Set([...first.keys(), ...mine.keys(), ...theirs.keys()]);
  const merged = [...names].flatMap((name) => {
    const each = mergeThree(base.get(name), mine.get(name), theirs.get(name), `${path}[${name}]`);
    clashes.push(...each.clashes);
    return each.merged === undefined ? [] : [each.merged];
  });
  return { merged, clashes };
}
