import { xoroshiro128plus } from 'pure-rand';

/** Numbers by chance that come again for the same seed. */
export interface Random {
  /** From 0 up to, but never, 1. */
  readonly next: () => number;
  /** A time that runs out at any moment with the same chance. @param mean above 0 */
  readonly exponential: (mean: number) => number;
}

export function randomFrom(seed: number): Random {
  const source = xoroshiro128plus(seed);
  const next = () => (source.unsafeNext() >>> 0) / 4_294_967_296;
  return { next, exponential: (mean) => -mean * Math.log(1 - next()) };
}
