import { fisherExact, holm } from '../statistics';

/** Something that a call had: which trunk carried it, which phone it came to, at which hour it came. */
export interface Trait {
  /** What kind of thing it is, in a word: trunk, phone, model, site, firmware, hour, day. */
  readonly kind: string;
  readonly id: string;
  readonly name: string;
}
/** One call, and whether it is one of those that are asked about. */
export interface TraitCall {
  readonly isOdd: boolean;
  readonly traits: readonly Trait[];
}

/** What calls that went otherwise have in common. A share beside another, never a cause. */
export interface Pattern extends Trait {
  readonly withIt: { readonly odd: number; readonly all: number };
  readonly without: { readonly odd: number; readonly all: number };
  /** The chance of so much by accident, corrected for all that was asked. */
  readonly p: number;
}

/** More than these are not asked about at once: those most calls have come first. */
const MOST_TRAITS = 5000;
/** What fewer odd calls than these have is told of nobody. */
const FEWEST = 3;
const CLEAR_P = 0.01;

/**
 * What the odd ones among calls have more often than the others: Fisher’s exact test for each trait, corrected for
 * all of them by Holm, the clearest first.
 */
export function patternsOf(calls: readonly TraitCall[]): readonly Pattern[] {
  const counted = new Map<string, { readonly trait: Trait; odd: number; all: number }>();
  let odd = 0;
  for (const { isOdd, traits } of calls) {
    if (isOdd) odd += 1;
    for (const trait of new Map(traits.map((each) => [`${each.kind}/${each.id}`, each])).values()) {
      const key = `${trait.kind}/${trait.id}`;
      const count = counted.get(key) ?? { trait, odd: 0, all: 0 };
      counted.set(key, count);
      count.all += 1;
      if (isOdd) count.odd += 1;
    }
  }
  const asked = [...counted.values()]
    .filter(({ all }) => all < calls.length)
    .sort((a, b) => b.odd - a.odd)
    .slice(0, MOST_TRAITS);
  const chances = holm(
    asked.map(({ odd: own, all }) =>
      fisherExact(own, all - own, odd - own, calls.length - all - (odd - own)),
    ),
  );
  return asked
    .map(({ trait, odd: own, all }, at): Pattern => ({
      ...trait,
      withIt: { odd: own, all },
      without: { odd: odd - own, all: calls.length - all },
      p: chances[at]!,
    }))
    .filter(
      ({ withIt, without, p }) =>
        p < CLEAR_P &&
        withIt.odd >= FEWEST &&
        withIt.odd / withIt.all > without.odd / Math.max(1, without.all),
    )
    .sort((a, b) => a.p - b.p || b.withIt.odd - a.withIt.odd);
}
