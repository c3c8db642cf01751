import { endpointTimes, type Socket } from '../../core/estate';
import { serverOf, topologyOf, type LostPacket, type Network } from '../../core/network';
import {
  mannerTowards,
  openHelpers,
  openHouse,
  phoneWay,
  realOf,
  registersAt,
  staged,
  takeBlock,
} from '../home';
import { openPhone, type Phone } from '../phones/phone';
import { clockAt } from '../sip/clock';
import type { Peer, TransportOptions } from '../sip/transport';
import { newToken } from '../sip/token';
import { openSystem } from '../system';
import { FAR, INDEX, USER } from './home-estate';

/** The ACK of an answered call: the one before it only says that the challenge was heard. */
const ACK_OF_CALL = /^ACK [^]*\r\nCSeq: 2 ACK\r\n/;
/** A phone that rings at once. */
const NO_TIME = endpointTimes({ kind: 'desk', setupMs: 0 });

/** With what its servers speak TLS. */
export type Certificate = NonNullable<TransportOptions['tls']>;

/** The phone and the server of one question, each in a network where nothing has happened yet. */
export interface Stage {
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

async function openStage(given: Network, id: string, tls: Certificate): Promise<Stage> {
  const { next, all, free } = await takeBlock();
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
    opened.push({ it: await openHelpers(topology, { all, secret, tls }) });
    const manner = mannerTowards(topology, settings, server);
    const passwords: Readonly<Record<string, string>> = { [USER]: newToken(12), [FAR]: newToken(12) };
    const system = await openSystem({
      address: realOf(server),
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
      answersToSource: server.answersToSource,
      onCarried: ({ bytes, from }) => {
        if (ACK_OF_CALL.test(bytes) && from.host !== realOf(server)) seen.acknowledged = true;
      },
    });
    opened.push({ it: system });
    const way = phoneWay(topology, settings, { server, ground: house.ground(id), secret });
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
    return {
      phone,
      far,
      account: { user: USER, password: passwords[USER] ?? '' },
      farAccount: { user: FAR, password: passwords[FAR] ?? '' },
      server: registersAt(topology, settings, server),
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

/** A stage at addresses that nobody has: another process may have taken the same by chance. */
async function anyStage(network: Network, id: string, tls: Certificate, tries = 5): Promise<Stage> {
  try {
    return await openStage(network, id, tls);
  } catch (error) {
    if ((error as NodeJS.ErrnoException).code !== 'EADDRINUSE' || tries === 0) throw error;
    return anyStage(network, id, tls, tries - 1);
  }
}

/** Does something on a stage of its own, and takes it down. @throws where loopback addresses cannot be had */
export async function onStage<T>(
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
