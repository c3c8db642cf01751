import { endpointTitle, type EstateIndex } from '../core/calls/engine';
import { deskOfEndpoint } from '../core/desks';
import type { PartyNames } from '../core/calls/live';
import { parseUri } from '../core/wire/sip';
import type { Peer } from './sip/transport';
import type { CallLadder, PhoneSystem } from './system';

const addressOf = ({ host, port }: Peer): string => `${host}:${port}`;

const placeIn = (contact: string): string => {
  const uri = parseUri(contact);
  return uri ? `${uri.host}:${uri.port ?? 5060}` : '';
};

/**
 * Who each address in a call’s messages is.
 * @param places the parties that are always at the same host
 * @param endpointOf whose an account is
 */
export function partyNames(
  { messages }: CallLadder,
  system: PhoneSystem,
  places: PartyNames,
  index: EstateIndex | null,
  endpointOf: (user: string) => string | null,
): PartyNames {
  const { local } = system.node.transport;
  const names: Record<string, string> = {};
  for (const peer of Object.values(local)) names[addressOf(peer)] = 'Phone system';
  const bindings = system.allBindings();
  // A phone behind a router may be called where its contact says, or where it is seen.
  const devices = new Map([
    ...bindings.map((each) => [placeIn(each.contact), each] as const),
    ...bindings.map((each) => [addressOf(each.from), each] as const),
  ]);
  for (const { from, to } of messages)
    for (const peer of [from, to]) {
      const address = addressOf(peer);
      const place = places[peer.host];
      const endpoint = endpointOf(devices.get(address)?.user ?? '');
      if (names[address] !== undefined) continue;
      if (place !== undefined) names[peer.host] = place;
      else if (endpoint !== null && index) names[address] = nameAt(index, endpoint);
    }
  return names;
}

const nameAt = (index: EstateIndex, endpoint: string): string => {
  const desk = deskOfEndpoint(endpoint);
  if (desk !== null) return index.estate.desks?.find(({ id }) => id === desk)?.name ?? desk;
  const known = index.endpoints.get(endpoint);
  return known ? endpointTitle(known) : endpoint;
};
