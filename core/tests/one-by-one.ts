// How many of independent people come, worked out for one after the other: what quicker ways are held to.

/** Chances below it are taken as none. */
const NEGLIGIBLE = 1e-200;

/**
 * How many of independent people come, each with a chance of their own: the Poisson binomial distribution, exactly.
 * @param shares the chance of each, 0 to 1
 * @returns the chance of each number from 0 to all
 */
export function poissonBinomial(shares: readonly number[]): readonly number[] {
  const chances = new Float64Array(shares.length + 1);
  chances[0] = 1;
  let [least, most] = [0, 0];
  for (const share of shares) {
    const stays = 1 - share;
    most += 1;
    for (let k = most; k > least; k -= 1) chances[k] = chances[k]! * stays + chances[k - 1]! * share;
    chances[least] = chances[least]! * stays;
    // What is smaller than anybody asks for is let go of: numbers near the smallest that there are take long.
    while (chances[most]! < NEGLIGIBLE && most > least) chances[most--] = 0;
    while (chances[least]! < NEGLIGIBLE && least < most) chances[least++] = 0;
  }
  return [...chances];
}

/** The chance that more come than there are places. */
export const chanceOfMore = (chances: readonly number[], places: number): number => {
  let sum = 0;
  // From the far end: the smallest first, so that nothing of them is lost.
  for (let k = chances.length - 1; k > places; k--) sum += chances[k] ?? 0;
  return sum;
};
