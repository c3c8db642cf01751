import type { RouteFinding } from './findings';
import { sendingsOf } from './shown';
import type { RouteTable } from './types';

/** Peers and lists that routes speak of and that are not there. */
export function referenceFindings({ peers, lists, routes }: RouteTable): RouteFinding[] {
  const known = new Set(peers.map(({ id }) => id));
  const listed = new Set(lists.map(({ id }) => id));
  return routes.flatMap((route): RouteFinding[] => [
    ...[...new Set([...(route.when.from ?? []), ...sendingsOf(route).map(({ peer }) => peer)])]
      .filter((peer) => !known.has(peer))
      .map((peer): RouteFinding => ({
        kind: 'unknown-peer',
        weight: 'fault',
        route: route.id,
        peer,
        says: `${route.name} speaks of a peer ${JSON.stringify(peer)} that is not there.`,
      })),
    ...(route.when.list && !listed.has(route.when.list.id)
      ? [
          {
            kind: 'unknown-list' as const,
            weight: 'fault' as const,
            route: route.id,
            list: route.when.list.id,
            says: `${route.name} asks for a list ${JSON.stringify(route.when.list.id)} that is not there.`,
          },
        ]
      : []),
  ]);
}
