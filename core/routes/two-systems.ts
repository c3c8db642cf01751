import { analyseTable } from './analyse';
import type { AnalyseOptions } from './findings';
import type { NumberForms } from './forms';
import type { Form, Peer, Rewrite, Route, RouteTable } from './types';

/** People on a list have phones on two systems. */
export interface TwoSystems {
  readonly list: string;
  /** The system that rings at once, and the other. */
  readonly first: string;
  readonly second: string;
  /** How much later the other rings, in ms. */
  readonly delayMs: number;
}

/** How E.164 numbers of the home country come into the form that a peer expects. */
export function fromE164(form: Form, plan: NumberForms | null): Rewrite | undefined {
  if (form === 'e164' || form === 'any') return undefined;
  if (!plan || form === 'national') return { drop: 1 + (plan?.countryCode.length ?? 0), prepend: '' };
  return { drop: 1 + plan.countryCode.length, prepend: plan.outsideCode + plan.nationalPrefix };
}

/**
 * Proposes the fork that people with phones on two systems need, at its place: above the first route that would take
 * any of their numbers, below those that bring numbers into the form of the list. Calls that come from a peer that
 * sends calls back are left to the routes below, so that none goes round.
 * @returns the table with the fork, which is the route named last
 */
export function proposeTwoSystems(
  table: RouteTable,
  { list, first, second, delayMs }: TwoSystems,
  options: AnalyseOptions,
): { readonly table: RouteTable; readonly route: Route } {
  const listName = table.lists.find(({ id }) => id === list)?.name ?? list;
  const peerOf = (id: string): Peer | undefined => table.peers.find((peer) => peer.id === id);
  const branch = (peer: string, later: number) => {
    const rewrite = fromE164(peerOf(peer)?.expects ?? 'any', options.plan ?? null);
    return { peer, ...(rewrite ? { rewrite } : {}), ...(later > 0 ? { delayMs: later } : {}) };
  };
  const returning = table.peers.some(({ sendsBack }) => sendsBack);
  const taken = new Set(table.routes.map(({ id }) => id));
  let id = `both-${list}`;
  for (let n = 2; taken.has(id); n += 1) id = `both-${list}-${n}`;
  const route: Route = {
    id,
    name: `${listName}: both systems`,
    enabled: true,
    when: {
      ...(returning
        ? { from: table.peers.filter(({ sendsBack }) => !sendsBack).map((peer) => peer.id) }
        : {}),
      list: { id: list, of: 'dialled' },
    },
    then: { fork: { branches: [branch(first, 0), branch(second, delayMs)] } },
  };
  const last = { ...table, routes: [...table.routes, route] };
  const bypassed = analyseTable(last, options).findings.find(
    (finding) => finding.kind === 'fork-bypassed' && finding.route === id,
  );
  const takers = new Set(bypassed?.by);
  const at = table.routes.findIndex((each) => takers.has(each.id) && !('rewrite' in each.then));
  const place = at < 0 ? table.routes.length : at;
  return {
    route,
    table: { ...table, routes: [...table.routes.slice(0, place), route, ...table.routes.slice(place)] },
  };
}
