import { PLUS, symbolAt, TooComplex, WIDTH } from './automaton';
import type { DigitMap } from './digit-map';

/** What a string itself must be like; all that is present must hold. */
export interface TextCondition {
  readonly prefixes?: readonly string[];
  readonly map?: DigitMap;
  readonly minDigits?: number;
  readonly maxDigits?: number;
}

/**
 * What two strings must share so that no condition tells them apart: which conditions hold, and the shape that forms
 * of numbers are judged by.
 */
export interface TextClass {
  /** The conditions that hold, by their places, in order. */
  readonly holds: readonly number[];
  readonly plus: boolean;
  /** Something that is no digit stands in it, apart from a leading `+`. */
  readonly odd: boolean;
  /** How many characters it has; those beyond what a rewriting can take off are not counted. */
  readonly length: number;
}

const FIRST = -1;
const MOST_STATES = 400_000;
/** Of digit maps alone: more than so many sets of their positions come only of maps that tangle, and then of any number. */
const MOST_MAP_STATES = 80_000;
const NONE: readonly number[] = [];

interface Node {
  readonly children: Int32Array;
  readonly ends: number[];
}

/**
 * Reads strings symbol by symbol and tells which of many conditions hold, for all of them at once. Its states are
 * worked out when they are first met, and kept: reading a string costs one step for each of its symbols.
 */
export class TextMachine {
  private readonly nodes: Node[] = [{ children: new Int32Array(WIDTH).fill(-1), ends: [] }];
  /** What of the prefixes is decided: a node of the tree that still has branches, or the conditions satisfied for good. */
  private readonly prefixStates: {
    readonly node: number;
    readonly satisfied: readonly number[];
    readonly open: readonly number[];
  }[] = [];
  private readonly prefixIds = new Map<string, number>();
  private readonly nodePrefix = new Map<string, number>();
  /** Sets of places in the maps. */
  private readonly mapStates: {
    readonly places: readonly number[];
    readonly holds: ReadonlySet<number>;
    readonly alive: ReadonlySet<number>;
    readonly next: Int32Array;
  }[] = [];
  private readonly mapIds = new Map<string, number>();
  private readonly places: {
    readonly condition: number;
    readonly symbols: number;
    readonly repeats: boolean;
    readonly isLast: boolean;
  }[] = [];
  private readonly caps = new Map<number, number>();
  private readonly below: (readonly number[])[] = [];

  private readonly states: {
    readonly prefix: number;
    readonly map: number;
    readonly length: number;
    readonly plus: boolean;
    readonly odd: boolean;
  }[] = [];
  private readonly ids = new Map<number, number>();
  private links = new Int32Array(64 * WIDTH).fill(-1);
  private readonly classAt: number[] = [];
  private readonly classIds = new Map<string, number>();
  readonly classes: TextClass[] = [];
  readonly start: number;

  /**
   * @param counted how many characters of a string's length are told apart in any case
   */
  constructor(
    private readonly conditions: readonly TextCondition[],
    private readonly counted = 0,
  ) {
    const begins: number[] = [];
    conditions.forEach(({ prefixes, map }, condition) => {
      for (const prefix of prefixes ?? []) this.plant(prefix, condition);
      for (const positions of map?.alternatives ?? []) {
        begins.push(this.places.length);
        positions.forEach(({ symbols, repeats }) =>
          this.places.push({ condition, symbols, repeats, isLast: false }),
        );
        this.places.push({ condition, symbols: 0, repeats: false, isLast: true });
      }
    });
    this.collect(0);
    const free = conditions.flatMap(({ prefixes }, at) => (prefixes ? [] : [at]));
    this.start = this.stateOf(
      this.prefixOf(0, this.satisfy(free, 0)),
      this.mapOf(begins),
      FIRST,
      false,
      false,
    );
  }

  /** The state after one more symbol. */
  step(state: number, symbol: number): number {
    const known = this.links[state * WIDTH + symbol]!;
    if (known >= 0) return known;
    const { prefix, map, length, plus, odd } = this.states[state]!;
    const isFirstPlus = length === FIRST && symbol === PLUS;
    const next = this.stateOf(
      this.nextPrefix(prefix, symbol),
      this.nextMap(map, symbol),
      Math.max(length, 0) + (isFirstPlus ? 0 : 1),
      plus || isFirstPlus,
      odd || (symbol > 9 && !isFirstPlus),
    );
    this.links[state * WIDTH + symbol] = next;
    return next;
  }

  /** The class of the strings that lead to a state. */
  classOf(state: number): number {
    const known = this.classAt[state];
    if (known !== undefined) return known;
    const { prefix, map, length, plus, odd } = this.states[state]!;
    const digits = Math.max(length, 0);
    const { holds } = this.mapStates[map]!;
    const all = this.prefixStates[prefix]!.satisfied.filter((condition) => {
      const { map: needs, minDigits = 0, maxDigits = Infinity } = this.conditions[condition]!;
      return (!needs || holds.has(condition)) && digits >= minDigits && digits <= maxDigits;
    });
    const shape = Math.min(digits + (plus ? 1 : 0), this.counted);
    const key = `${all.join(',')};${plus ? 1 : 0}${odd ? 1 : 0}${shape}`;
    let id = this.classIds.get(key);
    if (id === undefined) {
      id = this.classes.length;
      this.classes.push({ holds: all, plus, odd, length: shape });
      this.classIds.set(key, id);
    }
    this.classAt[state] = id;
    return id;
  }

  /** The class of one string; null: it has a symbol that no string can have. */
  read(text: string): number | null {
    let state = this.start;
    for (let at = 0; at < text.length; at += 1) {
      const symbol = symbolAt(text, at);
      if (symbol < 0) return null;
      const known = this.links[state * WIDTH + symbol]!;
      state = known >= 0 ? known : this.step(state, symbol);
    }
    return this.classOf(state);
  }

  private plant(prefix: string, condition: number): void {
    let at = 0;
    for (let i = 0; i < prefix.length; i += 1) {
      const symbol = symbolAt(prefix, i);
      if (symbol < 0) return;
      let to = this.nodes[at]!.children[symbol]!;
      if (to < 0) {
        to = this.nodes.length;
        this.nodes.push({ children: new Int32Array(WIDTH).fill(-1), ends: [] });
        this.nodes[at]!.children[symbol] = to;
      }
      at = to;
    }
    this.nodes[at]!.ends.push(condition);
  }

  /** The conditions with a prefix that ends below each node. */
  private collect(node: number): readonly number[] {
    const all = new Set<number>();
    for (const child of this.nodes[node]!.children)
      if (child >= 0) {
        for (const condition of this.nodes[child]!.ends) all.add(condition);
        for (const condition of this.collect(child)) all.add(condition);
      }
    const found = all.size > 0 ? [...all] : NONE;
    this.below[node] = found;
    return found;
  }

  private satisfy(before: readonly number[], node: number): readonly number[] {
    const { ends } = this.nodes[node]!;
    const more = ends.filter((condition) => !before.includes(condition));
    return more.length === 0 ? before : [...new Set([...before, ...more])].sort((a, b) => a - b);
  }

  private prefixOf(node: number, satisfied: readonly number[]): number {
    const isOpen = node >= 0 && (this.below[node] ?? NONE).length > 0;
    const key = `${isOpen ? node : ''}:${satisfied.join(',')}`;
    let id = this.prefixIds.get(key);
    if (id === undefined) {
      id = this.prefixStates.length;
      const open = isOpen ? [...new Set([...satisfied, ...this.below[node]!])] : satisfied;
      this.prefixStates.push({ node: isOpen ? node : -1, satisfied, open });
      this.prefixIds.set(key, id);
    }
    return id;
  }

  private nextPrefix(prefix: number, symbol: number): number {
    const { node, satisfied } = this.prefixStates[prefix]!;
    if (node < 0) return prefix;
    const key = `${prefix},${symbol}`;
    let next = this.nodePrefix.get(key);
    if (next === undefined) {
      const to = this.nodes[node]!.children[symbol]!;
      next = to < 0 ? this.prefixOf(-1, satisfied) : this.prefixOf(to, this.satisfy(satisfied, to));
      this.nodePrefix.set(key, next);
    }
    return next;
  }

  private mapOf(from: readonly number[]): number {
    const set = new Set<number>();
    for (const begin of from)
      for (let at = begin; !set.has(at); at += 1) {
        set.add(at);
        if (!this.places[at]!.repeats) break;
      }
    const places = [...set].sort((a, b) => a - b);
    const key = places.join(',');
    let id = this.mapIds.get(key);
    if (id === undefined) {
      id = this.mapStates.length;
      if (id >= MOST_MAP_STATES) throw new TooComplex();
      this.mapStates.push({
        places,
        holds: new Set(places.flatMap((at) => (this.places[at]!.isLast ? [this.places[at]!.condition] : []))),
        alive: new Set(places.map((at) => this.places[at]!.condition)),
        next: new Int32Array(WIDTH).fill(-1),
      });
      this.mapIds.set(key, id);
    }
    return id;
  }

  private nextMap(map: number, symbol: number): number {
    const { places, next } = this.mapStates[map]!;
    if (places.length === 0) return map;
    const known = next[symbol]!;
    if (known >= 0) return known;
    const further: number[] = [];
    for (const at of places) {
      const { symbols, repeats, isLast } = this.places[at]!;
      if (!isLast && (symbols & (1 << symbol)) !== 0) further.push(repeats ? at : at + 1);
    }
    const to = this.mapOf(further);
    next[symbol] = to;
    return to;
  }

  /** Beyond how many digits no condition that can still hold asks for the length. */
  private capOf(prefix: number, map: number): number {
    const key = prefix * 1_048_576 + map;
    const known = this.caps.get(key);
    if (known !== undefined) return known;
    const { alive } = this.mapStates[map]!;
    let cap = this.counted;
    for (const condition of this.prefixStates[prefix]!.open) {
      const { map: needs, minDigits = 0, maxDigits } = this.conditions[condition]!;
      if (needs && !alive.has(condition)) continue;
      cap = Math.max(cap, minDigits, maxDigits === undefined ? 0 : maxDigits + 1);
    }
    this.caps.set(key, cap);
    return cap;
  }

  private stateOf(prefix: number, map: number, length: number, plus: boolean, odd: boolean): number {
    const capped = Math.min(length, this.capOf(prefix, map));
    // 2^16 states of prefixes, 2^22 of maps, lengths below 64: below 2^53.
    const key = (((prefix * 4_194_304 + map) * 64 + capped + 1) * 2 + (plus ? 1 : 0)) * 2 + (odd ? 1 : 0);
    let id = this.ids.get(key);
    if (id === undefined) {
      id = this.states.length;
      if (id >= MOST_STATES) throw new TooComplex();
      if ((id + 1) * WIDTH > this.links.length) {
        const wider = new Int32Array(this.links.length * 2).fill(-1);
        wider.set(this.links);
        this.links = wider;
      }
      this.states.push({ prefix, map, length: capped, plus, odd });
      this.ids.set(key, id);
    }
    return id;
  }
}
