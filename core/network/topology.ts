import { type Box, INTERNET, type NetworkPhone, type Server, type ServerKind, type Socket } from '../estate';
import type { Network } from './types';

/** Something with an address from which packets go and at which they arrive. */
export interface Host {
  readonly id: string;
  readonly in: string;
  readonly address: string;
  /** A phone's host inside a tunnel stands in the system's network; what is for it goes on through the tunnel. */
  readonly isInTunnel: boolean;
}

/** A network made ready for packets: nothing in it changes. */
export interface Topology {
  readonly network: Network;
  readonly boxes: ReadonlyMap<string, Box>;
  /** Hosts by network and address. */
  readonly hosts: ReadonlyMap<string, ReadonlyMap<string, Host>>;
  /** Boxes by the network they stand in and their outside address. */
  readonly outsides: ReadonlyMap<string, ReadonlyMap<string, Box>>;
  /** Boxes without NAT by the network they stand in. */
  readonly open: ReadonlyMap<string, readonly Box[]>;
  readonly servers: Readonly<Partial<Record<ServerKind, Server>>>;
  readonly serverHosts: ReadonlyMap<string, Host>;
  readonly phoneHosts: ReadonlyMap<string, Host>;
  /** The hosts of phones inside their tunnels, where there is a system to stand beside. */
  readonly tunnelHosts: ReadonlyMap<string, Host>;
  /** What was asked of it before: whether a server is near to a network. */
  readonly near: Map<Server, Map<string, boolean>>;
  /** For whom what is sent to a server is meant: system and border controller reach each other. */
  readonly meant: ReadonlyMap<string, readonly string[]>;
  /** Whether hops tell what boxes remember. */
  readonly showsTables: boolean;
}

/** RFC 1918, section 3. */
export function isPrivate(address: string): boolean {
  if (address.startsWith('10.') || address.startsWith('192.168.')) return true;
  const [first, second = '0'] = address.split('.');
  return first === '172' && Number(second) >= 16 && Number(second) <= 31;
}

/** The address that a phone has inside its tunnel: private, and in nobody's use there. */
function* tunnelAddresses(taken: ReadonlySet<string>) {
  for (let number = 0; number < 65_024; number++) {
    const address = `10.250.${Math.floor(number / 254)}.${1 + (number % 254)}`;
    if (!taken.has(address)) yield address;
  }
}

/** Makes a network ready for packets. @param showsTables whether hops are to tell what boxes remember */
export function topologyOf(network: Network, showsTables = false): Topology {
  const boxes = new Map(network.boxes.map((box) => [box.id, box]));
  const hosts = new Map<string, Map<string, Host>>();
  const outsides = new Map<string, Map<string, Box>>();
  const open = new Map<string, Box[]>();
  const inner = <V>(maps: Map<string, Map<string, V>>, key: string) => {
    const found = maps.get(key) ?? new Map<string, V>();
    maps.set(key, found);
    return found;
  };
  const place = (id: string, at: string, address: string, isInTunnel = false): Host => {
    const host: Host = { id, in: at, address, isInTunnel };
    inner(hosts, at).set(address, host);
    return host;
  };
  for (const box of network.boxes) {
    inner(outsides, box.in).set(box.outside, box);
    if (!box.nat) open.set(box.in, [...(open.get(box.in) ?? []), box]);
  }
  const serverHosts = new Map(
    network.servers.map((server) => [server.id, place(server.id, server.in, server.address)]),
  );
  const phoneHosts = new Map(
    network.phones.map((phone) => [phone.id, place(phone.id, phone.in, phone.address)]),
  );
  const servers: Partial<Record<ServerKind, Server>> = {};
  for (const server of network.servers) servers[server.kind] ??= server;
  const tunnelHosts = new Map<string, Host>();
  const { system } = servers;
  if (system) {
    const taken = new Set([...inner(hosts, system.in).keys(), ...inner(outsides, system.in).keys()]);
    const own = boxes.get(system.in)?.inside;
    if (own) taken.add(own);
    const free = tunnelAddresses(taken);
    for (const phone of network.phones)
      if (phone.method === 'vpn') {
        const next = free.next();
        if (!next.done) tunnelHosts.set(phone.id, place(phone.id, system.in, next.value, true));
      }
  }
  const joined = [servers.system, servers['border-controller']].flatMap((each) => (each ? [each.id] : []));
  const meant = new Map(network.servers.map(({ id }) => [id, joined.includes(id) ? joined : [id]] as const));
  const near = new Map(network.servers.map((server) => [server, new Map<string, boolean>()]));
  return {
    network,
    boxes,
    hosts,
    outsides,
    open,
    servers,
    serverHosts,
    phoneHosts,
    tunnelHosts,
    near,
    meant,
    showsTables,
  };
}

/** The networks from a place outward, itself first, the internet last. */
export function wayOut({ boxes }: Topology, from: string): readonly string[] {
  const way = [from];
  for (let box = boxes.get(from); box; box = boxes.get(box.in)) way.push(box.in);
  return way;
}

/** The networks that are parted from this one by boxes without NAT alone: each has the same name in `rootOf`. */
function rootOf({ boxes }: Topology, network: string): string {
  let here = network;
  for (let box = boxes.get(here); box && !box.nat; box = boxes.get(here)) here = box.in;
  return here;
}

/**
 * Whether a server is near to who stands in a network: there, on the way out of it (the internet only for who stands
 * there), or parted from one of these by boxes without NAT alone.
 */
export function isNear(topology: Topology, from: string, server: Server): boolean {
  const known = topology.near.get(server)?.get(from);
  if (known !== undefined) return known;
  const answer = findNear(topology, from, server);
  topology.near.get(server)?.set(from, answer);
  return answer;
}

function findNear(topology: Topology, from: string, server: Server): boolean {
  const root = rootOf(topology, server.in);
  return wayOut(topology, from).some(
    (network) => (network !== INTERNET || from === INTERNET) && rootOf(topology, network) === root,
  );
}

/** Where somebody sends to for a server. */
export const reachedAt = (topology: Topology, from: string, server: Server, port: number): Socket => ({
  address: isNear(topology, from, server) ? server.address : server.public,
  port,
});
/** How a server writes a socket of its own to somebody. */
export const writtenAs = (topology: Topology, to: string, server: Server, port: number): Socket => ({
  address: server.knowsPublic && !isNear(topology, to, server) ? server.public : server.address,
  port,
});

/** A phone's outermost box with NAT. */
export const outermostNat = (topology: Topology, phone: Pick<NetworkPhone, 'in'>): Box | null =>
  wayOut(topology, phone.in)
    .map((network) => topology.boxes.get(network))
    .findLast((box) => box?.nat) ?? null;

export const socketText = ({ address, port }: Socket): string => `${address}:${port}`;

/** For whom what is sent to a server is meant: system and border controller reach each other. */
export const meantFor = (topology: Topology, server: Server): readonly string[] =>
  topology.meant.get(server.id) ?? [server.id];
export const serverNamed = ({ network }: Topology, id: string): Server | undefined =>
  network.servers.find((server) => server.id === id);
