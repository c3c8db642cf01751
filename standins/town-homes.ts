import { INTERNET, type Socket } from '../core/estate';
import type { EstateIndex } from '../core/calls/engine';
import {
  serverOf,
  topologyOf,
  type LostPacket,
  type Network,
  type Topology,
  type WayLost,
} from '../core/network';
import {
  isOurs,
  mannerTowards,
  openHelpers,
  openHouse,
  phoneWay,
  realOf,
  registersAt,
  SOUND_PORTS,
  staged,
  standingBehind,
  takeBlock,
  withOurPorts,
} from './home';
import type { House, Standing } from './home';
import type { Phone } from './phones/phone';
import type { PhoneWay } from './phones/way';
import { newToken } from './sip/token';
import type { Peer, TransportOptions } from './sip/transport';
import { EXPIRY, type PhoneSystem, type ServerManner } from './system';

/** Losses of one kind of a phone are told so often at most, ms: sound is lost fifty times a second. */
const TOLD_EVERY_MS = 10_000;

/** A phone's way out, and what is to be known of it. */
export interface HomeWay {
  readonly way: PhoneWay;
  readonly server: Peer;
  readonly expiresS: number;
  /** Keeps the way of a phone open, where it is set to. @returns what stops it */
  readonly keepOpen: (phone: Phone) => () => void;
}

interface Home {
  readonly topology: Topology;
  readonly house: House;
  readonly meantBy: (address: string) => string;
  /** Where its routers are seen from outside. */
  readonly addresses: ReadonlySet<string>;
  readonly close: () => Promise<void>;
}

interface HomesOptions {
  /** The time by which the routers forget, s. */
  readonly seconds: () => number;
  readonly system: () => PhoneSystem;
  readonly tls?: TransportOptions['tls'];
  readonly onLost: (lost: WayLost) => void;
}

/** The method of a request or the status of an answer, and nothing of whom it is to: that may be a private number. */
const packetOf = (line: string): string =>
  /^(?:SIP\/2\.0 (\d{3})|([A-Z]{3,12}) )/.exec(line)?.slice(1).find(Boolean) ?? '';

/** Tells what routers let go of, not each packet of a stream. */
function tellsSeldom(tell: (lost: WayLost) => void) {
  const told = new Map<string, number>();
  return (lost: WayLost): void => {
    const kind = `${lost.endpoint} ${lost.packet} ${lost.lost.reason}`;
    if (lost.atMs - (told.get(kind) ?? -TOLD_EVERY_MS) < TOLD_EVERY_MS) return;
    if (told.size > 1000) told.clear();
    told.set(kind, lost.atMs);
    tell(lost);
  };
}

async function openHome(
  site: string,
  given: Network,
  endpoints: ReadonlyMap<string, string>,
  { seconds, system, tls, onLost }: HomesOptions,
  secret: string,
): Promise<Home> {
  const { next, all, free } = await takeBlock();
  const { local } = system().node.transport;
  const ours = { port: local.udp.port, tlsPort: local.tls.port };
  const opened: { readonly close: () => Promise<void> }[] = [];
  const close = async () => {
    for (const each of opened) await each.close();
    free();
  };
  try {
    const { network, meantBy } = staged(withOurPorts(given, ours), next);
    const topology = topologyOf(network);
    const named = ({ address, port }: Socket): Socket => ({ address: meantBy(address), port });
    const nameOf = (place: string): string =>
      [...network.boxes, ...network.phones, ...network.servers].find(({ id }) => id === place)?.name ?? place;
    const lost = ({ from, to, at, line, ...rest }: LostPacket, phone: string | null): void => {
      const endpoint = phone === null ? undefined : endpoints.get(phone);
      if (endpoint === undefined) return;
      onLost({
        endpoint,
        site,
        atMs: Date.now(),
        packet: packetOf(line),
        lost: { ...rest, at: nameOf(at), from: named(from), to: named(to) },
      });
    };
    const house = await openHouse({
      network,
      seconds,
      onLost: lost,
      // Its sound is at an address of this network, so that servers beside it find it there too.
      realOf: (server, port) =>
        isOurs(server) && Object.values(ours).includes(port) ? local.udp.host : realOf(server),
    });
    opened.push(house);
    opened.push(await openHelpers(topology, { all, secret, tls }));
    const outer = network.boxes.filter(({ in: around }) => around === INTERNET);
    return { topology, house, meantBy, addresses: new Set(outer.map(({ outside }) => outside)), close };
  } catch (error) {
    await close();
    throw error;
  }
}

/** Stand-in routers for the phones of the organisation that stand behind some, with the servers which they ask. */
export function townHomes(options: HomesOptions) {
  let of: EstateIndex | null = null;
  let standing: ReadonlyMap<string, Standing> = new Map();
  const homes = new Map<string, Promise<Home>>();
  const open = new Map<string, Home>();
  /** How the system treats whoever stands behind a router, by endpoint. */
  const manners = new Map<string, ServerManner>();
  /** Where the system answers to the source, whatever a request says. */
  const toSource = new Set<string>();
  const secret = newToken(12);
  const told = { ...options, onLost: tellsSeldom(options.onLost) };

  const placeOf = (index: EstateIndex, endpoint: string): Standing | undefined => {
    if (of !== index) {
      of = index;
      standing = standingBehind(index.estate);
    }
    return standing.get(endpoint);
  };

  async function homeOf({ home: key, site, network }: Standing): Promise<Home> {
    const endpoints = new Map(
      [...standing.values()].filter(({ home }) => home === key).map((each) => [each.phone, each.endpoint]),
    );
    const opening = homes.get(key) ?? openHome(site, network, endpoints, told, secret);
    homes.set(key, opening);
    try {
      const home = await opening;
      open.set(key, home);
      return home;
    } catch (error) {
      homes.delete(key);
      throw error;
    }
  }

  return {
    /** Changes where anything of a phone's way out does; empty: it stands at the machine. */
    keyOf: (index: EstateIndex, endpoint: string): string => {
      const place = placeOf(index, endpoint);
      return place ? `${place.phone} ${place.home}` : '';
    },
    /** Opens the way of a phone that stands behind routers; null: it stands at the machine. */
    wayOf: async (index: EstateIndex, endpoint: string): Promise<HomeWay | null> => {
      const place = placeOf(index, endpoint);
      manners.delete(endpoint);
      if (!place) return null;
      const home = await homeOf(place);
      const { topology } = home;
      const settings = topology.network.phones.find(({ id }) => id === place.phone);
      const server = settings && serverOf(topology, settings);
      if (!settings || !server) return null;
      manners.set(endpoint, {
        ...mannerTowards(topology, settings, server),
        soundAt: realOf(server),
        soundPorts: SOUND_PORTS,
      });
      if (server.answersToSource) for (const each of home.addresses) toSource.add(each);
      const { keepAliveS } = settings;
      return {
        way: phoneWay(topology, settings, { server, ground: home.house.ground(settings.id), secret }),
        server: registersAt(topology, settings, server),
        expiresS: Math.min(Math.max(settings.registerExpiresS, EXPIRY.least), EXPIRY.most),
        keepOpen: (phone) => {
          if (keepAliveS === null) return () => undefined;
          const beat = setInterval(() => void phone.keepAlive(), keepAliveS * 1000);
          return () => clearInterval(beat);
        },
      };
    },
    mannerTo: (endpoint: string | null): ServerManner | null =>
      endpoint === null ? null : (manners.get(endpoint) ?? null),
    answersToSource: ({ host }: Peer): boolean => toSource.has(host),
    /** Where the router of whoever sends from there is seen by the networks of the sites; null: it comes from the machine. */
    seenAt: ({ host, port }: Peer): Socket | null => {
      for (const { addresses, meantBy } of open.values())
        if (addresses.has(host)) return { address: meantBy(host), port };
      return null;
    },
    /** Takes down the routers of which no phone is there any more. */
    closeOld: async (there: Iterable<string>): Promise<void> => {
      const kept = new Set<string>();
      for (const endpoint of there) {
        const place = standing.get(endpoint);
        if (place) kept.add(place.home);
      }
      for (const [key, opening] of [...homes]) {
        if (kept.has(key)) continue;
        homes.delete(key);
        for (const each of open.get(key)?.addresses ?? []) toSource.delete(each);
        open.delete(key);
        await (await opening.catch(() => null))?.close();
      }
    },
    close: async (): Promise<void> => {
      for (const opening of homes.values()) await (await opening.catch(() => null))?.close();
      homes.clear();
    },
  };
}
