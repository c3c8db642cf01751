import { everyNumber, numbersThatFit, wholeSpace, type Prepared } from './prepare';
import { keep, type Shown } from './shown';
import { eachOf, isNone, noneIn, partsOf, placeOf, setBit, sizeOf, type Bits, type Space } from './space';
import { Streams, sweep, type RouteMet, type Stream } from './sweep';

/** Takes calls of all kinds down a table, with all that is rewritten on the way. */
export class Descent {
  private readonly space: Space;

  constructor(readonly prepared: Prepared) {
    this.space = wholeSpace(prepared);
  }

  /** Every number, from every peer, in all circumstances. */
  everything(): Stream {
    return this.streamOf(this.everywhere());
  }

  /**
   * The numbers that fit a digit map, from one peer or from all.
   * @returns null where the map cannot be read or the peer is not there
   */
  fitting(map: string, from: string | undefined): Stream | null {
    const language = numbersThatFit(map);
    const peer = from === undefined ? null : this.prepared.table.peers.findIndex(({ id }) => id === from);
    if (!language || peer === -1) return null;
    return { ...this.streamOf(peer === null ? this.everywhere() : this.fromPeer(peer)), language };
  }

  private everywhere(): Bits {
    const whole = noneIn(this.space);
    for (let place = 0; place < sizeOf(this.space); place += 1) setBit(whole, place);
    return whole;
  }

  private streamOf(others: Bits): Stream {
    return {
      pass: 0,
      begins: 0,
      language: everyNumber(this.prepared),
      space: this.space,
      others,
      sources: [],
    };
  }

  private fromPeer(peer: number): Bits {
    const bits = noneIn(this.space);
    for (let caller = 0; caller < this.space.callers.length; caller += 1)
      for (let time = 0; time < this.space.times; time += 1)
        setBit(bits, placeOf(this.space, peer, caller, time));
    return bits;
  }

  /**
   * @param look is told of every route that calls come to
   * @param left keeps the smallest number of each peer that no route takes
   * @param ended is told of all calls that no route takes
   */
  descend(
    streams: readonly Stream[],
    look: (met: RouteMet) => void,
    left: Map<number, Shown> | null,
    ended: (stream: Stream, atom: RouteMet['atom'], bits: Bits) => void = () => {},
  ): void {
    const { routes } = this.prepared.table;
    const pass = streams[0]?.pass ?? 0;
    const waiting = new Map<number, Streams>();
    const visitor = {
      met: (met: RouteMet) => {
        look(met);
        const { then } = routes[met.route]!;
        if (!('rewrite' in then) || isNone(met.acts)) return;
        const streamsOf = waiting.get(met.route) ?? new Streams(this.prepared);
        waiting.set(met.route, streamsOf);
        streamsOf.add({
          stream: met.stream,
          route: met.route,
          language: met.atom.language,
          others: met.acts,
          rewrites: [then.rewrite.rewrite],
          ...(then.rewrite.caller ? { caller: then.rewrite.caller } : {}),
        });
      },
      left: (stream: Stream, atom: RouteMet['atom'], bits: Bits) => {
        ended(stream, atom, bits);
        if (!left || this.prepared.dialled.classes[atom.text]!.odd) return;
        const perPeer = new Map<number, number>();
        for (const place of eachOf(bits)) {
          const { peer } = partsOf(stream.space, place);
          if (!perPeer.has(peer)) perPeer.set(peer, place);
        }
        for (const [peer, place] of perPeer) keep(left, peer, { stream, number: atom.first, place });
      },
    };
    for (const stream of streams) sweep(this.prepared, stream, visitor);
    for (let route = 0; route < routes.length; route += 1)
      for (const stream of waiting.get(route)?.take(route + 1, pass) ?? [])
        sweep(this.prepared, stream, visitor);
  }
}
