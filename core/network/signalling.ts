import type { Server, Socket } from '../estate';
import { type Actor, homeAt, isTcp, signalPortOf, tcpPort, toPhone, toServer } from './actor';
import { failed, type Failed, OK, type Outcome } from './outcome';
import { learnContact } from './stun';
import { type Host, reachedAt, serverNamed, writtenAs } from './topology';
import type { Advertised } from './world';

function nextConnection(actor: Actor): number {
  const port = tcpPort(actor.connections, actor.firstTcpPort);
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
): Answered | Failed {
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
