import type { Language } from './languages';

/** A set of places in a space, as bits. */
export type Bits = Uint32Array;

export const isNone = (bits: Bits): boolean => bits.every((word) => word === 0);
export function and(a: Bits, b: Bits): Bits {
  const both = new Uint32Array(a.length);
  for (let i = 0; i < a.length; i += 1) both[i] = a[i]! & b[i]!;
  return both;
}
export const meet = (a: Bits, b: Bits): boolean => {
  for (let i = 0; i < a.length; i += 1) if ((a[i]! & b[i]!) !== 0) return true;
  return false;
};
export function takeOff(from: Bits, what: Bits): void {
  for (let i = 0; i < from.length; i += 1) from[i] = from[i]! & ~what[i]!;
}
export const same = (a: Bits, b: Bits): boolean => {
  for (let i = 0; i < a.length; i += 1) if (a[i] !== b[i]) return false;
  return true;
};
export function firstOf(bits: Bits): number {
  for (let i = 0; i < bits.length; i += 1)
    if (bits[i] !== 0) return i * 32 + (31 - Math.clz32(bits[i]! & -bits[i]!));
  return -1;
}
export function* eachOf(bits: Bits): Generator<number> {
  for (let i = 0; i < bits.length; i += 1)
    for (let word = bits[i]!; word !== 0; word &= word - 1) yield i * 32 + (31 - Math.clz32(word & -word));
}
export const setBit = (bits: Bits, at: number): void => {
  bits[at >> 5] = bits[at >> 5]! | (1 << (at & 31));
};
/** Callers that no condition and no list tells apart; null: calls that show none. */
export interface Callers {
  readonly text: number;
  readonly member: number;
  readonly language: Language | null;
  readonly first: string | null;
  /** The callers of the space before whom a rewriting made these. */
  readonly before?: number;
}

/**
 * All that a call is beside the number dialled: from which peer, which callers, and how the schedules stand. A place
 * is one combination.
 */
export interface Space {
  readonly peers: number;
  readonly callers: readonly Callers[];
  readonly times: number;
  /** The places at which the conditions of each route hold, apart from those on the number. */
  readonly masks: readonly Bits[];
}

export const sizeOf = ({ peers, callers, times }: Pick<Space, 'peers' | 'callers' | 'times'>): number =>
  peers * callers.length * times;
export const placeOf = (
  space: Pick<Space, 'callers' | 'times'>,
  peer: number,
  caller: number,
  time: number,
): number => (peer * space.callers.length + caller) * space.times + time;
export const partsOf = (
  { callers, times }: Pick<Space, 'callers' | 'times'>,
  place: number,
): { readonly peer: number; readonly caller: number; readonly time: number } => ({
  time: place % times,
  caller: Math.floor(place / times) % callers.length,
  peer: Math.floor(place / times / callers.length),
});
export const noneIn = (space: Pick<Space, 'peers' | 'callers' | 'times'>): Bits =>
  new Uint32Array(Math.ceil(sizeOf(space) / 32));
