/**
 * How many of independent people come, each with a chance of their own: the Poisson binomial distribution, exactly.
 * @param shares the chance of each, 0 to 1
 * @returns the chance of each number from 0 to all
 */
export function poissonBinomial(shares: readonly number[]): readonly number[] {
  const chances = new Float64Array(shares.length + 1);
  chances[0] = 1;
  for (const [seen, share] of shares.entries())
    for (let k = seen + 1; k >= 0; k--)
      chances[k] = (chances[k] ?? 0) * (1 - share) + (k > 0 ? (chances[k - 1] ?? 0) * share : 0);
  return [...chances];
}

/** The chance that more come than there are places. */
export const chanceOfMore = (chances: readonly number[], places: number): number => {
  let sum = 0;
  // From the far end: the smallest first, so that nothing of them is lost.
  for (let k = chances.length - 1; k > places; k--) sum += chances[k] ?? 0;
  return sum;
};
