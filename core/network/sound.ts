import {
  acknowledge,
  allocate,
  ask,
  failed,
  mediaSocket,
  portBase,
  register,
  relayBase,
  soundFrom,
  type Actor,
  type Base,
  type Failure,
} from './actor';
import { enter, usesIce, type Entered } from './enter';
import { dig, traced, verdictOf } from './timeline';
import { reachedAt, socketText, writtenAs, type Host, type Topology } from './topology';
import { listen, send, unwanted, type Advertised, type Delivery, type World } from './world';
import { type NetworkPhone, type Server, type Socket } from '../estate';
import { type Hop, type Verdict } from './types';

type Outcome = { readonly ok: true } | ({ readonly ok: false } & Failure);
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
export function placeCall(actor: Actor, t = 0): Call | ({ readonly ok: false } & Failure) {
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

const meantFor = ({ topology }: World, server: Server): readonly string[] =>
  topology.meant.get(server.id) ?? [server.id];

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
  const meant = meantFor(world, server);
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

/** One candidate of a phone for ICE (RFC 8445 section 5.1): its base, and the socket that the other side sends to. */
export interface Candidate {
  readonly type: 'host' | 'reflexive' | 'relayed';
  readonly base: Base;
  readonly socket: Socket;
}

/** The candidates of a phone, the one of highest priority first. `advertised`: what it learned, or its own. */
export function candidatesOf(actor: Actor, t: number, advertised: Socket): readonly Candidate[] {
  const { phone } = actor;
  const own: Socket = { address: phone.address, port: phone.rtpPort };
  const base = portBase(actor, phone.rtpPort);
  const host: Candidate = { type: 'host', base, socket: own };
  const reflexive: readonly Candidate[] =
    socketText(advertised) === socketText(own) ? [] : [{ type: 'reflexive', base, socket: advertised }];
  const hasRelay = actor.world.topology.servers.turn !== undefined && allocate(actor, t) === null;
  const { allocation } = actor;
  const relayed: readonly Candidate[] =
    hasRelay && allocation
      ? [{ type: 'relayed', base: relayBase(actor, allocation), socket: allocation.relayed }]
      : [];
  return [host, ...reflexive, ...relayed];
}

/** An end of ICE's checks: `send` sends from its base, `take` takes in what was sent to its socket. */
export interface IceEnd {
  readonly socket: Socket;
  readonly send: Base['send'];
  readonly take: Base['take'];
}

interface Checked {
  readonly isUsed: boolean;
  readonly there: Delivery;
  readonly back: Delivery;
  readonly thereTrace: readonly Hop[];
  readonly backTrace: readonly Hop[];
}

/** One check and its answer. @returns the check's fate where it died, otherwise its answer's */
function check(from: IceEnd, to: IceEnd, t: number): Delivery {
  const sent = to.take('check', (meant) => from.send('check', to.socket, meant, t), t);
  if (!sent.ok) return sent;
  return from.take('check answer', (meant) => to.send('check answer', sent.source, meant, t), t);
}

/** Three rounds of checks over one pair of candidates, the first end first; it is used once one side's came through. */
export function checkPair(world: World, first: IceEnd, second: IceEnd, t = 0): Checked {
  let last: Checked | null = null;
  for (let round = 0; round < ROUNDS; round++) {
    const there = traced(world, () => check(first, second, t));
    const back = traced(world, () => check(second, first, t));
    last = {
      isUsed: there.value.ok || back.value.ok,
      there: there.value,
      back: back.value,
      thereTrace: there.trace,
      backTrace: back.trace,
    };
    if (last.isUsed) return last;
  }
  if (!last) throw new Error('no round was gone');
  return last;
}

/** The server's media socket as an end of checks. */
function serverEnd(actor: Actor, { server, host }: Call): IceEnd {
  const { world } = actor;
  listen(world, host.id, server.mediaPort);
  const meant = meantFor(world, server);
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

export const endOf = ({ base, socket }: Candidate): IceEnd => ({ ...base, socket });

const both = (verdict: Verdict) => ({ soundOut: verdict, soundIn: verdict, staysUp: verdict });
const asVerdict = (delivery: Delivery, trace: readonly Hop[]): Verdict =>
  verdictOf(delivery.ok ? { ok: true } : delivery, trace);
/** Of two verdicts the first that fails; if none does, the first. */
export const firstFailed = (...verdicts: readonly [Verdict, ...Verdict[]]): Verdict =>
  verdicts.find(({ verdict }) => verdict === 'fails') ?? verdicts[0];

/** Digs, and registers: what comes before a call. */
function ready(
  topology: Topology,
  phone: NetworkPhone,
): Entered | { readonly ok: false; readonly refused: Verdict } {
  const entered = enter(topology, phone);
  if (!entered.ok) return { ok: false, refused: verdictOf(entered, []) };
  const dug = traced(entered.world, () => dig(entered));
  return dug.value.ok ? entered : { ok: false, refused: verdictOf(dug.value, dug.trace) };
}

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
  return { soundOut: asVerdict(out, outTrace), soundIn: asVerdict(inward, inTrace) };
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
  return { soundOut: asVerdict(last.there, last.thereTrace), soundIn: asVerdict(last.back, last.backTrace) };
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
      meant: meantFor(world, kept.server),
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
  const soundOut = asVerdict(out.value, out.trace);
  const soundIn = asVerdict(inward.value, inward.trace);
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
