/** An id that is free: the base itself, or with the next number from 2 on. */
export function freeId(base: string, taken: Iterable<string>): string {
  const known = new Set(taken);
  let id = base;
  for (let n = 2; known.has(id); n += 1) id = `${base}-${n}`;
  return id;
}

/** A list with one of its items at another place, as near as the list allows. */
export function moved<T>(items: readonly T[], from: number, to: number): readonly T[] {
  const item = items[from];
  if (item === undefined) return items;
  const rest = items.filter((_, i) => i !== from);
  const at = Math.max(0, Math.min(to, rest.length));
  return [...rest.slice(0, at), item, ...rest.slice(at)];
}
