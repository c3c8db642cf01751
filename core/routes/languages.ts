import {
  AutomatonBuilder,
  compareWords,
  living,
  ORDER,
  run,
  symbolAt,
  wordsOf,
  WIDTH,
  type Automaton,
} from './automaton';
import type { Rewrite } from './types';

/** A set of strings: those that lead to one of some states of an automaton, less some single ones. */
export interface Regular {
  readonly automaton: Automaton;
  readonly states: readonly number[];
  readonly except: ReadonlySet<string>;
  /** The smallest string of the states, whether it is one of the exceptions or not, where it is known. */
  readonly first?: string;
}
/** Any set of strings that a table can tell apart: a regular one, or single strings. */
export type Language =
  | { readonly regular: Regular; readonly words?: never }
  | { readonly words: readonly string[]; readonly regular?: never };

/** The smallest string of a set; null: it has none. */
export function smallest(language: Language): string | null {
  if (language.words) {
    let best: string | null = null;
    for (const word of language.words) if (best === null || compareWords(word, best) < 0) best = word;
    return best;
  }
  const { automaton, states, except, first } = language.regular;
  if (first !== undefined && !except.has(first)) return first;
  for (const word of wordsOf(automaton, states)) if (!except.has(word)) return word;
  return null;
}

/** A number with leading characters taken off and others put before. */
export const rewritten = (number: string, rewrite: Rewrite | undefined): string =>
  rewrite ? rewrite.prepend + number.slice(rewrite.drop) : number;

/** Strings as they are after a rewriting. */
export interface Rewriting {
  readonly language: Language;
  readonly rewrite: Rewrite | undefined;
}

/** How many strings of a set become one given string, told apart only as 0 or more; exceptions are counted off. */
class Preimages {
  private readonly heads: Map<number, number>;
  private readonly short: number;
  private readonly exceptions = new Map<string, number>();
  private readonly accepting: Set<number>;
  readonly drop: number;
  readonly prepend: string;

  constructor(
    readonly regular: Regular,
    readonly alive: Uint8Array,
    rewrite: Rewrite | undefined,
  ) {
    this.drop = rewrite?.drop ?? 0;
    this.prepend = rewrite?.prepend ?? '';
    const { automaton, states, except } = regular;
    this.accepting = new Set(states);
    let heads = new Map<number, number>();
    if (alive[automaton.start] === 1) heads.set(automaton.start, 1);
    let short = 0;
    for (let taken = 0; taken < this.drop; taken += 1) {
      const further = new Map<number, number>();
      for (const [state, ways] of heads) {
        if (this.accepting.has(state)) short += ways;
        for (let symbol = 0; symbol < WIDTH; symbol += 1) {
          const to = automaton.next[state * WIDTH + symbol]!;
          if (to >= 0 && alive[to] === 1) further.set(to, (further.get(to) ?? 0) + ways);
        }
      }
      heads = further;
    }
    this.heads = heads;
    this.short = short;
    for (const word of except) {
      const state = run(automaton, automaton.start, word);
      if (state < 0 || !this.accepting.has(state)) continue;
      const tail = word.slice(this.drop);
      this.exceptions.set(tail, (this.exceptions.get(tail) ?? 0) + 1);
    }
  }

  /** The states in which a string is once its dropped symbols are read. */
  get afterDrop(): readonly number[] {
    return [...this.heads.keys()];
  }

  /** Whether a string shorter than what is dropped, or just as long, is in the set. */
  get hasEmptied(): boolean {
    return this.short > 0 || [...this.heads.keys()].some((state) => this.accepting.has(state));
  }

  accepts(state: number): boolean {
    return this.accepting.has(state);
  }

  makes(word: string): boolean {
    if (!word.startsWith(this.prepend)) return false;
    const tail = word.slice(this.prepend.length);
    let ways = tail === '' ? this.short : 0;
    for (const [state, count] of this.heads) {
      const to = run(this.regular.automaton, state, tail);
      if (to >= 0 && this.accepting.has(to)) ways += count;
    }
    return ways > (this.exceptions.get(tail) ?? 0);
  }

  /** What the exceptions become. */
  *exceptionImages(): Generator<string> {
    for (const tail of this.exceptions.keys()) yield this.prepend + tail;
  }
}

/**
 * What several sets of strings become, each by its own rewriting: exactly the strings that some string of them
 * becomes.
 * @returns one regular set and one of single strings, either left out where it is empty
 */
export function imageOf(rewritings: readonly Rewriting[]): readonly Language[] {
  const words = new Set<string>();
  const sources: Preimages[] = [];
  const alive = new Map<Regular, Uint8Array>();
  for (const { language, rewrite } of rewritings) {
    if (language.words) for (const word of language.words) words.add(rewritten(word, rewrite));
    else {
      const { regular } = language;
      const lives = alive.get(regular) ?? living(regular.automaton, regular.states);
      alive.set(regular, lives);
      sources.push(new Preimages(regular, lives, rewrite));
    }
  }
  const regular = sources.length > 0 ? union(sources) : null;
  return [...(regular ? [{ regular }] : []), ...(words.size > 0 ? [{ words: [...words] }] : [])];
}

/** One place in one source: symbols of what is put before still to come, or a state of its automaton. */
type SourcePlace = readonly [source: number, toCome: number, state: number];

function union(sources: readonly Preimages[]): Regular | null {
  const builder = new AutomatonBuilder();
  const sets: (readonly SourcePlace[])[] = [];
  const accepting: number[] = [];
  const settle = (places: readonly SourcePlace[]): readonly SourcePlace[] => {
    const settled = new Map<string, SourcePlace>();
    const add = (place: SourcePlace) => void settled.set(place.join(','), place);
    for (const [source, toCome, state] of places) {
      if (toCome > 0 || state >= 0) {
        add([source, toCome, state]);
        continue;
      }
      for (const head of sources[source]!.afterDrop) add([source, 0, head]);
      if (sources[source]!.hasEmptied) add([source, 0, -2]);
    }
    return [...settled.values()].sort((a, b) => a[0] - b[0] || a[1] - b[1] || a[2] - b[2]);
  };
  const stateOf = (places: readonly SourcePlace[]): number => {
    const settled = settle(places);
    if (settled.length === 0) return -1;
    const key = settled.map((place) => place.join(',')).join(';');
    const before = builder.size;
    const state = builder.state(key);
    if (state === before) {
      sets.push(settled);
      if (
        settled.some(
          ([source, toCome, at]) => toCome === 0 && (at === -2 || (at >= 0 && sources[source]!.accepts(at))),
        )
      )
        accepting.push(state);
    }
    return state;
  };
  const start = stateOf(sources.map(({ prepend }, source) => [source, prepend.length, -1]));
  for (let state = 0; state < builder.size; state += 1)
    for (const symbol of ORDER) {
      const further: SourcePlace[] = [];
      for (const [source, toCome, at] of sets[state]!) {
        const { prepend, regular, alive } = sources[source]!;
        if (toCome > 0) {
          if (symbolAt(prepend, prepend.length - toCome) === symbol) further.push([source, toCome - 1, -1]);
        } else if (at >= 0) {
          const to = regular.automaton.next[at * WIDTH + symbol]!;
          if (to >= 0 && alive[to] === 1) further.push([source, 0, to]);
        }
      }
      const to = further.length > 0 ? stateOf(further) : -1;
      if (to >= 0) builder.link(state, symbol, to);
    }
  if (start < 0 || accepting.length === 0) return null;
  const except = new Set<string>();
  for (const source of sources)
    for (const word of source.exceptionImages())
      if (!sources.some((each) => each.makes(word))) except.add(word);
  return { automaton: builder.finish(start), states: accepting, except };
}

/** The smallest string of a set that a rewriting makes into the given one; null: none. */
export function preimage({ language, rewrite }: Rewriting, word: string): string | null {
  if (!rewrite) return holds(language, word) ? word : null;
  if (language.words)
    return smallest({ words: language.words.filter((each) => rewritten(each, rewrite) === word) });
  const { regular } = language;
  const { drop, prepend } = rewrite;
  if (!word.startsWith(prepend)) return null;
  const tail = word.slice(prepend.length);
  const accepting = new Set(regular.states);
  // A copy of the automaton that counts the symbols dropped, then reads the tail.
  const builder = new AutomatonBuilder();
  const { automaton } = regular;
  const places: [number, number][] = [];
  const ends: number[] = [];
  const add = (state: number, at: number) => {
    const before = builder.size;
    const id = builder.state(state * 4096 + at);
    if (id === before) {
      places.push([state, at]);
      if (accepting.has(state) && (at === drop + tail.length || (tail === '' && at < drop))) ends.push(id);
    }
    return id;
  };
  const start = add(automaton.start, 0);
  for (let id = 0; id < builder.size; id += 1) {
    const [state, at] = places[id]!;
    if (at >= drop + tail.length) continue;
    const only = at < drop ? null : symbolAt(tail, at - drop);
    for (const symbol of only === null ? ORDER : [only]) {
      const to = symbol < 0 ? -1 : automaton.next[state * WIDTH + symbol]!;
      if (to >= 0) builder.link(id, symbol, add(to, at + 1));
    }
  }
  for (const found of wordsOf(builder.finish(start), ends)) if (!regular.except.has(found)) return found;
  return null;
}

/** Whether a string is in a set. */
export function holds(language: Language, word: string): boolean {
  if (language.words) return language.words.includes(word);
  const { automaton, states, except } = language.regular;
  const state = run(automaton, automaton.start, word);
  return state >= 0 && states.includes(state) && !except.has(word);
}
