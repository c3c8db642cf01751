import { randomInt } from 'node:crypto';
import type { EndpointTimes, NetworkPhone, Server, Socket } from '../../core/estate';
import {
  reachedAt,
  serverOf,
  SILENCES,
  topologyOf,
  writtenAs,
  type LostPacket,
  type Network,
  type Silence,
  type Topology,
  type TriedAnswer,
  type TriedWay,
} from '../../core/network';
import { openHouse, staged } from '../home';
import { placeCall } from '../phones/caller';
import { openPhone, type Phone } from '../phones/phone';
import type { PhoneWay } from '../phones/way';
import { EXTENSIONS, FAR, INDEX, USER } from './home-estate';
import { clockAt } from '../sip/clock';
import type { Peer, TransportOptions } from '../sip/transport';
import { newToken } from '../sip/token';
import { openSystem, type ServerManner } from '../system';
import { openTurn } from '../turn';

/** So often the loop of events has to come round before something that did not come is given up, and how long each takes, ms. */
const TURNS = 24;
const TURN_MS = 50;
/** The same where checks and relays come first. */
const SOUND_TURNS = 44;
/** After a packet was lost what was asked with it is given so many turns still. */
const TURNS_AFTER_LOSS = 5;
/** Keep-alives and registrations of one silence at most. */
const MOST_BEATS = 100;
/** The ACK of an answered call: the one before it only says that the challenge was heard. */
const ACK_OF_CALL = /^ACK [^]*\r\nCSeq: 2 ACK\r\n/;
const MOST_PLACES = 250;
const REALM = 'home';
/** Long enough for nothing to run out while it is tried. */
const EXPIRES_S = 300;
/** A phone that rings at once. */
const NO_TIME: EndpointTimes = {
  setupMs: 0,
  wakes: false,
  wakeMs: 0,
  mailboxAfterMs: null,
  offAnswerMs: 0,
};

/** Loopback addresses that nobody else uses: a block by chance, so that tries beside each other do not meet. */
/** With what its servers speak TLS. */
type Certificate = NonNullable<TransportOptions['tls']>;

const blocks = new Set<string>();
function block() {
  let start: string;
  do start = `127.${randomInt(70, 120)}.${randomInt(1, 250)}`;
  while (blocks.has(start));
  blocks.add(start);
  let last = 0;
  const next = (): string => {
    last += 1;
    if (last > MOST_PLACES) throw new Error('there are too many places in this network');
    return `${start}.${last}`;
  };
  return { next, all: `${start}.0/24`, free: () => blocks.delete(start) };
}

/** The phone and the server of one question, each in a network where nothing has happened yet. */
interface Stage {
  readonly phone: Phone;
  readonly far: Phone;
  readonly account: { readonly user: string; readonly password: string };
  readonly farAccount: { readonly user: string; readonly password: string };
  readonly server: Peer;
  readonly farServer: Peer;
  /** The time by which the routers forget, s. */
  readonly setTime: (seconds: number) => void;
  readonly lost: () => LostPacket | null;
  /** How many packets routers have let go of so far. */
  readonly losses: () => number;
  readonly seen: Seen;
  readonly close: () => Promise<void>;
}
/** What has happened so far. */
interface Seen {
  rang: boolean;
  heardOut: boolean;
  heardIn: boolean;
  acknowledged: boolean;
}

/** A method that learns from outside what its sockets look like asks whichever server answers STUN. */
const helperOf = ({ servers }: Topology): Server | undefined => servers.stun ?? servers.turn;

/** What a phone does by itself in a silence: at one second it registers first, then keeps its way open. */
function beatsOf({ keepAliveS, registerExpiresS }: NetworkPhone, silence: number) {
  const beats: { readonly at: number; readonly does: 'register' | 'keep-alive' }[] = [];
  const each = (step: number, does: 'register' | 'keep-alive') => {
    for (let at = step; at <= silence && beats.length <= 2 * MOST_BEATS; at += step) beats.push({ at, does });
  };
  each(Math.max(1, Math.floor(registerExpiresS / 2)), 'register');
  if (keepAliveS !== null) each(keepAliveS, 'keep-alive');
  return beats.sort((a, b) => a.at - b.at || (a.does === b.does ? 0 : a.does === 'register' ? -1 : 1));
}

async function openStage(given: Network, id: string, tls: Certificate): Promise<Stage> {
  const { next, all, free } = block();
  const { network, meantBy } = staged(given, next);
  const topology = topologyOf(network);
  const settings = network.phones.find((each) => each.id === id);
  const server = settings && serverOf(topology, settings);
  if (!settings || !server) throw new Error(`${id} cannot be tried`);
  const opened: { readonly it: { readonly close: () => Promise<void> }; readonly comes?: 'first' }[] = [];
  // The phones first, then the routers: what is open through them is over before the servers wait for its end.
  const close = async () => {
    await Promise.all(opened.filter(({ comes }) => comes === 'first').map(({ it }) => it.close()));
    for (const { it } of opened.filter(({ comes }) => comes !== 'first')) await it.close();
    free();
  };
  try {
    let seconds = 0;
    let lost: LostPacket | null = null;
    let losses = 0;
    const seen: Seen = { rang: false, heardOut: false, heardIn: false, acknowledged: false };
    const clock = clockAt();
    const secret = newToken(12);
    const house = await openHouse({
      network,
      seconds: () => seconds,
      onLost: (each) => {
        const named = ({ address, port }: Socket): Socket => ({ address: meantBy(address), port });
        losses += 1;
        lost = { ...each, from: named(each.from), to: named(each.to) };
      },
    });
    opened.push({ it: house });
    const real = (each: Server) => (each.in === 'internet' ? each.address : each.public);
    const helpers = [...new Set([helperOf(topology), topology.servers.turn])];
    for (const each of helpers)
      if (each)
        opened.push({
          it: await openTurn({
            address: real(each),
            port: each.port,
            realm: REALM,
            relayAddress: real(each),
            allow: [all],
            passwordOf: (user) => (user === USER ? secret : null),
            ...(each.kind === 'turn' ? { tls: { ...tls, port: each.tlsPort } } : { mostAllocations: 0 }),
          }),
        });
    const manner: ServerManner = {
      contactFromSource: server.contactFromSource,
      latches: server.latches,
      ice: server.ice && settings.method === 'ice',
      writes: writtenAs(topology, settings.in, server, server.port).address,
      mediaPort: server.mediaPort,
    };
    const passwords: Readonly<Record<string, string>> = { [USER]: newToken(12), [FAR]: newToken(12) };
    const system = await openSystem({
      address: real(server),
      port: server.port,
      tlsPort: server.tlsPort,
      transports: ['udp', 'tcp', 'tls'],
      tls,
      estate: () => INDEX,
      account: (user) => {
        const password = passwords[user];
        return password === undefined ? null : { user, password, endpoint: user };
      },
      userOf: (endpoint) => endpoint,
      carrier: null,
      clock,
      at: () => new Date().toISOString(),
      mannerTo: (user) => (user === USER ? manner : null),
      answersToSource: () => server.answersToSource,
      onCarried: ({ bytes, from }) => {
        if (ACK_OF_CALL.test(bytes) && from.host !== real(server)) seen.acknowledged = true;
      },
    });
    opened.push({ it: system });
    const stun = helperOf(topology);
    const { turn } = topology.servers;
    const way: PhoneWay = {
      ground: house.ground(id),
      settings,
      stun: stun ? reachedAt(topology, settings.in, stun, stun.port) : null,
      turn: turn
        ? {
            at: reachedAt(topology, settings.in, turn, turn.port),
            tlsPort: turn.tlsPort,
            credentials: { username: USER, password: secret },
          }
        : null,
      usesIce: manner.ice,
    };
    const phone = await openPhone({
      address: settings.address,
      clock,
      way,
      manner: () => {
        seen.rang = true;
        return { behaviour: { rejectAfterMs: 0 }, times: NO_TIME, isPublic: false, says: '' };
      },
    });
    opened.push({ it: phone, comes: 'first' });
    const far = await openPhone({
      address: next(),
      clock,
      manner: () => ({
        behaviour: { answerAfterMs: 0 },
        times: NO_TIME,
        isPublic: false,
        says: 'hello from far',
        speaksAtOnce: true,
      }),
      onHeard: (_user, text) => {
        if (text === 'hello') seen.heardOut = true;
      },
    });
    opened.push({ it: far, comes: 'first' });
    const port = settings.transport === 'tls' ? server.tlsPort : server.port;
    const to = reachedAt(topology, settings.in, server, port);
    return {
      phone,
      far,
      account: { user: USER, password: passwords[USER] ?? '' },
      farAccount: { user: FAR, password: passwords[FAR] ?? '' },
      server: { transport: settings.transport, host: to.address, port: to.port },
      farServer: system.node.transport.local.udp,
      setTime: (at) => {
        seconds = at;
      },
      lost: () => lost,
      losses: () => losses,
      seen,
      close,
    };
  } catch (error) {
    await close();
    throw error;
  }
}

/**
 * Waits until something has come, or the events have come round often enough for it to have come.
 * @param stage where it is over soon after a router has let go of a packet
 */
async function until(isSo: () => boolean, turns = TURNS, stage?: Stage): Promise<boolean> {
  let losses = stage?.losses() ?? 0;
  for (let left = turns; left > 0 && !isSo(); left -= 1) {
    await new Promise((resolve) => setTimeout(resolve, TURN_MS));
    const now = stage?.losses() ?? 0;
    if (now !== losses) left = Math.min(left, TURNS_AFTER_LOSS);
    losses = now;
  }
  return isSo();
}
/** What work gives, or null where it fails or does not end in time. */
async function within<T>(work: Promise<T>, turns = TURNS, stage?: Stage): Promise<T | null> {
  let isOver = false;
  const result = work.catch(() => null).finally(() => (isOver = true));
  return Promise.race([result, until(() => isOver, turns, stage).then(() => (isOver ? result : null))]);
}

async function registered(stage: Stage): Promise<boolean> {
  const { phone, account, server } = stage;
  const done = await within(phone.register(account, server, { expiresS: EXPIRES_S }), TURNS, stage);
  return done?.ok === true;
}

async function tryRinging(stage: Stage, settings: NetworkPhone, silence: number): Promise<TriedAnswer> {
  await registered(stage);
  for (const { at, does } of beatsOf(settings, silence)) {
    stage.setTime(at);
    await within(does === 'register' ? stage.phone.refresh() : stage.phone.keepAlive(), TURNS, stage);
  }
  stage.setTime(silence);
  await stage.far.register(stage.farAccount, stage.farServer, { expiresS: EXPIRES_S });
  const call = await placeCall({
    phone: stage.far,
    clock: clockAt(),
    account: stage.farAccount,
    server: stage.farServer,
    from: EXTENSIONS[FAR],
    to: EXTENSIONS[USER],
  });
  let isOver = false;
  void call.over.then(() => (isOver = true));
  await until(() => stage.seen.rang || isOver, TURNS, stage);
  call.hangUp();
  return { works: stage.seen.rang, lost: stage.seen.rang ? null : stage.lost() };
}

/** Sound both ways in a call that the phone places, and whether its ACK arrives. */
async function trySound(stage: Stage): Promise<Pick<TriedWay, 'soundOut' | 'soundIn' | 'staysUp'>> {
  const { seen, far, phone } = stage;
  await registered(stage);
  await far.register(stage.farAccount, stage.farServer, { expiresS: EXPIRES_S });
  const result = (works: boolean): TriedAnswer => ({ works, lost: works ? null : stage.lost() });
  const call = await within(
    placeCall({
      phone,
      clock: clockAt(),
      account: stage.account,
      server: stage.server,
      from: EXTENSIONS[USER],
      to: EXTENSIONS[FAR],
      talkMs: SOUND_TURNS * TURN_MS,
      onHeard: (text) => {
        if (text === 'hello from far') seen.heardIn = true;
      },
    }),
    SOUND_TURNS,
  );
  if (call) {
    await until(() => seen.heardOut && seen.heardIn && seen.acknowledged, SOUND_TURNS);
    call.hangUp();
  }
  return {
    soundOut: result(seen.heardOut),
    soundIn: result(seen.heardIn),
    staysUp: result(call !== null && seen.acknowledged),
  };
}

/** A stage at addresses that nobody has: another process may have taken the same by chance. */
async function anyStage(network: Network, id: string, tls: Certificate, tries = 5): Promise<Stage> {
  try {
    return await openStage(network, id, tls);
  } catch (error) {
    if ((error as NodeJS.ErrnoException).code !== 'EADDRINUSE' || tries === 0) throw error;
    return anyStage(network, id, tls, tries - 1);
  }
}

async function onStage<T>(
  network: Network,
  id: string,
  tls: Certificate,
  act: (stage: Stage) => Promise<T>,
): Promise<T> {
  const stage = await anyStage(network, id, tls);
  try {
    return await act(stage);
  } finally {
    await stage.close();
  }
}

/**
 * Tries a phone of a network with real packets, through routers that do what the model says of them: each question in
 * a network where nothing has happened yet, silences by setting the routers' clock forward.
 * @throws where it cannot be tried (`whyNotTried`), or loopback addresses cannot be had
 */
export async function tryHome(network: Network, id: string, tls: Certificate): Promise<TriedWay> {
  const settings = network.phones.find((each) => each.id === id);
  if (!settings) throw new Error(`there is no phone ${id} in this network`);
  const registering = onStage(network, id, tls, async (stage): Promise<TriedAnswer> => {
    const works = await registered(stage);
    return { works, lost: works ? null : stage.lost() };
  });
  const ringing = SILENCES.map((silence) =>
    beatsOf(settings, silence).length > MOST_BEATS
      ? Promise.resolve(null)
      : onStage(network, id, tls, (stage) => tryRinging(stage, settings, silence)),
  );
  const sounding = onStage(network, id, tls, trySound);
  const [registers, rings, sound] = await Promise.all([registering, Promise.all(ringing), sounding]);
  return {
    registers,
    ringsAfter: Object.fromEntries(
      SILENCES.map((silence, at) => [String(silence), rings[at] ?? null]),
    ) as Record<Silence, TriedAnswer | null>,
    ...sound,
  };
}
