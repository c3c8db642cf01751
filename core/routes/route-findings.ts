import type { RouteFinding } from './findings';
import { mendForm, type NumberForms } from './forms';
import { rewritten } from './languages';
import { counted } from './lists';
import type { Prepared } from './prepare';
import type { RouteSeen } from './seen';
import { callOf, exampleOf, isSmaller, nameOf, namesOf, sendingsOf, type Shown } from './shown';
import type { Form, Route } from './types';

const FORM_WORDS: Readonly<Record<Form, string>> = {
  e164: 'E.164, with a +',
  national: 'national numbers, without a +',
  dialled: 'numbers as they are dialled, without a +',
  any: 'any form',
};

const sendPeers = (route: Route): readonly string[] =>
  'send' in route.then ? sendingsOf(route).map(({ peer }) => peer) : [];

/** What all calls have shown of each route, as findings. @param plan how the organisation writes numbers */
export const routeFindings = (
  prepared: Prepared,
  all: readonly RouteSeen[],
  plan: NumberForms | null,
): RouteFinding[] =>
  prepared.table.routes.flatMap((route, at): RouteFinding[] => {
    if (!route.enabled) return [];
    const seen = all[at]!;
    const takers = [...seen.takers].sort(([, a], [, b]) => (isSmaller(a, b) ? -1 : 1));
    return [
      ...(seen.acts ? partly(prepared, route, takers) : never(prepared, route, seen, takers)),
      ...bypassed(prepared, route, seen),
      ...wrongForms(prepared, route, seen, plan),
      ...emptied(prepared, route, seen),
    ];
  });

function never(
  prepared: Prepared,
  route: Route,
  seen: RouteSeen,
  takers: readonly (readonly [number, Shown])[],
): RouteFinding[] {
  const { routes } = prepared.table;
  const by = takers.map(([taker]) => taker).sort((a, b) => a - b);
  const [first] = takers;
  if (!seen.would || !first)
    return [
      {
        kind: 'never-fires',
        weight: 'fault',
        route: route.id,
        by: [],
        says: `${route.name} can never act: its conditions cannot all hold at once.`,
        mend: { kind: 'remove', route: route.id },
      },
    ];
  const peers = by.map((taker) => sendPeers(routes[taker]!));
  const isSpare = peers.every((each) => each.length > 0) && 'send' in route.then;
  return [
    {
      kind: 'never-fires',
      weight: isSpare ? 'risk' : 'fault',
      route: route.id,
      by: by.map((taker) => routes[taker]!.id),
      ...exampleOf(prepared, first[1]),
      says: isSpare
        ? `${route.name} acts only while ${[...new Set(peers.flat())].join(', ')} cannot be reached or is full: all that it could take goes to ${namesOf(by.map((taker) => routes[taker]!))} above it.`
        : `${route.name} can never act: all that it could take goes to ${namesOf(by.map((taker) => routes[taker]!))} above it.`,
      mend: { kind: 'move', route: route.id, before: routes[by[0]!]!.id },
    },
  ];
}

function partly(
  prepared: Prepared,
  route: Route,
  takers: readonly (readonly [number, Shown])[],
): RouteFinding[] {
  const [first] = takers;
  if (!first) return [];
  const taker = prepared.table.routes[first[0]]!;
  const shown = exampleOf(prepared, first[1]);
  return [
    {
      kind: 'partly-covered',
      weight: 'note',
      route: route.id,
      by: [taker, ...takers.slice(1).map(([at]) => prepared.table.routes[at]!)].map(({ id }) => id),
      ...shown,
      says: `Part of what ${route.name} could take goes to ${taker.name} above it, such as ${shown.met ?? shown.example ?? ''}${takers.length > 1 ? `; other parts to ${namesOf(takers.slice(1).map(([at]) => prepared.table.routes[at]!))}` : ''}.`,
    },
  ];
}

function bypassed(prepared: Prepared, route: Route, seen: RouteSeen): RouteFinding[] {
  if (!('fork' in route.then) || !route.when.list) return [];
  const takers = [...seen.bypassed.takers].sort(([, a], [, b]) => (isSmaller(a, b) ? -1 : 1));
  const [first] = takers;
  if (!first) return [];
  const { call } = callOf(prepared, first[1]);
  const { of, id } = route.when.list;
  const number = of === 'caller' ? (call.caller ?? '') : first[1].number;
  const by = takers.map(([taker]) => prepared.table.routes[taker]!);
  const { count } = seen.bypassed;
  return [
    {
      kind: 'fork-bypassed',
      weight: 'fault',
      route: route.id,
      list: id,
      by: by.map((taker) => taker.id),
      example: number,
      call,
      ...(count > 0 ? { count } : {}),
      says: `${count > 0 ? counted(count, 'number') : 'Numbers'} of the list ${nameOf(prepared.table.lists, id)} ${count === 1 ? 'does' : 'do'} not come to the fork ${route.name}: ${number} is taken by ${by[0]!.name} above it.`,
      mend: {
        kind: 'move',
        route: route.id,
        before: prepared.table.routes[Math.min(...takers.map(([taker]) => taker))]!.id,
      },
    },
  ];
}

function wrongForms(
  prepared: Prepared,
  route: Route,
  seen: RouteSeen,
  plan: NumberForms | null,
): RouteFinding[] {
  const sendings = sendingsOf(route);
  return [...seen.wrong].map(([at, shown]): RouteFinding => {
    const sending = sendings[at]!;
    const peer = prepared.table.peers.find(({ id }) => id === sending.peer)!;
    const example = exampleOf(prepared, shown);
    const sent = rewritten(shown.number, sending.rewrite);
    const mend = mendForm(shown.number, sending.rewrite, peer.expects, plan);
    return {
      kind: 'wrong-form',
      weight: seen.right.has(at) ? 'risk' : 'fault',
      route: route.id,
      peer: peer.id,
      ...example,
      sent,
      says: `${route.name} sends ${example.example ?? ''} to ${peer.name} as ${sent}, but ${peer.name} expects ${FORM_WORDS[peer.expects]}.`,
      ...(mend
        ? {
            mend: {
              kind: 'rewrite',
              route: route.id,
              rewrite: mend,
              ...(sending.branch === undefined ? {} : { branch: sending.branch }),
            },
          }
        : {}),
    };
  });
}

function emptied(prepared: Prepared, route: Route, seen: RouteSeen): RouteFinding[] {
  return [...seen.emptied]
    .filter(([at]) => !seen.filled.has(at))
    .slice(0, 1)
    .map(([, shown]): RouteFinding => ({
      kind: 'empties-number',
      weight: 'fault',
      route: route.id,
      ...exampleOf(prepared, shown),
      says: `${route.name} takes off every digit of each number that it takes.`,
    }));
}
