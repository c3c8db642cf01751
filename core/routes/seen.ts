import { isOfForm, lookAfter } from './forms';
import type { Prepared } from './prepare';
import { keep, sendingsOf, type Shown } from './shown';
import { and, firstOf, isNone } from './space';
import type { RouteMet } from './sweep';

/** What the calls through a table have shown of one route. */
export interface RouteSeen {
  acts: boolean;
  would: boolean;
  readonly takers: Map<number, Shown>;
  /** Of a fork for a list: the listed numbers that others take. */
  readonly bypassed: { count: number; readonly takers: Map<number, Shown> };
  readonly wrong: Map<number, Shown>;
  readonly right: Set<number>;
  /** Rewritings by which numbers lose all they have, and those that leave something. */
  readonly emptied: Map<number, Shown>;
  readonly filled: Set<number>;
}

/** What calls show of each route of a table, and what is to be told of every route that they come to. */
export function watchRoutes({ table, dialled }: Prepared): {
  readonly all: readonly RouteSeen[];
  readonly look: (met: RouteMet) => void;
} {
  const all = table.routes.map((): RouteSeen => ({
    acts: false,
    would: false,
    takers: new Map(),
    bypassed: { count: 0, takers: new Map() },
    wrong: new Map(),
    right: new Set(),
    emptied: new Map(),
    filled: new Set(),
  }));
  const sendings = table.routes.map(sendingsOf);
  const forms = new Map(table.peers.map((peer) => [peer.id, peer]));
  const look = ({ stream, atom, route, would, acts, takers }: RouteMet): void => {
    const seen = all[route]!;
    const { when } = table.routes[route]!;
    seen.would = true;
    for (const taker of takers)
      keep(seen.takers, taker.route, { stream, number: atom.first, place: firstOf(and(taker.bits, would)) });
    if (
      takers.length > 0 &&
      when.list?.of === 'dialled' &&
      atom.language.words &&
      stream.sources.length === 0
    )
      seen.bypassed.count += atom.language.words.length;
    if (takers.length > 0 && when.list)
      for (const taker of takers)
        keep(seen.bypassed.takers, taker.route, {
          stream,
          number: atom.first,
          place: firstOf(and(taker.bits, would)),
        });
    if (isNone(acts)) return;
    seen.acts = true;
    const text = dialled.classes[atom.text]!;
    if (text.odd) return;
    const shown = { stream, number: atom.first, place: firstOf(acts) };
    const { then } = table.routes[route]!;
    const rewrites =
      'rewrite' in then ? [then.rewrite.rewrite] : sendings[route]!.map(({ rewrite }) => rewrite);
    rewrites.forEach((rewrite, at) => {
      const after = lookAfter(text, rewrite);
      if (after.empty) {
        keep(seen.emptied, at, shown);
        return;
      }
      seen.filled.add(at);
      const sending = sendings[route]![at];
      const peer = sending && forms.get(sending.peer);
      if (!peer) return;
      if (isOfForm(peer.expects, after)) seen.right.add(at);
      else keep(seen.wrong, at, shown);
    });
  };
  return { all, look };
}
