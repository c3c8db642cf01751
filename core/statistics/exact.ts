/** ln n!, by summing up; kept for what was asked before. */
const logFactorials: number[] = [0];
function logFactorial(n: number): number {
  for (let k = logFactorials.length; k <= n; k++) logFactorials.push(logFactorials[k - 1]! + Math.log(k));
  return logFactorials[n]!;
}
const logChoose = (n: number, k: number): number => logFactorial(n) - logFactorial(k) - logFactorial(n - k);

/** Tables of the same margins that are as unlikely as the one seen are told from it by less than this. */
const TIE = 1e-7;

/**
 * Fisher’s exact test of a two by two table, two-sided: the chance, given the margins, of a table that is no likelier
 * than this one.
 * @param a with the feature and the outcome, @param b with the feature alone, @param c with the outcome alone, @param d
 *   with neither; whole, 0 or more
 */
export function fisherExact(a: number, b: number, c: number, d: number): number {
  const [row, column, n] = [a + b, a + c, a + b + c + d];
  if (n === 0) return 1;
  const logTotal = logChoose(n, column);
  const chance = (k: number) => Math.exp(logChoose(row, k) + logChoose(n - row, column - k) - logTotal);
  const seen = chance(a);
  let p = 0;
  for (let k = Math.max(0, row + column - n); k <= Math.min(row, column); k++) {
    const each = chance(k);
    if (each <= seen * (1 + TIE)) p += each;
  }
  return Math.min(1, p);
}

/**
 * Chances corrected for having asked many questions, by Holm: the nth smallest of m counts m + 1 − n times, and none
 * less than one before it. In the order given.
 */
export function holm(chances: readonly number[]): readonly number[] {
  const order = chances.map((_, at) => at).sort((x, y) => chances[x]! - chances[y]!);
  const corrected = new Array<number>(chances.length).fill(1);
  let most = 0;
  for (const [rank, at] of order.entries()) {
    most = Math.max(most, Math.min(1, chances[at]! * (chances.length - rank)));
    corrected[at] = most;
  }
  return corrected;
}

/** Of a 95 % interval of a normal distribution, the upper end. */
export const Z95 = 1.959963984540054;

/** The 95 % interval of a share by Wilson’s score. @returns null where nothing was counted */
export function wilson(of: number, n: number): { readonly low: number; readonly high: number } | null {
  if (n <= 0) return null;
  const [p, z2] = [of / n, Z95 ** 2];
  const middle = (p + z2 / (2 * n)) / (1 + z2 / n);
  const width = (Z95 * Math.sqrt((p * (1 - p)) / n + z2 / (4 * n * n))) / (1 + z2 / n);
  return { low: Math.max(0, middle - width), high: Math.min(1, middle + width) };
}

/**
 * A quantile of what was measured, between two values in proportion (type 7 of Hyndman and Fan, 1996).
 * @param sorted ascending, not empty
 * @param q 0 to 1
 */
export function quantile(sorted: readonly number[], q: number): number {
  const at = (sorted.length - 1) * q;
  const below = Math.floor(at);
  const low = sorted[below]!;
  return low + (at - below) * ((sorted[below + 1] ?? low) - low);
}
