import type { NetworkPhone, Server } from '../estate';
import { type Actor, actorOf } from './actor';
import { failed, type Failed, type Outcome, verdictOf } from './outcome';
import type { Topology } from './topology';
import { digTunnel } from './tunnel';
import type { Verdict } from './types';
import { type Delivery, newWorld, traced, type World } from './world';

/** A branch relay keeps its connection alive so often, s. */
const RELAY_KEEP_ALIVE_S = 30;
const RELAY_TCP_PORT = 50_002;
export const TUNNEL_KEEP_ALIVE_S = 25;

/** A phone in a fresh network, before anything was sent. */
export interface Entered {
  readonly ok: true;
  readonly world: World;
  readonly actor: Actor;
  /** Of a phone with a tunnel: keeps it alive. */
  readonly tunnel: ((t: number) => Delivery) | null;
  /** Whether it hangs on a branch relay, whose connection the actor is then. */
  readonly isRelayed: boolean;
}
type Entry = Entered | Failed;

/** The server of a phone: the border controller, the system, or what its branch relay is connected to. */
export function serverOf({ servers }: Topology, phone: NetworkPhone): Server | undefined {
  const { system, 'border-controller': border } = servers;
  switch (phone.method) {
    case 'border-controller':
      return border;
    case 'branch-relay':
      return border ?? system;
    case 'vpn':
      return servers.vpn && system;
    case 'stun':
    case 'ice':
      return (servers.stun ?? servers.turn) && system;
    case 'turn':
      return servers.turn && system;
    case 'manual-public-address':
      return phone.manual ? system : undefined;
    case 'direct':
      return system;
  }
}

/** Whether the sound of a phone's calls goes through its server whatever the other end is. */
export const goesThroughServer = (topology: Topology, phone: NetworkPhone): boolean =>
  phone.method === 'branch-relay' || serverOf(topology, phone)?.latches === true;

/** Whether a phone finds its way for sound by ICE (RFC 8445). */
export const usesIce = (topology: Topology, phone: NetworkPhone): boolean =>
  phone.method === 'ice' && serverOf(topology, phone)?.ice === true;

/** Puts a phone into a world. Errors: a server that it cannot do without is not there, or its relay is elsewhere. */
export function enter(
  topology: Topology,
  phone: NetworkPhone,
  world: World = newWorld(topology),
  relayPort?: number,
): Entry {
  const server = serverOf(topology, phone);
  const host = topology.phoneHosts.get(phone.id);
  if (!server || !host) return failed({ reason: 'no-server' });
  if (phone.method === 'branch-relay') {
    const relay = topology.network.phones.find(({ id }) => id === phone.relay);
    const relayHost = relay && topology.phoneHosts.get(relay.id);
    if (!relay || !relayHost) return failed({ reason: 'no-server' });
    if (relay.in !== phone.in) return failed({ reason: 'relay-elsewhere', at: relay.id });
    const connection: NetworkPhone = {
      ...relay,
      method: server.kind === 'border-controller' ? 'border-controller' : 'direct',
      transport: 'tls',
      keepAliveS: RELAY_KEEP_ALIVE_S,
      registerExpiresS: Infinity,
    };
    return {
      ok: true,
      world,
      actor: actorOf(world, connection, relayHost, server, { firstTcpPort: RELAY_TCP_PORT }),
      tunnel: null,
      isRelayed: true,
    };
  }
  if (phone.method === 'vpn') {
    const inside = topology.tunnelHosts.get(phone.id);
    const { vpn } = topology.servers;
    if (!inside || !vpn) return failed({ reason: 'no-server' });
    const tunnel = digTunnel(world, phone, host, inside, vpn);
    const within: NetworkPhone = { ...phone, method: 'direct', in: inside.in, address: inside.address };
    return {
      ok: true,
      world,
      actor: actorOf(world, within, inside, server),
      tunnel: tunnel.keepAlive,
      isRelayed: false,
    };
  }
  return {
    ok: true,
    world,
    actor: actorOf(world, phone, host, server, relayPort === undefined ? {} : { relayPort }),
    tunnel: null,
    isRelayed: false,
  };
}

/** Digs the tunnel, if there is one: without it everything fails. */
export function dig({ tunnel }: Entered): Outcome {
  const dug = tunnel?.(0);
  return dug && !dug.ok ? failed(dug) : { ok: true };
}

/**
 * Puts a phone into a world and digs its tunnel, if there is one: what comes before a call.
 * Errors: why it takes part in none, as the verdict of all that is asked of it.
 */
export function ready(
  topology: Topology,
  phone: NetworkPhone,
  world: World = newWorld(topology),
  relayPort?: number,
): Entered | { readonly ok: false; readonly refused: Verdict } {
  const entered = enter(topology, phone, world, relayPort);
  if (!entered.ok) return { ok: false, refused: verdictOf(entered, []) };
  const dug = traced(world, () => dig(entered));
  return dug.value.ok ? entered : { ok: false, refused: verdictOf(dug.value, dug.trace) };
}
