/** Things by the time at which they are due: the earliest comes first, of equals the one that was put first. */
export interface Due<T> {
  readonly put: (at: number, what: T) => void;
  readonly take: () => { readonly at: number; readonly what: T } | undefined;
  readonly size: () => number;
}

/** A binary heap. */
export function dueHeap<T>(): Due<T> {
  const times: number[] = [];
  const turns: number[] = [];
  const things: T[] = [];
  let turn = 0;
  const isBefore = (a: number, b: number) =>
    times[a]! < times[b]! || (times[a] === times[b] && turns[a]! < turns[b]!);
  const swap = (a: number, b: number) => {
    [times[a], times[b]] = [times[b]!, times[a]!];
    [turns[a], turns[b]] = [turns[b]!, turns[a]!];
    [things[a], things[b]] = [things[b]!, things[a]!];
  };
  return {
    size: () => times.length,
    put: (at, what) => {
      let here = times.length;
      times.push(at);
      turns.push(turn);
      things.push(what);
      turn += 1;
      while (here > 0) {
        const above = (here - 1) >> 1;
        if (!isBefore(here, above)) break;
        swap(here, above);
        here = above;
      }
    },
    take: () => {
      const last = times.length - 1;
      if (last < 0) return undefined;
      swap(0, last);
      const at = times.pop()!;
      turns.pop();
      const what = things.pop()!;
      for (let here = 0; ;) {
        const [left, right] = [2 * here + 1, 2 * here + 2];
        let least = here;
        if (left < last && isBefore(left, least)) least = left;
        if (right < last && isBefore(right, least)) least = right;
        if (least === here) break;
        swap(here, least);
        here = least;
      }
      return { at, what };
    },
  };
}
