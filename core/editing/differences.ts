/** One place where two versions of an object differ; `undefined` where one has nothing. */
export interface Difference {
  /** The place as a path, list items by their id or endpoint where they have one. */
  readonly path: string;
  readonly before: unknown;
  readonly after: unknown;
}

const isRecord = (value: unknown): value is Record<string, unknown> =>
  typeof value === 'object' && value !== null && !Array.isArray(value);

/** Strings in a list are told apart by what they say. */
const nameOf = (item: unknown): string | null => {
  if (typeof item === 'string') return item;
  if (!isRecord(item)) return null;
  const name = item.id ?? item.endpoint;
  return typeof name === 'string' ? name : null;
};

/** Items of a list by name, if each has one of its own. */
function named(items: readonly unknown[]): Map<string, unknown> | null {
  const map = new Map<string, unknown>();
  for (const item of items) {
    const name = nameOf(item);
    if (name === null || map.has(name)) return null;
    map.set(name, item);
  }
  return map;
}

/** Where two JSON values differ, down to the single field; empty if they are the same. */
export function differences(before: unknown, after: unknown, path = ''): Difference[] {
  if (Object.is(before, after)) return [];
  if (isRecord(before) && isRecord(after)) {
    const keys = new Set([...Object.keys(before), ...Object.keys(after)]);
    return [...keys].flatMap((key) => differences(before[key], after[key], path ? `${path}.${key}` : key));
  }
  if (Array.isArray(before) && Array.isArray(after)) {
    const a = named(before);
    const b = named(after);
    if (a && b) {
      const names = new Set([...a.keys(), ...b.keys()]);
      const orders = [
        [...a.keys()].filter((name) => b.has(name)),
        [...b.keys()].filter((name) => a.has(name)),
      ] as const;
      const moved = orders[0].some((name, i) => name !== orders[1][i]);
      return [
        ...(moved ? [{ path: `${path}.order`, before: orders[0], after: orders[1] }] : []),
        ...[...names].flatMap((name) => differences(a.get(name), b.get(name), `${path}[${name}]`)),
      ];
    }
    const length = Math.max(before.length, after.length);
    return Array.from({ length }, (_, i) => i).flatMap((i) =>
      differences(before[i], after[i], `${path}[${i}]`),
    );
  }
  return [{ path, before, after }];
}

/** Whether two JSON values differ nowhere, as `differences` has it, told at the first place where they do. */
export function isSame(before: unknown, after: unknown): boolean {
  if (Object.is(before, after)) return true;
  if (isRecord(before) && isRecord(after)) {
    for (const key in before) if (!isSame(before[key], after[key])) return false;
    for (const key in after) if (!Object.hasOwn(before, key) && after[key] !== undefined) return false;
    return true;
  }
  if (!Array.isArray(before) || !Array.isArray(after) || before.length !== after.length) return false;
  for (let i = 0; i < before.length; i += 1) if (!isSame(before[i], after[i])) return false;
  return true;
}

/** What is only remembered with a switch, and says nothing that the switch itself does not say. */
const isUntold = (path: string): boolean => path.endsWith('.switchedOff');

/** The differences that are told and counted: each is a setting that somebody knows. */
export const toldDifferences = (before: unknown, after: unknown): Difference[] =>
  differences(before, after).filter(({ path }) => !isUntold(path));
