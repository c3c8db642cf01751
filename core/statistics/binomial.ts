/** Chances of numbers from `least` on; of all others there is none worth naming. */
export interface Coming {
  readonly least: number;
  readonly chances: readonly number[];
}

/** Beside the likeliest number, what is so much rarer is let go of. */
const FAR_RARER = 1e-40;

/** How many of so many come, each with the same chance: the binomial distribution, from its likeliest number outwards. */
function binomial(count: number, share: number): Coming {
  if (share <= 0) return { least: 0, chances: [1] };
  if (share >= 1) return { least: count, chances: [1] };
  const odds = share / (1 - share);
  const likeliest = Math.min(count, Math.floor((count + 1) * share));
  const below: number[] = [];
  for (let k = likeliest, at = 1; k > 0; k -= 1) {
    at *= k / ((count - k + 1) * odds);
    if (at < FAR_RARER) break;
    below.push(at);
  }
  const above: number[] = [];
  for (let k = likeliest, at = 1; k < count; k += 1) {
    at *= ((count - k) * odds) / (k + 1);
    if (at < FAR_RARER) break;
    above.push(at);
  }
  const all = [...below.reverse(), 1, ...above];
  const sum = all.reduce((total, each) => total + each, 0);
  return { least: likeliest - below.length, chances: all.map((each) => each / sum) };
}

/** How many come of two crowds together. */
function together(a: Coming, b: Coming): Coming {
  const chances = new Float64Array(a.chances.length + b.chances.length - 1);
  b.chances.forEach((chance, k) => {
    for (let i = 0; i < a.chances.length; i += 1) chances[i + k] = chances[i + k]! + a.chances[i]! * chance;
  });
  let [from, to] = [0, chances.length];
  const most = chances.reduce((highest, each) => Math.max(highest, each), 0);
  while (chances[from]! < most * FAR_RARER) from += 1;
  while (chances[to - 1]! < most * FAR_RARER) to -= 1;
  return { least: a.least + b.least + from, chances: [...chances.subarray(from, to)] };
}

/**
 * How many come of crowds in each of which everybody has the same chance: the Poisson binomial distribution, but for
 * numbers that are 1e-40 as likely as the likeliest. Thousands with the same chance take no longer than a few.
 * @param crowds the chance of each in a crowd, and how many they are
 */
export const comingOf = (crowds: Iterable<readonly [share: number, count: number]>): Coming =>
  [...crowds].reduce<Coming>((so, [share, count]) => together(so, binomial(count, share)), {
    least: 0,
    chances: [1],
  });

/** The chance that more come than there are places. */
export function comingMore({ least, chances }: Coming, places: number): number {
  if (places < least) return 1;
  let sum = 0;
  // From the far end: the smallest first, so that nothing of them is lost.
  for (let k = chances.length - 1; k > places - least; k -= 1) sum += chances[k]!;
  return sum;
}

/** The fewest places with which the chance that somebody finds none is at most so much. */
export function placesFor({ least, chances }: Coming, chance: number): number {
  if (chance >= 1) return 0;
  let sum = 0;
  for (let k = chances.length - 1; k >= 0; k -= 1) {
    sum += chances[k]!;
    if (sum > chance) return least + k;
  }
  return least;
}
