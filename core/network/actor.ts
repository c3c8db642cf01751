import type { NetworkPhone, PathTransport, Server, Socket } from '../estate';
import { send } from './carry';
import type { Failure } from './outcome';
import { type Host, meantFor } from './topology';
import type { PacketKind } from './types';
import { type Delivery, listen, type Packet, unwanted, type World } from './world';

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
/** A relayed socket (RFC 8656). */
export interface Allocation {
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
export const FIRST_TCP_PORT = 50_000;
/** After a connection that is dead the next one goes from here, and on. */
const NEXT_TCP_PORT = 50_010;
/** The port from which a phone opens its nth connection, counted from 0. */
export const tcpPort = (nth: number, first = FIRST_TCP_PORT): number =>
  nth === 0 ? first : NEXT_TCP_PORT + nth - 1;
export const FIRST_RELAYED_PORT = 49_152;

export const isTcp = (transport: PathTransport) => transport !== 'udp';
/** The port of the sound that a phone sends. */
export const soundFrom = ({ symmetric, rtpPort }: NetworkPhone) => (symmetric ? rtpPort : rtpPort + 2);
export const signalPortOf = (server: Server, transport: PathTransport) =>
  transport === 'tls' ? server.tlsPort : server.port;

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

/** The signalling socket that it advertises where it has learned nothing. */
export const ownContact = ({ method, manual, address, signalPort }: NetworkPhone): Socket =>
  method === 'manual-public-address' && manual
    ? { address: manual.address, port: manual.signalPort }
    : { address, port: signalPort };
/** Something the phone sends to a server. */
export function toServer(
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
    meant: meantFor(world.topology, server),
    t,
    ...packet,
  });
}

/** Something that a server's host sends to the phone. */
export const toPhone = (
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
export const homeAt = (actor: Actor, arrived: Delivery, port: number): Delivery =>
  arrived.ok && arrived.at.port !== port ? unwanted(actor.world, actor.host.id) : arrived;
