import {
  AutomatonBuilder,
  compareWords,
  living,
  ORDER,
  run,
  shortestWords,
  WIDTH,
  type Automaton,
} from './automaton';
import { smallest, type Language } from './languages';
import type { TextMachine } from './machine';

const HEAD = 4;

/** Which lists each listed string is on; the same combination of lists has the same id, 0 that of none. */
export class Memberships {
  private readonly of = new Map<string, number>();
  private heads: Map<string, Map<string, string[]>> | undefined;
  readonly lists: (readonly number[])[] = [[]];
  private readonly further: Map<number, number>[] = [new Map()];

  /** @param lists the strings of each list, by its place */
  constructor(lists: readonly (readonly string[])[]) {
    lists.forEach((words, list) => {
      for (const word of words) {
        const before = this.of.get(word) ?? 0;
        if (this.lists[before]!.at(-1) === list) continue;
        let id = this.further[before]!.get(list);
        if (id === undefined) {
          id = this.lists.length;
          this.lists.push([...this.lists[before]!, list]);
          this.further.push(new Map());
          this.further[before]!.set(list, id);
        }
        this.of.set(word, id);
      }
    });
  }

  /**
   * The listed strings that an automaton does not give up on within their first symbols. Strings that begin alike are
   * looked at together, so that a narrow automaton passes over most of a long list at once.
   */
  *within(automaton: Automaton): Generator<readonly [word: string, member: number]> {
    this.heads ??= this.byHead();
    for (const [head, neighbours] of this.heads) {
      if (run(automaton, automaton.start, head) < 0) continue;
      for (const [longer, words] of neighbours)
        if (run(automaton, automaton.start, longer) >= 0)
          for (const word of words) yield [word, this.idOf(word)];
    }
  }

  private byHead(): Map<string, Map<string, string[]>> {
    const heads = new Map<string, Map<string, string[]>>();
    for (const word of this.of.keys()) {
      const head = word.slice(0, HEAD);
      const longer = word.slice(0, HEAD * 2);
      let neighbours = heads.get(head);
      if (!neighbours) {
        neighbours = new Map();
        heads.set(head, neighbours);
      }
      const words = neighbours.get(longer);
      if (words) words.push(word);
      else neighbours.set(longer, [word]);
    }
    return heads;
  }
  idOf(word: string): number {
    return this.of.get(word) ?? 0;
  }
}

/** Strings that no condition and no list tells apart. */
export interface Atom {
  readonly text: number;
  readonly member: number;
  readonly language: Language;
  /** The smallest of them. */
  readonly first: string;
}

/** Parts a set of strings into those that neither the conditions of a machine nor lists tell apart. */
export function split(language: Language, machine: TextMachine, members: Memberships): Atom[] {
  return language.words
    ? splitWords(language.words, machine, members)
    : splitRegular(language, machine, members);
}

function splitWords(words: readonly string[], machine: TextMachine, members: Memberships): Atom[] {
  const groups = new Map<number, string[]>();
  for (const word of words) {
    const text = machine.read(word);
    if (text !== null) put(groups, text, members.idOf(word), word);
  }
  return atomsOf(groups);
}

// A number that holds both: up to 2^21 combinations of lists.
const keyOf = (text: number, member: number) => text * 2_097_152 + member;
function put(groups: Map<number, string[]>, text: number, member: number, word: string): void {
  const key = keyOf(text, member);
  const group = groups.get(key);
  if (group) group.push(word);
  else groups.set(key, [word]);
}
const atomsOf = (groups: ReadonlyMap<number, string[]>): Atom[] =>
  [...groups].map(([key, words]) => ({
    text: Math.floor(key / 2_097_152),
    member: key % 2_097_152,
    language: { words },
    first: words.reduce((best, word) => (compareWords(word, best) < 0 ? word : best)),
  }));

function splitRegular(
  { regular }: Language & { readonly regular: object },
  machine: TextMachine,
  members: Memberships,
): Atom[] {
  const { automaton: source, states: accepting, except } = regular;
  const alive = living(source, accepting);
  if (alive[source.start] === 0) return [];
  const isAccepting = new Uint8Array(source.size);
  for (const state of accepting) isAccepting[state] = 1;
  const builder = new AutomatonBuilder();
  const pairs: [number, number][] = [];
  const add = (from: number, read: number): number => {
    const before = builder.size;
    const state = builder.state(read * 2_097_152 + from);
    if (state === before) pairs.push([from, read]);
    return state;
  };
  const start = add(source.start, machine.start);
  for (let state = 0; state < builder.size; state += 1) {
    const [from, read] = pairs[state]!;
    for (const symbol of ORDER) {
      const to = source.next[from * WIDTH + symbol]!;
      if (to >= 0 && alive[to] === 1) builder.link(state, symbol, add(to, machine.step(read, symbol)));
    }
  }
  const automaton: Automaton = builder.finish(start);
  const shortest = shortestWords(automaton);
  const classAt = pairs.map(([from, read]) => (isAccepting[from] === 1 ? machine.classOf(read) : -1));
  const statesOf = new Map<number, number[]>();
  for (const state of shortest.met) {
    const text = classAt[state]!;
    if (text < 0) continue;
    const states = statesOf.get(text);
    if (states) states.push(state);
    else statesOf.set(text, [state]);
  }
  // Listed strings are few: each is looked at on its own, and what is left of a class is what is on no list.
  const groups = new Map<number, string[]>();
  const listed = new Map<number, string[]>();
  for (const [word, member] of members.within(automaton)) {
    if (except.has(word)) continue;
    const state = run(automaton, start, word);
    const text = state < 0 ? -1 : classAt[state]!;
    if (text < 0) continue;
    put(groups, text, member, word);
    const before = listed.get(text);
    if (before) before.push(word);
    else listed.set(text, [word]);
  }
  const excepted = new Map<number, string[]>();
  for (const word of except) {
    const state = run(automaton, start, word);
    const text = state < 0 ? -1 : classAt[state]!;
    if (text < 0) continue;
    const before = excepted.get(text);
    if (before) before.push(word);
    else excepted.set(text, [word]);
  }
  const atoms = atomsOf(groups);
  for (const [text, states] of statesOf) {
    const rest: Language = {
      regular: {
        automaton,
        states,
        except: new Set([...(listed.get(text) ?? []), ...(excepted.get(text) ?? [])]),
        // States are met in the order of their smallest strings.
        first: shortest.word(states[0]!),
      },
    };
    const first = smallest(rest);
    if (first !== null) atoms.push({ text, member: 0, language: rest, first });
  }
  return atoms;
}
