import { compareWords } from './automaton';
import type { Descent } from './descent';
import type { AnalyseOptions, ExampleCall, LoopStep, RouteFinding } from './findings';
import { smallest } from './languages';
import type { Prepared } from './prepare';
import { callOf, nameOf, sendingsOf } from './shown';
import { firstOf, isNone } from './space';
import { Streams, type Stream } from './sweep';
import type { Rewrite } from './types';

const HOP_LIMIT = 10;

/** Calls that are sent back again and again until no hop is left. */
export function roundFindings(descent: Descent, sendsBack: AnalyseOptions['sendsBack']): RouteFinding[] {
  const { prepared } = descent;
  const { peers, routes, hopLimit = HOP_LIMIT } = prepared.table;
  const back = new Map<number, Rewrite | undefined>();
  peers.forEach((peer, at) => {
    const sends = sendsBack?.[peer.id] ?? peer.sendsBack;
    if (sends) back.set(at, sends.rewrite);
  });
  if (back.size === 0) return [];
  const placeOfPeer = new Map(peers.map(({ id }, at) => [id, at]));
  let streams: readonly Stream[] = [descent.everything()];
  for (let pass = 1; pass <= hopLimit && streams.length > 0; pass += 1) {
    const next = new Streams(prepared);
    descent.descend(
      streams,
      ({ stream, atom, route, acts }) => {
        if (isNone(acts)) return;
        for (const { peer, rewrite } of sendingsOf(routes[route]!)) {
          const at = placeOfPeer.get(peer);
          if (at === undefined || !back.has(at)) continue;
          next.add(
            {
              stream,
              route,
              language: atom.language,
              others: acts,
              rewrites: [rewrite, back.get(at)],
              peer: at,
            },
            pass === hopLimit ? String(route) : '',
          );
        }
      },
      null,
    );
    streams = next.take(0, pass);
  }
  const cycles = new Map<string, RouteFinding>();
  for (const stream of streams) {
    const finding = round(prepared, stream, sendsBack);
    const key = [...new Set(finding.path?.map(({ from, route }) => `${from} ${route}`))].sort().join('|');
    const known = cycles.get(key);
    if (!known || compareWords(finding.example ?? '', known.example ?? '') < 0) cycles.set(key, finding);
  }
  return [...cycles.values()];
}

function round(prepared: Prepared, stream: Stream, sendsBack: AnalyseOptions['sendsBack']): RouteFinding {
  const { peers, routes } = prepared.table;
  const number = smallestOf(stream);
  const { call, origin } = callOf(prepared, { stream, number, place: firstOf(stream.others) });
  const steps = origin.steps.filter(({ peer }) => peer !== undefined);
  const all = steps.map(({ route, from, peer, number: sent }): LoopStep => ({
    from: peers[from]?.id ?? '',
    route: routes[route]!.id,
    number: sent,
    to: peers[peer!]!.id,
  }));
  // The part that repeats: from a route that the call comes to again, to just before it.
  const last = all.length - 1;
  let begins = last;
  while (
    begins > 0 &&
    !(all[begins - 1]!.route === all[last]!.route && all[begins - 1]!.from === all[last]!.from)
  )
    begins -= 1;
  const path = begins > 0 ? all.slice(begins) : all;
  const back = Object.fromEntries(
    all.map(({ to }) => [to, sendsBack?.[to] ?? peers.find(({ id }) => id === to)?.sendsBack ?? {}]),
  ) as Exclude<ExampleCall['sendsBack'], undefined>;
  const [opening, closing] = [path[0]!, path.at(-1)!];
  return {
    kind: 'goes-round',
    weight: 'fault',
    route: closing.route,
    peer: closing.to,
    example: call.dialled,
    call: { ...call, sendsBack: back },
    path,
    says: `A call to ${call.dialled} goes round: ${path.map(({ route, to }) => `${nameOf(routes, route)} sends it to ${nameOf(peers, to)}`).join(', ')}, and back again until no hop is left.`,
    mend: {
      kind: 'from',
      route: opening.route,
      from: (routes.find(({ id }) => id === opening.route)?.when.from ?? peers.map(({ id }) => id)).filter(
        (id) => id !== opening.from,
      ),
    },
  };
}
const smallestOf = ({ language }: Stream): string => {
  const first = smallest(language);
  if (first === null) throw new Error('a stream of no numbers');
  return first;
};
