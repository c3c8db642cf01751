import { INTERNET, type NatBehaviour, type Server, type Socket } from '../estate';
import { send } from './carry';
import { wholeServer } from './read';
import { type Host, socketText, topologyOf } from './topology';
import type { Network } from './types';
import { listen, newWorld, type World } from './world';

/** What a client finds out of the NATs before it (RFC 5780 section 4). */
export type NatClass =
  | { readonly answered: false }
  | {
      readonly answered: true;
      /** Whether its address is changed on the way. */
      readonly nat: boolean;
      readonly mapping: NatBehaviour;
      readonly filtering: NatBehaviour;
      /** Whether it keeps its own port. */
      readonly keepsPort: boolean;
      /** Whether what it sends to its own outside socket comes home. */
      readonly hairpin: boolean;
      readonly seen: Socket;
    };

const CLIENT = 'the client of the test';
/** The test's server has two addresses, each with two ports. */
const [FIRST, SECOND] = ['the first address of the test', 'the second address of the test'];
const PORTS = [3478, 3479] as const;
const CLIENT_PORT = 30_000;

/** Addresses that nobody on the internet of this network has: of RFC 5737's first block, else of its others. */
function freeAddresses({ boxes, servers, phones }: Network): readonly [string, string] {
  const taken = new Set([
    ...boxes.flatMap(({ outside, inside }) => [outside, inside]),
    ...[...servers, ...phones].map(({ address }) => address),
  ]);
  const free: string[] = [];
  for (const block of ['192.0.2', '198.51.100', '203.0.113'])
    for (let last = 1; last < 255 && free.length < 2; last++) {
      const address = `${block}.${last}`;
      if (!taken.has(address)) free.push(address);
    }
  const [first, second] = free;
  if (first === undefined || second === undefined) throw new Error('no address is free on the internet');
  return [first, second];
}

const server = (id: string, address: string): Server =>
  wholeServer({ id, name: id, kind: 'stun', in: INTERNET, address });

/**
 * What a client at this place finds out of mapping and filtering, by RFC 5780's tests: the same question to both
 * addresses and both ports, and answers from a changed address and port.
 * @param from network and address at which it stands; the address must be in nobody's use there
 */
export function classify(
  network: Network,
  from: { readonly in: string; readonly address: string },
): NatClass {
  const [first, second] = freeAddresses(network);
  const topology = topologyOf({
    ...network,
    servers: [...network.servers, server(FIRST, first), server(SECOND, second)],
  });
  const client: Host = { id: CLIENT, ...from, isInTunnel: false };
  const hosts = new Map(topology.hosts.get(from.in) ?? []);
  const known = hosts.get(from.address);
  const asked: Host = known ?? client;
  hosts.set(from.address, asked);
  const whole = { ...topology, hosts: new Map(topology.hosts).set(from.in, hosts) };
  const start = (): World => {
    const world = newWorld(whole);
    listen(world, asked.id, CLIENT_PORT);
    for (const port of PORTS) for (const id of [FIRST, SECOND]) listen(world, id, port);
    return world;
  };
  const hostAt = (id: string) => {
    const host = whole.serverHosts.get(id);
    if (!host) throw new Error(`no server ${id}`);
    return host;
  };
  const ask = (world: World, id: string, port: number) => {
    const sent = send(world, {
      kind: 'STUN',
      proto: 'udp',
      sender: asked,
      port: CLIENT_PORT,
      to: { address: hostAt(id).address, port },
      meant: [id],
      t: 0,
    });
    return sent.ok ? sent.source : null;
  };
  const comesHome = (world: World, id: string, port: number, to: Socket) =>
    send(world, { kind: 'STUN answer', proto: 'udp', sender: hostAt(id), port, to, meant: [asked.id], t: 0 })
      .ok;

  const mapped = start();
  const [port, otherPort] = PORTS;
  const seen = ask(mapped, FIRST, port);
  if (!seen || !comesHome(mapped, FIRST, port, seen)) return { answered: false };
  const [elsewhere, beside] = [ask(mapped, SECOND, port), ask(mapped, SECOND, otherPort)];
  const isAlike = (a: Socket | null, b: Socket | null) => a && b && socketText(a) === socketText(b);
  const mapping: NatBehaviour = isAlike(seen, elsewhere)
    ? 'endpoint-independent'
    : isAlike(elsewhere, beside)
      ? 'address-dependent'
      : 'address-and-port-dependent';
  const filtered = (id: string, of: number) => {
    const world = start();
    const here = ask(world, FIRST, port);
    return here !== null && comesHome(world, id, of, here);
  };
  const filtering: NatBehaviour = filtered(SECOND, otherPort)
    ? 'endpoint-independent'
    : filtered(FIRST, otherPort)
      ? 'address-dependent'
      : 'address-and-port-dependent';
  const turned = start();
  const own = ask(turned, FIRST, port);
  const hairpin =
    own !== null &&
    send(turned, {
      kind: 'STUN',
      proto: 'udp',
      sender: asked,
      port: CLIENT_PORT + 1,
      to: own,
      meant: [asked.id],
      t: 0,
    }).ok;
  return {
    answered: true,
    nat: seen.address !== from.address,
    mapping,
    filtering,
    keepsPort: seen.port === CLIENT_PORT,
    hairpin,
    seen,
  };
}
