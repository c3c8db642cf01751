/** A mean and how far it may be off: half of its 95 % interval. */
export interface Measured {
  readonly mean: number;
  readonly spread: number;
}

/** Student’s t for 19 degrees of freedom, two-sided 95 %. */
const T_95 = 2.093;
const BATCHES = 20;

/** The mean of what follows one another in time, with its interval by batch means: 20 parts as if independent. */
export function measured(values: readonly number[]): Measured {
  const size = Math.floor(values.length / BATCHES);
  const mean = values.reduce((sum, each) => sum + each, 0) / Math.max(1, values.length);
  if (size === 0) return { mean, spread: Number.POSITIVE_INFINITY };
  const means = Array.from(
    { length: BATCHES },
    (_each, n) => values.slice(n * size, (n + 1) * size).reduce((sum, each) => sum + each, 0) / size,
  );
  const middle = means.reduce((sum, each) => sum + each, 0) / BATCHES;
  const variance = means.reduce((sum, each) => sum + (each - middle) ** 2, 0) / (BATCHES - 1);
  return { mean, spread: T_95 * Math.sqrt(variance / BATCHES) };
}
