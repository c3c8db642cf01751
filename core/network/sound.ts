import type { NetworkPhone, Server, Socket } from '../estate';
import { type Actor, soundFrom } from './actor';
import { send } from './carry';
import { enter, type Entered, ready, usesIce } from './enter';
import { type Candidate, candidatesOf, type Checked, checkPair, endOf, type IceEnd } from './ice';
import { failed, type Failed, fateOf, firstFailed, type Outcome, verdictOf } from './outcome';
import { acknowledge, ask, register } from './signalling';
import { type Host, meantFor, reachedAt, type Topology, writtenAs } from './topology';
import { type Base, mediaSocket, portBase, relayBase } from './turn';
import type { Hop, Verdict } from './types';
import { type Advertised, type Delivery, listen, traced, unwanted } from './world';

/** Rounds of sound, or of checks, of which the last one counts. */
const ROUNDS = 3;

/** A call that has come about: who serves it, and what both ends advertise as it came to the other. */
export interface Call {
  readonly ok: true;
  readonly server: Server;
  readonly host: Host;
  /** The phone's, as they came to the server. */
  readonly heard: Advertised;
  /** The server's, as they came to the phone. */
  readonly answered: Advertised;
  /** What ICE may use, as the phone's SDP has it. */
  readonly candidates: readonly Candidate[];
}

/** Registers, whether answered or not, and places a call: INVITE with the phone's SDP, and the answer with the server's. */
export function placeCall(actor: Actor, t = 0): Call | Failed {
  const media = mediaSocket(actor, t);
  if (!('socket' in media)) return media;
  const candidates = actor.phone.method === 'ice' ? candidatesOf(actor, t, media.socket) : [];
  const answered = ask(actor, 'INVITE', t, { contact: actor.contact, media: media.socket });
  return answered.ok ? { ...answered, candidates } : failed(answered);
}

/** From where the phone's sound goes and where it comes in. */
export const soundBase = (actor: Actor): Base =>
  actor.allocation && actor.phone.method === 'turn'
    ? relayBase(actor, actor.allocation)
    : portBase(actor, soundFrom(actor.phone));

interface Rounds {
  readonly out: Delivery;
  readonly in: Delivery;
  readonly outTrace: readonly Hop[];
  readonly inTrace: readonly Hop[];
}

/** Three rounds of sound between a phone and its server: what became of the last packet of each. */
function soundRounds(actor: Actor, call: Call, t = 0): Rounds {
  const { world } = actor;
  const { server, host } = call;
  const base = soundBase(actor);
  listen(world, host.id, server.mediaPort);
  const meant = meantFor(world.topology, server);
  const to = call.answered.media ?? writtenAs(world.topology, actor.phone.in, server, server.mediaPort);
  const advertised = call.heard.media ?? { address: actor.phone.address, port: actor.phone.rtpPort };
  let latest: Socket | null = null;
  let last: Rounds | null = null;
  for (let round = 0; round < ROUNDS; round++) {
    const out = traced(world, () => {
      const sent = base.send('sound', to, meant, t);
      if (!sent.ok) return sent;
      const own = world.topology.network.servers.find(({ id }) => id === sent.host.id);
      return sent.at.port === own?.mediaPort ? sent : unwanted(world, sent.host.id);
    });
    if (out.value.ok) latest = out.value.source;
    const back = server.latches && latest ? latest : advertised;
    const inward = traced(world, () =>
      base.take(
        'sound',
        (phones) =>
          send(world, {
            kind: 'sound',
            proto: 'udp',
            sender: host,
            port: server.mediaPort,
            to: back,
            meant: phones,
            t,
          }),
        t,
      ),
    );
    last = { out: out.value, in: inward.value, outTrace: out.trace, inTrace: inward.trace };
  }
  if (!last) throw new Error('no round was gone');
  return last;
}

/** The server's media socket as an end of checks. */
function serverEnd(actor: Actor, { server, host }: Call): IceEnd {
  const { world } = actor;
  listen(world, host.id, server.mediaPort);
  const meant = meantFor(world.topology, server);
  return {
    socket: writtenAs(world.topology, actor.phone.in, server, server.mediaPort),
    send: (kind, to, phones, t) =>
      send(world, { kind, proto: 'udp', sender: host, port: server.mediaPort, to, meant: phones, t }),
    take: (_kind, sent) => {
      const arrived = sent(meant);
      if (!arrived.ok) return arrived;
      return arrived.at.port === server.mediaPort ? arrived : unwanted(world, arrived.host.id);
    },
  };
}

const both = (verdict: Verdict) => ({ soundOut: verdict, soundIn: verdict, staysUp: verdict });
/** Sound both ways in a call that the phone places, and whether the call stays up (RFC 3261 section 13.3.1.4). */
export function sounding(topology: Topology, phone: NetworkPhone) {
  const entered = ready(topology, phone);
  if (!entered.ok) return both(entered.refused);
  const { world, actor } = entered;
  if (entered.isRelayed) return relayedSound(entered);
  register(actor, 0);
  const placed = traced(world, () => placeCall(actor));
  const call = placed.value;
  if (!call.ok) return both(verdictOf(call, placed.trace));
  const { soundOut, soundIn } = usesIce(topology, phone) ? iceSound(actor, call) : plainSound(actor, call);
  return {
    soundOut,
    soundIn,
    staysUp: entered.tunnel ? firstFailed(soundOut, soundIn) : staysUp(topology, phone),
  };
}

function plainSound(actor: Actor, call: Call) {
  const { out, in: inward, outTrace, inTrace } = soundRounds(actor, call);
  return { soundOut: fateOf(out, outTrace), soundIn: fateOf(inward, inTrace) };
}

function iceSound(actor: Actor, call: Call) {
  const { world } = actor;
  const server = serverEnd(actor, call);
  let last: Checked | null = null;
  for (const candidate of call.candidates) {
    last = checkPair(world, endOf(candidate), server);
    if (last.isUsed) {
      const trace = last.there.ok ? last.thereTrace : last.backTrace;
      const works: Verdict = { verdict: 'works', trace };
      return { soundOut: works, soundIn: works };
    }
  }
  if (!last) throw new Error('a phone without a candidate');
  return { soundOut: fateOf(last.there, last.thereTrace), soundIn: fateOf(last.back, last.backTrace) };
}

/** Sound inside a branch relay's connection. */
function relayedSound({ world, actor }: Entered) {
  const begun = traced(world, () => register(actor, 0));
  const { kept, phone, host } = actor;
  if (!begun.value.ok || !kept) return both(verdictOf(begun.value, begun.trace));
  const out = traced(world, () =>
    send(world, {
      kind: 'sound',
      proto: 'tcp',
      sender: host,
      port: actor.connection ?? actor.firstTcpPort,
      to: reachedAt(world.topology, phone.in, actor.server, actor.server.tlsPort),
      meant: meantFor(world.topology, kept.server),
      t: 0,
    }),
  );
  const inward = traced(world, () =>
    send(world, {
      kind: 'sound',
      proto: 'tcp',
      sender: kept.host,
      port: kept.port,
      to: kept.contact,
      meant: [host.id],
      t: 0,
    }),
  );
  const soundOut = fateOf(out.value, out.trace);
  const soundIn = fateOf(inward.value, inward.trace);
  return { soundOut, soundIn, staysUp: firstFailed(soundOut, soundIn) };
}

/** Whether the phone's ACK gets to the contact that the server gave, in a network of its own. */
function staysUp(topology: Topology, phone: NetworkPhone): Verdict {
  const entered = enter(topology, phone);
  if (!entered.ok) return verdictOf(entered, []);
  const { world, actor } = entered;
  register(actor, 0);
  const placed = traced(world, () => placeCall(actor));
  const call = placed.value;
  if (!call.ok) return verdictOf(call, placed.trace);
  const contact =
    call.answered.contact ?? writtenAs(world.topology, actor.phone.in, call.server, call.server.port);
  const ack = traced(world, (): Outcome => acknowledge(actor, contact, 0));
  return verdictOf(ack.value, ack.trace);
}
