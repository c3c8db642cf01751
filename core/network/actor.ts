import { reachedAt, socketText, writtenAs, type Host, type Topology } from './topology';
import {
  listen,
  send,
  unwanted,
  type Advertised,
  type Delivery,
  type Packet,
  type Tunnel,
  type World,
} from './world';
import { type NetworkPhone, type PathTransport, type Server, type Socket } from '../estate';
import { type FailReason, type PacketKind } from './types';

/** A phone (or a branch relay's connection) as it acts in one world: what it knows, and what its server knows of it. */
export interface Actor {
  readonly world: World;
  /** The phone as it acts: inside a tunnel it stands elsewhere. */
  readonly phone: NetworkPhone;
  readonly host: Host;
  readonly server: Server;
  /** From which port its first connection goes. */
  readonly firstTcpPort: number;
  /** What it advertises for signalling. */
  contact: Socket;
  /** The port of its connection, over TCP and TLS; null: none was opened yet. */
  connection: number | null;
  connections: number;
  /** What its server keeps of it. */
  kept: Kept | null;
  /** Why nothing is kept: what became of the latest registration. */
  refused: Failure | null;
  allocation: Allocation | null;
  readonly relayPort: number;
}

interface Kept {
  readonly contact: Socket;
  /** The server and its socket at which the phone reached it. */
  readonly server: Server;
  readonly host: Host;
  readonly port: number;
}
interface Allocation {
  readonly server: Server;
  readonly host: Host;
  readonly serverPort: number;
  readonly localPort: number;
  readonly overTcp: boolean;
  /** From where the TURN server saw it come. */
  readonly seen: Socket;
  readonly relayed: Socket;
  readonly permitted: Set<string>;
}
export interface Failure {
  readonly reason: FailReason;
  readonly at?: string;
}
type Outcome = { readonly ok: true } | ({ readonly ok: false } & Failure);

const NEXT_TCP_PORT = 50_010;
export const FIRST_TCP_PORT = 50_000;
export const RELAY_TCP_PORT = 50_002;
const TURN_TCP_PORT = 50_001;
const TUNNEL_PORT = 1194;
export const FIRST_RELAYED_PORT = 49_152;
const OK: Outcome = { ok: true };
export const failed = ({ reason, at }: Failure): { readonly ok: false } & Failure => ({
  ok: false,
  reason,
  ...(at === undefined ? {} : { at }),
});

export const isTcp = (transport: PathTransport) => transport !== 'udp';
/** The port of the sound that a phone sends. */
export const soundFrom = ({ symmetric, rtpPort }: NetworkPhone) => (symmetric ? rtpPort : rtpPort + 2);
export const signalPortOf = (server: Server, transport: PathTransport) =>
  transport === 'tls' ? server.tlsPort : server.port;

export const serverNamed = (topology: Topology, id: string): Server | undefined =>
  topology.network.servers.find((server) => server.id === id);

/** Puts a phone into a world. */
export function actorOf(
  world: World,
  phone: NetworkPhone,
  host: Host,
  server: Server,
  more: { readonly firstTcpPort?: number; readonly relayPort?: number } = {},
): Actor {
  const { firstTcpPort = FIRST_TCP_PORT, relayPort = FIRST_RELAYED_PORT } = more;
  for (const port of [phone.signalPort, phone.rtpPort, soundFrom(phone)]) listen(world, host.id, port);
  for (const each of world.topology.network.servers)
    for (const port of [each.port, each.tlsPort, each.mediaPort]) listen(world, each.id, port);
  return {
    world,
    phone,
    host,
    server,
    firstTcpPort,
    relayPort,
    contact: ownContact(phone),
    connection: null,
    connections: 0,
    kept: null,
    refused: null,
    allocation: null,
  };
}

const ownContact = ({ method, manual, address, signalPort }: NetworkPhone): Socket =>
  method === 'manual-public-address' && manual
    ? { address: manual.address, port: manual.signalPort }
    : { address, port: signalPort };
const ownMedia = ({ method, manual, address, rtpPort }: NetworkPhone): Socket =>
  method === 'manual-public-address' && manual
    ? { address: manual.address, port: manual.rtpPort }
    : { address, port: rtpPort };

/** Something the phone sends to a server. */
function toServer(
  actor: Actor,
  kind: PacketKind,
  server: Server,
  to: Socket,
  t: number,
  packet: Partial<Packet> & { readonly port: number },
): Delivery {
  const { world, host } = actor;
  listen(world, host.id, packet.port);
  return send(world, {
    kind,
    proto: 'udp',
    sender: host,
    to,
    meant: world.topology.meant.get(server.id) ?? [server.id],
    t,
    ...packet,
  });
}

/** Something that a server's host sends to the phone. */
const toPhone = (
  actor: Actor,
  kind: PacketKind,
  sender: Host,
  port: number,
  to: Socket,
  t: number,
  packet: Partial<Packet> = {},
): Delivery =>
  send(actor.world, { kind, proto: 'udp', sender, port, to, meant: [actor.host.id], t, ...packet });

/** Home is only what comes to the very port that the phone sent from. */
const homeAt = (actor: Actor, arrived: Delivery, port: number): Delivery =>
  arrived.ok && arrived.at.port !== port ? unwanted(actor.world, actor.host.id) : arrived;

/**
 * Learns by STUN (RFC 8489) what a socket of the phone looks like from outside.
 * @returns what the server saw; null where the question or its answer was lost
 */
export function learn(actor: Actor, port: number, t: number): Socket | null {
  const { world, phone } = actor;
  const { stun = world.topology.servers.turn } = world.topology.servers;
  if (!stun) return null;
  const asked = toServer(actor, 'STUN', stun, reachedAt(world.topology, phone.in, stun, stun.port), t, {
    port,
  });
  if (!asked.ok) return null;
  const answer = toPhone(actor, 'STUN answer', asked.host, asked.at.port, asked.source, t);
  return homeAt(actor, answer, port).ok ? asked.source : null;
}

const LEARNING: readonly NetworkPhone['method'][] = ['stun', 'ice', 'turn'];
/** Learns its signalling socket, if that is its way. @returns whether it now advertises another one */
function learnContact(actor: Actor, t: number): boolean {
  const { phone, contact } = actor;
  if (isTcp(phone.transport) || !LEARNING.includes(phone.method)) return false;
  actor.contact = learn(actor, phone.signalPort, t) ?? ownContact(phone);
  return socketText(actor.contact) !== socketText(contact);
}

function nextConnection(actor: Actor): number {
  const port = actor.connections === 0 ? actor.firstTcpPort : NEXT_TCP_PORT + actor.connections - 1;
  actor.connections += 1;
  actor.connection = port;
  return port;
}

interface Answered {
  readonly ok: true;
  readonly server: Server;
  readonly host: Host;
  /** The server's socket at which the message arrived. */
  readonly port: number;
  readonly source: Socket;
  /** What the message advertised when it arrived, and what the answer did. */
  readonly heard: Advertised;
  readonly answered: Advertised;
}

/** What the phone asks of its server by SIP, and its answer (RFC 3261 section 18.2.2, RFC 3581 section 4). */
export function ask(
  actor: Actor,
  kind: 'REGISTER' | 'INVITE' | 'keep-alive',
  t: number,
  says: Advertised,
  opens = false,
): Answered | ({ readonly ok: false } & Failure) {
  const { world, phone, server } = actor;
  const { topology } = world;
  const overTcp = isTcp(phone.transport);
  const port = overTcp ? (actor.connection ?? nextConnection(actor)) : phone.signalPort;
  const isSip = kind !== 'keep-alive';
  const to = reachedAt(topology, phone.in, server, signalPortOf(server, phone.transport));
  const asked = toServer(actor, kind, server, to, t, {
    port,
    proto: overTcp ? 'tcp' : 'udp',
    opens,
    ...(isSip ? { says, isReadable: phone.transport !== 'tls' } : {}),
  });
  if (!asked.ok) return failed(asked);
  const at = serverNamed(topology, asked.host.id) ?? server;
  const back =
    overTcp || phone.rport || at.answersToSource || !says.contact
      ? asked.source
      : { address: asked.source.address, port: says.contact.port };
  const own: Advertised =
    kind === 'INVITE'
      ? {
          contact: writtenAs(topology, phone.in, at, asked.at.port),
          media: writtenAs(topology, phone.in, at, at.mediaPort),
        }
      : { contact: null, media: null };
  const answer = homeAt(
    actor,
    toPhone(actor, 'answer', asked.host, asked.at.port, back, t, {
      proto: overTcp ? 'tcp' : 'udp',
      says: own,
      isReadable: isSip && phone.transport !== 'tls',
    }),
    port,
  );
  if (!answer.ok) return failed(answer);
  return {
    ok: true,
    server: at,
    host: asked.host,
    port: asked.at.port,
    source: asked.source,
    heard: asked.says,
    answered: answer.says,
  };
}

function registerOnce(actor: Actor, t: number, opens: boolean): Outcome {
  const answered = ask(actor, 'REGISTER', t, { contact: actor.contact, media: null }, opens);
  if (!answered.ok) return answered;
  const { server, host, port, source, heard } = answered;
  actor.kept = {
    contact:
      isTcp(actor.phone.transport) || server.contactFromSource ? source : (heard.contact ?? actor.contact),
    server,
    host,
    port,
  };
  return OK;
}

/** Registers (RFC 3261 section 10); over TCP by a new connection where the one that there was is dead. */
export function register(actor: Actor, t: number): Outcome {
  learnContact(actor, t);
  let outcome: Outcome;
  if (isTcp(actor.phone.transport)) {
    const isNew = actor.connection === null;
    if (isNew) nextConnection(actor);
    outcome = registerOnce(actor, t, isNew);
    if (!outcome.ok) {
      nextConnection(actor);
      outcome = registerOnce(actor, t, true);
    }
  } else outcome = registerOnce(actor, t, false);
  actor.refused = outcome.ok ? null : outcome;
  return outcome;
}

/** Keeps the way open: a packet to the server, no SIP. Where something has changed the phone registers anew. */
export function keepAlive(actor: Actor, t: number): void {
  const { world, phone, server } = actor;
  if (isTcp(phone.transport)) {
    if (ask(actor, 'keep-alive', t, { contact: null, media: null }).ok) return;
    nextConnection(actor);
    const outcome = registerOnce(actor, t, true);
    actor.refused = outcome.ok ? null : outcome;
    return;
  }
  const hasChanged = learnContact(actor, t);
  toServer(actor, 'keep-alive', server, reachedAt(world.topology, phone.in, server, server.port), t, {
    port: phone.signalPort,
  });
  if (hasChanged) register(actor, t);
}

/** A call comes in: the server's INVITE to what it keeps of the phone. */
export function ring(actor: Actor, t: number): Outcome {
  const { world, phone, kept } = actor;
  if (!kept) return failed(actor.refused ?? { reason: 'no-server' });
  const overTcp = isTcp(phone.transport);
  const arrived = toPhone(actor, 'INVITE', kept.host, kept.port, kept.contact, t, {
    proto: overTcp ? 'tcp' : 'udp',
    says: {
      contact: writtenAs(world.topology, phone.in, kept.server, kept.port),
      media: writtenAs(world.topology, phone.in, kept.server, kept.server.mediaPort),
    },
    isReadable: phone.transport !== 'tls',
  });
  if (!arrived.ok) return failed(arrived);
  const home = overTcp ? arrived : homeAt(actor, arrived, phone.signalPort);
  return home.ok ? OK : failed(home);
}

/** The phone's ACK to the contact that the server gave; over TCP and TLS by the connection. */
export function acknowledge(actor: Actor, contact: Socket, t: number): Outcome {
  const { world, phone, server } = actor;
  const overTcp = isTcp(phone.transport);
  const to = overTcp
    ? reachedAt(world.topology, phone.in, server, signalPortOf(server, phone.transport))
    : contact;
  const arrived = toServer(actor, 'ACK', server, to, t, {
    port: overTcp ? (actor.connection ?? actor.firstTcpPort) : phone.signalPort,
    proto: overTcp ? 'tcp' : 'udp',
  });
  return arrived.ok ? OK : failed(arrived);
}

/** Asks the TURN server for a relayed socket (RFC 8656 section 3). @returns why there is none, or null */
export function allocate(actor: Actor, t: number): Failure | null {
  const { world, phone } = actor;
  const { topology } = world;
  const { turn } = topology.servers;
  if (!turn) return { reason: 'no-server' };
  const overTcp = isTcp(phone.turnTransport);
  const localPort = overTcp ? TURN_TCP_PORT : phone.rtpPort;
  const to = reachedAt(topology, phone.in, turn, signalPortOf(turn, phone.turnTransport));
  const proto = overTcp ? 'tcp' : 'udp';
  const asked = toServer(actor, 'Allocate', turn, to, t, { port: localPort, proto, opens: overTcp });
  if (!asked.ok) return { reason: 'no-allocation', at: asked.at };
  const answer = homeAt(
    actor,
    toPhone(actor, 'Allocate answer', asked.host, asked.at.port, asked.source, t, { proto }),
    localPort,
  );
  if (!answer.ok) return { reason: 'no-allocation', at: answer.at };
  listen(world, turn.id, actor.relayPort);
  actor.allocation = {
    server: turn,
    host: asked.host,
    serverPort: asked.at.port,
    localPort,
    overTcp,
    seen: asked.source,
    relayed: writtenAs(topology, phone.in, turn, actor.relayPort),
    permitted: new Set(),
  };
  return null;
}

/**
 * What the phone advertises for its sound: its own socket, the one written by hand, the one it learned, or the relayed
 * one. Asked just before it is written.
 */
export function mediaSocket(
  actor: Actor,
  t: number,
): { readonly socket: Socket } | ({ readonly ok: false } & Failure) {
  const { phone } = actor;
  if (phone.method === 'turn') {
    const refused = allocate(actor, t);
    return refused ? failed(refused) : { socket: actor.allocation?.relayed ?? ownMedia(phone) };
  }
  const learned = phone.method === 'stun' || phone.method === 'ice' ? learn(actor, phone.rtpPort, t) : null;
  return { socket: learned ?? ownMedia(phone) };
}

/** A place from which sound or checks go and at which they come in. */
export interface Base {
  /** Sends to a socket; `meant` are the hosts that it is for. */
  readonly send: (kind: PacketKind, to: Socket, meant: readonly string[], t: number) => Delivery;
  /** Takes in what a host sends to it at `to`; it has to come to the phone by the right port. */
  readonly take: (kind: PacketKind, sent: (meant: readonly string[]) => Delivery, t: number) => Delivery;
}

/** The phone's own port: what it sends goes from there, what comes must come to its `rtpPort`. */
export const portBase = (actor: Actor, from: number): Base => ({
  send: (kind, to, meant, t) => {
    listen(actor.world, actor.host.id, from);
    return send(actor.world, { kind, proto: 'udp', sender: actor.host, port: from, to, meant, t });
  },
  take: (_kind, sent) => homeAt(actor, sent([actor.host.id]), actor.phone.rtpPort),
});

/** The relayed socket of an allocation: there and back by way of the TURN server. */
export function relayBase(actor: Actor, allocation: Allocation): Base {
  const { world, host, relayPort } = actor;
  const { server, host: relay, serverPort, localPort, overTcp, permitted, seen } = allocation;
  const proto = overTcp ? 'tcp' : 'udp';
  const to = reachedAt(
    world.topology,
    actor.phone.in,
    server,
    signalPortOf(server, actor.phone.turnTransport),
  );
  return {
    send: (kind, peer, meant, t) => {
      const there = toServer(actor, kind, server, to, t, { port: localPort, proto });
      if (!there.ok) return there;
      permitted.add(peer.address);
      return send(world, { kind, proto: 'udp', sender: relay, port: relayPort, to: peer, meant, t });
    },
    take: (kind, sent, t) => {
      const there = sent([relay.id]);
      if (!there.ok) return there;
      if (there.at.port !== relayPort || !permitted.has(there.source.address)) {
        world.trace?.push({
          packet: kind,
          at: t,
          protocol: 'udp',
          where: relay.id,
          source: socketText(there.source),
          destination: socketText(there.at),
          dropped: 'filtered',
        });
        return { ok: false, reason: 'filtered', at: relay.id };
      }
      const home = send(world, {
        kind,
        proto,
        sender: relay,
        port: serverPort,
        to: seen,
        meant: [host.id],
        t,
      });
      const arrived = homeAt(actor, home, localPort);
      // For whoever answers, it came from the socket that the TURN server saw.
      return arrived.ok ? { ...arrived, source: there.source } : arrived;
    },
  };
}

/** Digs the tunnel to the VPN server: its packets must get there and back. */
export function digTunnel(
  world: World,
  phone: NetworkPhone,
  host: Host,
  inside: Host,
  vpn: Server,
): Tunnel & {
  readonly keepAlive: (t: number) => Delivery;
} {
  const { topology } = world;
  listen(world, host.id, TUNNEL_PORT);
  listen(world, vpn.id, vpn.port);
  const to = reachedAt(topology, phone.in, vpn, vpn.port);
  let seen: Socket | null = null;
  let vpnHost: Host | null = null;
  const outward = (t: number) => {
    const there = send(world, {
      kind: 'tunnel',
      proto: 'udp',
      sender: host,
      port: TUNNEL_PORT,
      to,
      meant: [vpn.id],
      t,
    });
    if (there.ok) {
      const before = seen;
      seen = there.source;
      vpnHost = there.host;
      world.ledger.undo?.push(() => {
        seen = before;
      });
    }
    return there;
  };
  const inward = (t: number): Delivery =>
    seen && vpnHost
      ? send(world, {
          kind: 'tunnel',
          proto: 'udp',
          sender: vpnHost,
          port: vpn.port,
          to: seen,
          meant: [host.id],
          t,
        })
      : { ok: false, reason: 'no-mapping', at: vpn.id };
  const tunnel = {
    outward,
    inward,
    keepAlive: (t: number) => {
      const there = outward(t);
      return there.ok ? inward(t) : there;
    },
  };
  world.tunnels.set(inside.id, tunnel);
  return tunnel;
}
