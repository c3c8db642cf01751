import { SYMBOLS } from './digit-map';

/** How many symbols a string can be made of; a symbol is its place in `SYMBOLS`. */
export const WIDTH = SYMBOLS.length;
export const PLUS = SYMBOLS.indexOf('+');
/** The order in which strings of one length are sorted: digits, then `+`, then the other keys. */
export const ORDER: readonly number[] = [
  ...Array.from({ length: 10 }, (_, digit) => digit),
  PLUS,
  ...Array.from({ length: WIDTH - 11 }, (_, key) => key + 10),
];
const RANK = Array.from({ length: WIDTH }, (_, symbol) => ORDER.indexOf(symbol));

const SYMBOL_OF = new Int8Array(128).fill(-1);
for (const [at, symbol] of [...SYMBOLS].entries()) SYMBOL_OF[symbol.charCodeAt(0)] = at;
/** The symbol at a place of a string; -1: it is none. */
export const symbolAt = (text: string, at: number): number => SYMBOL_OF[text.charCodeAt(at)] ?? -1;

/** Shorter first; of one length by `ORDER`. */
export function compareWords(a: string, b: string): number {
  if (a.length !== b.length) return a.length - b.length;
  for (let at = 0; at < a.length; at += 1) {
    const difference = (RANK[symbolAt(a, at)] ?? WIDTH) - (RANK[symbolAt(b, at)] ?? WIDTH);
    if (difference !== 0) return difference;
  }
  return 0;
}

/** A deterministic automaton: in state `s`, symbol `c` leads to `next[s * WIDTH + c]`; -1: nowhere. */
export interface Automaton {
  readonly start: number;
  readonly size: number;
  readonly next: Int32Array;
}

/** Where a string leads from a state; -1: nowhere. */
export function run({ next }: Automaton, from: number, text: string, at = 0): number {
  let state = from;
  for (let i = at; i < text.length; i += 1) {
    const symbol = symbolAt(text, i);
    if (symbol < 0) return -1;
    state = next[state * WIDTH + symbol] ?? -1;
    if (state < 0) return -1;
  }
  return state;
}

/** Makes an automaton step by step: states are found by a key, and their ways on are set as they are met. */
export class AutomatonBuilder {
  private next = new Int32Array(64 * WIDTH).fill(-1);
  private readonly states = new Map<number | string, number>();
  size = 0;

  /** The state of a key, a new one where there is none yet. */
  state(key: number | string): number {
    const known = this.states.get(key);
    if (known !== undefined) return known;
    if (this.size >= MOST_STATES) throw new TooComplex();
    if ((this.size + 1) * WIDTH > this.next.length) {
      const wider = new Int32Array(this.next.length * 2).fill(-1);
      wider.set(this.next);
      this.next = wider;
    }
    this.states.set(key, this.size);
    this.size += 1;
    return this.size - 1;
  }

  link(from: number, symbol: number, to: number): void {
    this.next[from * WIDTH + symbol] = to;
  }

  /** @param start the state that it begins in */
  finish(start: number): Automaton {
    return { start, size: this.size, next: this.next.subarray(0, this.size * WIDTH) };
  }
}

/** The conditions of a table tangle into more states than are gone through. */
export class TooComplex extends Error {}
const MOST_STATES = 400_000;

/** For each state whether one of the accepting states can be reached from it. */
export function living({ size, next }: Automaton, accepting: Iterable<number>): Uint8Array {
  const before: number[][] = Array.from({ length: size }, () => []);
  for (let state = 0; state < size; state += 1)
    for (let symbol = 0; symbol < WIDTH; symbol += 1) {
      const to = next[state * WIDTH + symbol]!;
      if (to >= 0) before[to]!.push(state);
    }
  const alive = new Uint8Array(size);
  const open: number[] = [];
  for (const state of accepting) {
    if (alive[state] === 1) continue;
    alive[state] = 1;
    open.push(state);
  }
  for (let state = open.pop(); state !== undefined; state = open.pop())
    for (const from of before[state]!)
      if (alive[from] === 0) {
        alive[from] = 1;
        open.push(from);
      }
  return alive;
}

/** The smallest string that leads to each state, as the state before and the symbol; the order is that in which states are met. */
export interface Shortest {
  readonly met: readonly number[];
  readonly word: (state: number) => string;
}

export function shortestWords({ start, size, next }: Automaton): Shortest {
  const from = new Int32Array(size).fill(-1);
  const by = new Int8Array(size);
  const seen = new Uint8Array(size);
  const met = [start];
  seen[start] = 1;
  for (let i = 0; i < met.length; i += 1) {
    const state = met[i]!;
    for (const symbol of ORDER) {
      const to = next[state * WIDTH + symbol]!;
      if (to < 0 || seen[to] === 1) continue;
      seen[to] = 1;
      from[to] = state;
      by[to] = symbol;
      met.push(to);
    }
  }
  return {
    met,
    word: (state) => {
      let text = '';
      for (let at = state; at !== start; at = from[at]!) text = SYMBOLS[by[at]!]! + text;
      return text;
    },
  };
}

/**
 * The strings that lead from the start to one of the accepting states, smallest first, until there are no more or
 * nobody asks any longer.
 * @param longest strings longer than this are not looked at
 */
export function* wordsOf(
  { start, size, next }: Automaton,
  accepting: Iterable<number>,
  longest = 400,
): Generator<string> {
  /** For each number of symbols still to come: the states from which that many can lead to an accepting one. */
  const can: Uint8Array[] = [new Uint8Array(size)];
  for (const state of accepting) can[0]![state] = 1;
  for (let length = 0; length <= longest; length += 1) {
    const now = can[length]!;
    if (!now.includes(1)) return;
    if (now[start] === 1) yield* ofLength(start, length, '');
    const more = new Uint8Array(size);
    for (let state = 0; state < size; state += 1)
      for (let symbol = 0; symbol < WIDTH; symbol += 1) {
        const to = next[state * WIDTH + symbol]!;
        if (to >= 0 && now[to] === 1) {
          more[state] = 1;
          break;
        }
      }
    can.push(more);
  }

  function* ofLength(state: number, left: number, text: string): Generator<string> {
    if (left === 0) {
      yield text;
      return;
    }
    for (const symbol of ORDER) {
      const to = next[state * WIDTH + symbol]!;
      if (to >= 0 && can[left - 1]![to] === 1) yield* ofLength(to, left - 1, text + SYMBOLS[symbol]!);
    }
  }
}
