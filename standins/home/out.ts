import type { NetworkPhone, Server } from '../../core/estate';
import { reachedAt, signalPortOf, stunServerOf, writtenAs, type Topology } from '../../core/network';
import type { PhoneWay } from '../phones/way';
import type { Ground } from '../sip/ground';
import type { Peer, TransportOptions } from '../sip/transport';
import type { ServerManner } from '../system';
import { openTurn, type TurnServer } from '../turn';
import { realOf } from './staged';

/** Who uses the TURN servers of a network. */
const TURN_USER = 'home';

/**
 * Opens the STUN and TURN servers of a staged network.
 * @param all the addresses to which they may relay, as CIDR
 * @param tls left out: over TLS they are not there
 * @throws where one cannot be had; none is open then
 */
export async function openHelpers(
  topology: Topology,
  {
    all,
    secret,
    tls,
  }: { readonly all: string; readonly secret: string; readonly tls?: TransportOptions['tls'] },
): Promise<{ readonly close: () => Promise<void> }> {
  const opened: TurnServer[] = [];
  const close = async () => {
    await Promise.all(opened.map((each) => each.close()));
  };
  try {
    for (const each of new Set([stunServerOf(topology), topology.servers.turn]))
      if (each)
        opened.push(
          await openTurn({
            address: realOf(each),
            port: each.port,
            realm: TURN_USER,
            relayAddress: realOf(each),
            allow: [all],
            passwordOf: (user) => (user === TURN_USER ? secret : null),
            ...(each.kind === 'turn'
              ? tls && { tls: { ...tls, port: each.tlsPort } }
              : { mostAllocations: 0 }),
          }),
        );
  } catch (error) {
    await close();
    throw error;
  }
  return { close };
}

/** How a phone of a staged network gets out of it. @param secret that of its TURN servers */
export function phoneWay(
  topology: Topology,
  settings: NetworkPhone,
  { server, ground, secret }: { readonly server: Server; readonly ground: Ground; readonly secret: string },
): PhoneWay {
  const { turn } = topology.servers;
  const stun = stunServerOf(topology);
  return {
    ground,
    settings,
    stun: stun ? reachedAt(topology, settings.in, stun, stun.port) : null,
    turn: turn
      ? {
          at: reachedAt(topology, settings.in, turn, turn.port),
          tlsPort: turn.tlsPort,
          credentials: { username: TURN_USER, password: secret },
        }
      : null,
    usesIce: usesIce(settings, server),
  };
}
const usesIce = ({ method }: NetworkPhone, { ice }: Server): boolean => ice && method === 'ice';

/** How the server of a phone treats it. */
export const mannerTowards = (topology: Topology, settings: NetworkPhone, server: Server): ServerManner => ({
  contactFromSource: server.contactFromSource,
  latches: server.latches,
  ice: usesIce(settings, server),
  writes: writtenAs(topology, settings.in, server, server.port).address,
  mediaPort: server.mediaPort,
});

/** Where a phone registers. */
export function registersAt(topology: Topology, settings: NetworkPhone, server: Server): Peer {
  const to = reachedAt(topology, settings.in, server, signalPortOf(server, settings.transport));
  return { transport: settings.transport, host: to.address, port: to.port };
}
