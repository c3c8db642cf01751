/** Where values that came one after another changed their level. */
export interface LevelChange {
  /** The first value of the new level. */
  readonly at: number;
  /** Medians before it and from it on. */
  readonly before: number;
  readonly after: number;
  /** The chance of so clear a change where there is none, counted over all places it could be at. */
  readonly p: number;
}

const median = (values: readonly number[]): number => {
  const sorted = [...values].sort((a, b) => a - b);
  const half = sorted.length >> 1;
  return sorted.length % 2 === 1 ? sorted[half]! : (sorted[half - 1]! + sorted[half]!) / 2;
};

/** Mean ranks, ties sharing theirs. */
function ranksOf(values: readonly number[]): number[] {
  const order = values.map((_, at) => at).sort((a, b) => values[a]! - values[b]!);
  const ranks = new Array<number>(values.length);
  for (let from = 0; from < order.length;) {
    let to = from;
    while (to < order.length && values[order[to]!] === values[order[from]!]) to += 1;
    for (let at = from; at < to; at++) ranks[order[at]!] = (from + to + 1) / 2;
    from = to;
  }
  return ranks;
}

/**
 * The clearest single change of level in values that came one after another, by Pettitt’s test (1979): the place where
 * ranks before and after differ the most; its chance by his approximation 2 exp(−6 K² / (n³ + n²)).
 * @param values in the order in which they came
 * @returns null for fewer than eight, or where all are equal
 */
export function levelChange(values: readonly number[]): LevelChange | null {
  const n = values.length;
  if (n < 8) return null;
  const ranks = ranksOf(values);
  let [sum, most, at] = [0, 0, 0];
  for (let t = 0; t < n - 1; t++) {
    sum += ranks[t]!;
    const u = Math.abs(2 * sum - (t + 1) * (n + 1));
    if (u > most) [most, at] = [u, t + 1];
  }
  if (most === 0) return null;
  return {
    at,
    before: median(values.slice(0, at)),
    after: median(values.slice(at)),
    p: Math.min(1, 2 * Math.exp((-6 * most ** 2) / (n ** 3 + n ** 2))),
  };
}
