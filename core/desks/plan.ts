import type { Desk } from '../estate';

/** A desk on the plan of a room; columns and rows from 1, the upper left first. */
export interface DrawnDesk<T> {
  readonly desk: T;
  /** Its name without what all desks of the plan begin with. */
  readonly short: string;
  readonly column: number;
  readonly row: number;
}
/** A part of a site with its desks, as it is drawn. */
export interface DeskRoom<T> {
  /** null: of desks of which it is not said where they stand. */
  readonly area: string | null;
  readonly columns: number;
  readonly rows: number;
  readonly desks: readonly DrawnDesk<T>[];
}

/** Desks that nobody has placed stand in rows of so many. */
const USUAL_COLUMNS = 6;

type Placed = Pick<Desk, 'id' | 'name'> & {
  readonly area?: string | null;
  readonly spot?: Desk['spot'] | null;
};

/** Names without the words that all of them begin with; one that would have none left keeps its last. */
export function shortNames(names: readonly string[]): readonly string[] {
  if (names.length === 0) return [];
  const words = names.map((name) => name.split(/\s+/).filter(Boolean));
  const least = Math.min(...words.map(({ length }) => length));
  let shared = 0;
  while (shared < least - 1 && words.every((each) => each[shared] === words[0]![shared])) shared += 1;
  return words.map((each, n) => each.slice(names.length > 1 ? shared : 0).join(' ') || names[n]!);
}

/**
 * The desks of a site as they are drawn: a room for each area, in the order in which it is first named. Desks stand
 * where they were placed; the others, and any that would stand on another, on the free places row by row.
 */
export function deskPlan<T extends Placed>(desks: readonly T[]): readonly DeskRoom<T>[] {
  const shorts = shortNames(desks.map(({ name }) => name));
  const rooms = new Map<string | null, { readonly desk: T; readonly short: string }[]>();
  desks.forEach((desk, n) => {
    const area = desk.area ?? null;
    rooms.set(area, [...(rooms.get(area) ?? []), { desk, short: shorts[n]! }]);
  });
  return [...rooms].map(([area, here]): DeskRoom<T> => {
    const taken = new Set<string>();
    const placed = new Map<T, { readonly column: number; readonly row: number }>();
    for (const { desk } of here) {
      if (!desk.spot) continue;
      const { column, row } = desk.spot;
      const key = `${column} ${row}`;
      if (taken.has(key)) continue;
      taken.add(key);
      placed.set(desk, { column, row });
    }
    const columns = Math.max(
      placed.size === here.length ? 1 : Math.min(USUAL_COLUMNS, here.length),
      ...[...placed.values()].map(({ column }) => column),
    );
    let next = 0;
    const free = () => {
      for (;;) {
        const place = { column: (next % columns) + 1, row: Math.floor(next / columns) + 1 };
        next += 1;
        if (!taken.has(`${place.column} ${place.row}`)) return place;
      }
    };
    const drawn = here.map(({ desk, short }) => ({ desk, short, ...(placed.get(desk) ?? free()) }));
    return { area, columns, rows: Math.max(...drawn.map(({ row }) => row)), desks: drawn };
  });
}

/** The first letters of somebody's names, two at most, as a plan has room for. */
export const initials = (name: string): string => {
  const words = name.split(/\s+/).filter(Boolean);
  return [words[0], ...(words.length > 1 ? words.slice(-1) : [])]
    .map((word) => [...(word ?? '')][0] ?? '')
    .join('');
};
