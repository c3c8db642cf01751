import { imageOf, preimage, type Language } from './languages';
import { rewrittenSpace, type Prepared } from './prepare';
import { split, type Atom } from './split';
import {
  and,
  eachOf,
  isNone,
  meet,
  noneIn,
  partsOf,
  placeOf,
  same,
  setBit,
  takeOff,
  type Bits,
  type Space,
} from './space';
import type { Rewrite } from './types';

/** Calls on their way down the table: any of these numbers, with any of these circumstances. */
export interface Stream {
  /** How many times the calls were sent back. */
  readonly pass: number;
  /** The first route that they come to. */
  readonly begins: number;
  readonly language: Language;
  readonly space: Space;
  readonly others: Bits;
  readonly sources: readonly Source[];
}
/** Where the calls of a stream come from: those of another stream that a route rewrote, or sent to a peer that sends them back. */
export interface Source {
  readonly stream: Stream;
  readonly route: number;
  readonly language: Language;
  readonly others: Bits;
  readonly rewrites: readonly (Rewrite | undefined)[];
  readonly caller?: Rewrite;
  /** The peer that sent it back. */
  readonly peer?: number;
}

/** Calls that a route would take, and what becomes of them. */
export interface RouteMet {
  readonly stream: Stream;
  readonly atom: Atom;
  readonly route: number;
  /** The circumstances in which its conditions hold. */
  readonly would: Bits;
  /** Those of them in which it acts. */
  readonly acts: Bits;
  /** The routes above that act instead. */
  readonly takers: readonly { readonly route: number; readonly bits: Bits }[];
}
export interface Visitor {
  readonly met: (met: RouteMet) => void;
  /** Calls that come to the end of the table. */
  readonly left: (stream: Stream, atom: Atom, bits: Bits) => void;
}

/** Takes the calls of a stream down the table, all at once. */
export function sweep(prepared: Prepared, stream: Stream, visitor: Visitor): void {
  const { space, others, begins } = stream;
  for (const atom of split(stream.language, prepared.dialled, prepared.dialledLists)) {
    const rest = others.slice();
    const acted: { route: number; bits: Bits }[] = [];
    for (const route of prepared.candidates(atom.text, atom.member)) {
      if (route < begins) continue;
      const mask = space.masks[route]!;
      const would = and(others, mask);
      if (isNone(would)) continue;
      const acts = and(rest, mask);
      const isWhole = same(would, acts);
      visitor.met({
        stream,
        atom,
        route,
        would,
        acts,
        takers: isWhole ? [] : acted.filter(({ bits }) => meet(bits, would)),
      });
      if (isNone(acts)) continue;
      acted.push({ route, bits: acts });
      takeOff(rest, mask);
    }
    if (!isNone(rest)) visitor.left(stream, atom, rest);
  }
}

const allAfter = (rewrites: readonly (Rewrite | undefined)[]): Rewrite | undefined =>
  rewrites.reduce<Rewrite | undefined>((first, second) => {
    if (!second) return first;
    if (!first) return second;
    // What is taken off first goes off what was put before.
    return second.drop <= first.prepend.length
      ? { drop: first.drop, prepend: second.prepend + first.prepend.slice(second.drop) }
      : { drop: first.drop + second.drop - first.prepend.length, prepend: second.prepend };
  }, undefined);
export const rewriteOf = ({ rewrites }: Source): Rewrite | undefined => allAfter(rewrites);

/** Streams by where they begin, so that what comes from several routes goes on together. */
export class Streams {
  private readonly waiting = new Map<
    string,
    { readonly space: Space; readonly others: Bits; readonly sources: Source[] }
  >();
  private readonly spaces = new Map<string, Space>();
  private readonly ids = new Map<Space, number>();

  constructor(private readonly prepared: Prepared) {}

  private idOf(space: Space): number {
    const known = this.ids.get(space);
    if (known !== undefined) return known;
    this.ids.set(space, this.ids.size);
    return this.ids.size - 1;
  }

  /** @param apart sources with different texts here go on apart */
  add(source: Source, apart = ''): void {
    const space = source.caller
      ? this.after(source.stream.space, source.route, source.caller)
      : source.stream.space;
    const others = moved(source, space);
    if (isNone(others)) return;
    const key = `${this.idOf(space)}|${apart}|${[...eachOf(others)].join(',')}`;
    const known = this.waiting.get(key);
    if (known) known.sources.push(source);
    else this.waiting.set(key, { space, others, sources: [source] });
  }

  private after(space: Space, route: number, rewrite: Rewrite): Space {
    const key = `${this.idOf(space)}|${route}`;
    let next = this.spaces.get(key);
    if (!next) {
      next = rewrittenSpace(this.prepared, space, rewrite);
      this.spaces.set(key, next);
    }
    return next;
  }

  /** Everything that waits, as streams; nothing waits any longer. */
  take(begins: number, pass: number): Stream[] {
    const streams = [...this.waiting.values()].flatMap(({ space, others, sources }) =>
      imageOf(sources.map((source) => ({ language: source.language, rewrite: rewriteOf(source) }))).map(
        (language): Stream => ({ pass, begins, language, space, others, sources }),
      ),
    );
    this.waiting.clear();
    return streams;
  }
}

/** The circumstances of a source in another space: callers rewritten, or from the peer that sent the call back. */
function moved({ stream, others, peer }: Source, space: Space): Bits {
  if (space === stream.space && peer === undefined) return others;
  const bits = noneIn(space);
  const after = new Map<number, number[]>();
  if (space !== stream.space)
    space.callers.forEach(({ before }, at) => after.set(before!, [...(after.get(before!) ?? []), at]));
  for (const place of eachOf(others)) {
    const parts = partsOf(stream.space, place);
    for (const caller of space === stream.space ? [parts.caller] : (after.get(parts.caller) ?? []))
      setBit(bits, placeOf(space, peer ?? parts.peer, caller, parts.time));
  }
  return bits;
}

/** A call as somebody places it. */
export interface Origin {
  readonly peer: number;
  readonly dialled: string;
  readonly caller: string | null;
  readonly time: number;
  /** The steps from there: the number as each route sent it on, first to last. */
  readonly steps: readonly {
    readonly route: number;
    readonly peer?: number;
    readonly number: string;
    readonly from: number;
  }[];
}

/**
 * Goes back from a number in a stream to the call as it was placed.
 * @param place the circumstances, as a place in the stream's space
 * @param caller the caller there, of those of the place; left out: the smallest
 */
export function originOf(stream: Stream, number: string, place: number, caller?: string | null): Origin {
  const parts = partsOf(stream.space, place);
  const who = caller === undefined ? (stream.space.callers[parts.caller]?.first ?? null) : caller;
  for (const source of stream.sources) {
    const before = preimage({ language: source.language, rewrite: rewriteOf(source) }, number);
    if (before === null) continue;
    const wasCaller = source.caller ? stream.space.callers[parts.caller]!.before! : parts.caller;
    const language = source.stream.space.callers[wasCaller]!.language;
    const wasWho =
      source.caller && who !== null && language ? preimage({ language, rewrite: source.caller }, who) : who;
    for (const was of eachOf(source.others)) {
      const wasParts = partsOf(source.stream.space, was);
      if (wasParts.caller !== wasCaller || wasParts.time !== parts.time) continue;
      if (source.peer === undefined && wasParts.peer !== parts.peer) continue;
      const earlier = originOf(source.stream, before, was, wasWho);
      return {
        ...earlier,
        steps: [
          ...earlier.steps,
          {
            route: source.route,
            number,
            from: wasParts.peer,
            ...(source.peer === undefined ? {} : { peer: source.peer }),
          },
        ],
      };
    }
  }
  return { peer: parts.peer, dialled: number, caller: who, time: parts.time, steps: [] };
}
