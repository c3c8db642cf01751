import type { Box, Protocol, Socket } from '../estate';
import { type BoxState, freePorts, type Ledger, newBoxState } from './boxes';
import type { Host, Topology } from './topology';
import type { DropReason, FailReason, Hop, PacketKind } from './types';

/** What a SIP message says of its sender's sockets. */
export interface Advertised {
  readonly contact: Socket | null;
  readonly media: Socket | null;
}

export interface Packet {
  readonly kind: PacketKind;
  readonly proto: Protocol;
  readonly sender: Host;
  readonly port: number;
  readonly to: Socket;
  /** The hosts for which it is meant: where it arrives at another one it is dropped. */
  readonly meant: readonly string[];
  /** Seconds. */
  readonly t: number;
  /** Over TCP: whether it opens the connection. */
  readonly opens?: boolean;
  /** Of a SIP message that advertises something: what. */
  readonly says?: Advertised;
  /** Whether a box can read it: not so over TLS. */
  readonly isReadable?: boolean;
}

export type Delivery =
  | {
      readonly ok: true;
      readonly host: Host;
      /** Where it arrived, and from where it seems to come there. */
      readonly at: Socket;
      readonly source: Socket;
      /** What it advertises when it gets there. */
      readonly says: Advertised;
    }
  | { readonly ok: false; readonly reason: FailReason; readonly at: string };

/** The address of an outermost box after it has changed: of RFC 5737's second block. */
export const CHANGED_ADDRESS = '198.51.100.250';

/** A network in time: what its boxes remember, and which ports are listened on. */
export interface World {
  readonly topology: Topology;
  readonly ledger: Ledger;
  /** The hops of what is sent, where somebody wants them. */
  trace: Hop[] | null;
  /** Where a phone's packets inside its tunnel go through the tunnel. */
  readonly tunnels: Map<string, Tunnel>;
  readonly boxes: Map<string, BoxState>;
  readonly listening: Map<string, Set<number>>;
  changed: { readonly box: Box; readonly to: string } | null;
}

/** The way of a tunnel's packets between a phone and the VPN server. */
export interface Tunnel {
  readonly outward: (t: number) => Delivery;
  readonly inward: (t: number) => Delivery;
}

export function newWorld(topology: Topology): World {
  return {
    topology,
    ledger: { undo: null, horizon: Infinity },
    trace: null,
    tunnels: new Map(),
    boxes: new Map(),
    listening: new Map(),
    changed: null,
  };
}

/** Lets go of what all boxes remember that has run out. */
export function forgetOld(world: World, t: number): void {
  for (const state of world.boxes.values()) freePorts(state, t);
}

/** From now on a host takes what comes to this port. */
export function listen(world: World, host: string, port: number): void {
  const ports = world.listening.get(host);
  if (ports) ports.add(port);
  else world.listening.set(host, new Set([port]));
}

/** Does something in a world, and takes back all that it left in it. */
export function without<T>(world: World, act: () => T): T {
  const { ledger } = world;
  const before = ledger.undo;
  const undo: (() => void)[] = [];
  ledger.undo = undo;
  try {
    return act();
  } finally {
    for (let at = undo.length - 1; at >= 0; at--) undo[at]?.();
    ledger.undo = before;
  }
}

/** What a box remembers. */
export function stateOf(world: World, box: Box): BoxState {
  const known = world.boxes.get(box.id);
  if (known) return known;
  const state = newBoxState(box, world.ledger);
  world.boxes.set(box.id, state);
  return state;
}

/** A box gets another outside address, and its mappings are gone. */
export function changeOutside(world: World, box: Box, to: string): void {
  const state = stateOf(world, box);
  state.outside = to;
  state.memories = [];
  world.changed = { box, to };
}

/** What has come to a host, but to a port at which it is not wanted, is dropped there after all. */
export function unwanted(
  world: World,
  host: string,
  reason: DropReason = 'nothing-listens',
): Extract<Delivery, { readonly ok: false }> {
  const last = world.trace?.pop();
  if (last) world.trace?.push({ ...last, dropped: reason });
  return { ok: false, reason, at: host };
}

/** Does something with its packets' hops kept. */
export function traced<T>(world: World, act: () => T): { readonly value: T; readonly trace: readonly Hop[] } {
  const before = world.trace;
  const trace: Hop[] = [];
  world.trace = trace;
  const value = act();
  world.trace = before;
  return { value, trace };
}
