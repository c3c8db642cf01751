import {
  type Box,
  type Forward,
  NAT_METHODS,
  type NatMethod,
  type NetworkPhone,
  PATH_TRANSPORTS,
  type PathSettings,
  type PathTransport,
} from '../estate';
import { forwardAt } from './boxes';
import { enter } from './enter';
import { bytesADay, longestKeepAlive } from './keep-alive';
import { sounding } from './sound';
import { ringing } from './timeline';
import { outermostNat, type Topology, topologyOf, wayOut } from './topology';
import type { FailReason, Hop, Network, Verdict } from './types';

/** A way by which a phone works at its place, with all that has to be set. */
export interface Way {
  readonly method: NatMethod;
  readonly transport: PathTransport;
  readonly turnTransport?: PathTransport;
  /** The branch relay, of that method. */
  readonly relay?: string;
  /** Null: none is needed. */
  readonly keepAliveS: number | null;
  readonly bytesADay: number;
  /** What has to be set or owned, in words. */
  readonly set: readonly string[];
  /** Ports that are opened for it, as box and forward. */
  readonly opens: readonly { readonly box: string; readonly forward: Forward }[];
  /** How many more places the sound goes through. */
  readonly extraHops: number;
  /** What else has to run, beside the phone system: none of it may stop. */
  readonly dependsOn: readonly string[];
}

/** A phone's settings with a way set in them; its method stands apart. */
export const pathWith = (
  path: PathSettings | undefined,
  { transport, keepAliveS, turnTransport }: Way,
): PathSettings => ({
  ...path,
  transport,
  keepAliveS,
  rport: true,
  ...(turnTransport ? { turnTransport } : {}),
});

/** The questions that a way has to answer with yes. */
type Question = 'registers' | 'ringsAfter' | 'soundOut' | 'soundIn' | 'staysUp';
/** A way that does not work, and the packet by which that is seen. */
export interface RejectedWay {
  readonly method: NatMethod;
  readonly transport: PathTransport;
  readonly question: Question;
  readonly reason: FailReason;
  readonly at?: string;
  readonly trace: readonly Hop[];
  /** Of `ringsAfter`: the silence, in s, after which it does not. */
  readonly after?: number;
}

export interface Recommendation {
  readonly phone: string;
  /** Best first. */
  readonly ways: readonly Way[];
  readonly rejected: readonly RejectedWay[];
}

/** Whether a box belongs to a provider, where nobody sets a forward: its inside is shared address space (RFC 6598). */
const isProviders = ({ inside }: Box) => {
  const [first, second = '0'] = inside.split('.');
  return first === '100' && Number(second) >= 64 && Number(second) <= 127;
};

/** The forwards that let a phone's own ports be reached from outside; null where a box on the way takes none. */
function forwardsFor(
  topology: Topology,
  phone: NetworkPhone,
): readonly { readonly box: string; readonly forward: Forward }[] | null {
  const needed: { box: string; forward: Forward }[] = [];
  let to = phone.address;
  for (const network of wayOut(topology, phone.in)) {
    const box = topology.boxes.get(network);
    if (!box) break;
    for (const port of [phone.signalPort, phone.rtpPort]) {
      const there = forwardAt(box, 'udp', port);
      if (there?.to === to) continue;
      if (there || isProviders(box)) return null;
      needed.push({ box: box.id, forward: { proto: 'udp', ports: String(port), to } });
    }
    if (box.nat) to = box.outside;
  }
  return needed;
}

interface Tried {
  readonly network: Network;
  readonly phone: NetworkPhone;
  readonly way: Omit<Way, 'keepAliveS' | 'bytesADay' | 'extraHops'>;
}

const spoken = (transport: PathTransport) => transport.toUpperCase();

/** What is tried for a method over a transport; nothing where something that it needs is not there. */
function attempts(
  network: Network,
  topology: Topology,
  phone: NetworkPhone,
  method: NatMethod,
  transport: PathTransport,
): readonly Tried[] {
  const { servers } = topology;
  const { system, stun, turn, vpn, 'border-controller': border } = servers;
  const set = transport === 'udp' ? [] : [`signalling over ${spoken(transport)}`];
  const plain: NetworkPhone = { ...phone, method, transport, rport: true, keepAliveS: null };
  const one = (
    words: readonly string[],
    dependsOn: readonly string[] = [],
    more: Partial<Tried['way']> = {},
    changed: Partial<NetworkPhone> = {},
    within: Network = network,
  ): Tried => ({
    network: within,
    phone: { ...plain, ...changed },
    way: { method, transport, set: [...set, ...words], opens: [], dependsOn, ...more },
  });
  if (!system && method !== 'border-controller' && method !== 'branch-relay') return [];
  switch (method) {
    case 'direct':
      return [one([])];
    case 'stun':
    case 'ice': {
      const asked = stun ?? turn;
      if (!asked) return [];
      const words = [`${method.toUpperCase()} with ${asked.name}`];
      if (method === 'stun' || !turn) return [one(words, [asked.name])];
      const others = turn === asked ? [asked.name] : [asked.name, turn.name];
      return PATH_TRANSPORTS.map((turnTransport) =>
        one(
          [...words, ...(turnTransport === 'udp' ? [] : [`relayed sound over ${spoken(turnTransport)}`])],
          others,
          { turnTransport },
          { turnTransport },
        ),
      );
    }
    case 'turn':
      return turn
        ? PATH_TRANSPORTS.map((turnTransport) =>
            one(
              [
                `TURN with ${turn.name}`,
                'an account there',
                ...(turnTransport === 'udp' ? [] : [`sound to it over ${spoken(turnTransport)}`]),
              ],
              [turn.name],
              { turnTransport },
              { turnTransport },
            ),
          )
        : [];
    case 'border-controller':
      return border ? [one([`server ${border.name}`], [border.name])] : [];
    case 'vpn':
      return vpn ? [one([`tunnel to ${vpn.name}`, 'its certificate'], [vpn.name])] : [];
    case 'branch-relay': {
      if (transport !== 'tls' || !(border ?? system)) return [];
      const relays = network.phones.filter(
        (each) => each.in === phone.in && each.id !== phone.id && each.method !== 'branch-relay',
      );
      const relay = relays.find(({ id }) => id === phone.relay) ?? relays[0];
      return relay
        ? [
            one(
              [`relay ${relay.name}`, 'its fixed address', 'that it is always on'],
              [relay.name, ...(border ? [border.name] : [])],
              { relay: relay.id },
              { relay: relay.id },
            ),
          ]
        : [];
    }
    case 'manual-public-address': {
      const outer = outermostNat(topology, phone);
      const opens = forwardsFor(topology, phone);
      if (!outer || !opens || transport !== 'udp') return [];
      const { signalPort, rtpPort } = phone;
      const boxes = network.boxes.map((box) => ({
        ...box,
        forwards: [
          ...box.forwards,
          ...opens.filter((each) => each.box === box.id).map(({ forward }) => forward),
        ],
      }));
      const names = new Map(network.boxes.map(({ id, name }) => [id, name]));
      return [
        one(
          [
            `public address ${outer.outside}`,
            ...opens.map(
              ({ box, forward }) =>
                `on ${names.get(box) ?? box} forward UDP ${forward.ports} to ${forward.to}`,
            ),
          ],
          [],
          { opens },
          { manual: { address: outer.outside, signalPort, rtpPort } },
          { ...network, boxes },
        ),
      ];
    }
  }
}

const QUESTIONS = ['soundOut', 'soundIn', 'staysUp'] as const;
type Judged =
  | { readonly ok: true; readonly keepAliveS: number | null; readonly soundTrace: readonly Hop[] }
  | { readonly ok: false; readonly question: Question; readonly verdict: Verdict; readonly after?: number };

/** Whether it works without a keep-alive or with the longest that is safe. */
function judge({ network, phone }: Tried): Judged {
  const topology = topologyOf({
    ...network,
    phones: network.phones.map((each) => (each.id === phone.id ? phone : each)),
  });
  const entered = enter(topology, phone);
  const longest = entered.ok ? longestKeepAlive(topology, phone, entered.actor.server) : null;
  // A tunnel and a relay's connection keep themselves alive.
  const isOwn = phone.method === 'vpn' || phone.method === 'branch-relay';
  const intervals = isOwn || !longest ? [null] : [null, longest];
  let rings = ringing(topology, phone);
  let keepAliveS: number | null = null;
  for (const interval of intervals) {
    keepAliveS = interval;
    rings = ringing(topology, { ...phone, keepAliveS: interval });
    if (rings.worksUntil === null || rings.registers.verdict === 'fails') break;
  }
  if (rings.registers.verdict === 'fails')
    return { ok: false, question: 'registers', verdict: rings.registers };
  if (rings.worksUntil !== null && rings.silent)
    return { ok: false, question: 'ringsAfter', verdict: rings.silent, after: rings.worksUntil };
  const sound = sounding(topology, { ...phone, keepAliveS });
  for (const question of QUESTIONS)
    if (sound[question].verdict === 'fails') return { ok: false, question, verdict: sound[question] };
  return { ok: true, keepAliveS, soundTrace: sound.soundOut.trace };
}

/** How many places more than phone and system the sound goes through: what relays it. */
function extraHops({ way, network, phone }: Tried, trace: readonly Hop[]): number {
  const relays = new Set([
    ...network.servers.filter(({ kind }) => kind === 'turn').map(({ id }) => id),
    ...(way.method === 'branch-relay' ? [way.relay ?? ''] : []),
    ...(way.method === 'border-controller'
      ? network.servers.filter(({ kind }) => kind === 'border-controller').map(({ id }) => id)
      : []),
    ...(way.method === 'vpn' ? network.servers.filter(({ kind }) => kind === 'vpn').map(({ id }) => id) : []),
  ]);
  relays.delete(phone.id);
  return new Set(trace.map(({ where }) => where).filter((where) => relays.has(where))).size;
}

/**
 * By which methods a phone works where it stands, best first: it registers, rings after any silence, has sound both
 * ways and its calls stay up. First what needs least to be set and owned, then the one whose sound goes through fewest
 * places more, that opens fewest ports, that depends on fewest others. Each method that does not work comes with the
 * packet that died.
 */
export function recommend(network: Network, phone: NetworkPhone): Recommendation {
  const topology = topologyOf(network);
  const ways: Way[] = [];
  const rejected: RejectedWay[] = [];
  for (const method of NAT_METHODS)
    for (const transport of PATH_TRANSPORTS) {
      const judged: (readonly [Tried, Judged])[] = [];
      // Of the ways to the TURN server the first that works is enough.
      for (const tried of attempts(network, topology, phone, method, transport)) {
        const each = judge(tried);
        judged.push([tried, each]);
        if (each.ok) break;
      }
      for (const [tried, each] of judged)
        if (each.ok)
          ways.push({
            ...tried.way,
            set: [
              ...tried.way.set,
              ...(each.keepAliveS === null ? [] : [`a keep-alive every ${each.keepAliveS} s`]),
            ],
            keepAliveS: each.keepAliveS,
            bytesADay: bytesADay(each.keepAliveS),
            extraHops: extraHops(tried, each.soundTrace),
          });
      const [first] = judged;
      if (first && !judged.some(([, each]) => each.ok) && !first[1].ok) {
        const { question, verdict, after } = first[1];
        rejected.push({
          method,
          transport,
          question,
          reason: verdict.reason ?? 'no-server',
          ...(verdict.at === undefined ? {} : { at: verdict.at }),
          trace: verdict.trace,
          ...(after === undefined ? {} : { after }),
        });
      }
    }
  const burden = ({ set, dependsOn }: Way) => set.length + dependsOn.length;
  const sorted = [...ways].sort(
    (a, b) =>
      burden(a) - burden(b) ||
      a.extraHops - b.extraHops ||
      a.opens.length - b.opens.length ||
      a.dependsOn.length - b.dependsOn.length,
  );
  return { phone: phone.id, ways: sorted, rejected };
}
