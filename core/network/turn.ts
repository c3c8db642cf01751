import type { NetworkPhone, Socket } from '../estate';
import { type Actor, type Allocation, homeAt, isTcp, signalPortOf, toPhone, toServer } from './actor';
import { send } from './carry';
import { failed, type Failed, type Failure } from './outcome';
import { learn } from './stun';
import { reachedAt, socketText, writtenAs } from './topology';
import type { PacketKind } from './types';
import { type Delivery, listen } from './world';

const TURN_TCP_PORT = 50_001;

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

const ownMedia = ({ method, manual, address, rtpPort }: NetworkPhone): Socket =>
  method === 'manual-public-address' && manual
    ? { address: manual.address, port: manual.rtpPort }
    : { address, port: rtpPort };

/**
 * What the phone advertises for its sound: its own socket, the one written by hand, the one it learned, or the relayed
 * one. Asked just before it is written.
 */
export function mediaSocket(actor: Actor, t: number): { readonly socket: Socket } | Failed {
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
