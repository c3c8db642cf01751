import type { ReactNode } from 'react';

/** A column of a table. */
export interface Column<T> {
  readonly id: string;
  readonly title: string;
  /** In px, until somebody sets another. */
  readonly width: number;
  /** What it is sorted by, and shown where `show` says nothing else. */
  readonly value: (row: T) => string | number;
  readonly show?: (row: T) => ReactNode;
  readonly mono?: boolean;
  /** Hidden until it is chosen. */
  readonly isExtra?: boolean;
}

export const LEAST_WIDTH = 64;
export const MOST_WIDTH = 640;
/** By how much a column grows or shrinks at a key or tap. */
export const WIDTH_STEP = 32;

export const fitWidth = (width: number): number =>
  Math.round(Math.min(MOST_WIDTH, Math.max(LEAST_WIDTH, width)));

/**
 * Keys chosen after one more is chosen or left out; `through`: and all between it and the one chosen last, as they
 * stand in the table.
 */
export function chosenAfter(
  chosen: ReadonlySet<string>,
  keys: readonly string[],
  key: string,
  through: string | null,
): ReadonlySet<string> {
  const next = new Set(chosen);
  const on = !chosen.has(key);
  const [a, b] = [keys.indexOf(key), through === null ? -1 : keys.indexOf(through)];
  const range = a < 0 || b < 0 ? [key] : keys.slice(Math.min(a, b), Math.max(a, b) + 1);
  for (const each of range)
    if (on) next.add(each);
    else next.delete(each);
  return next;
}
