import {
  forwardAt,
  forwardTo,
  isBlocked,
  mapIn,
  mapOut,
  newBoxState,
  openUp,
  passIn,
  passOut,
  type BoxState,
  type Ledger,
} from './boxes';
import { isPrivate, socketText, type Host, type Topology } from './topology';
import { INTERNET, type Box, type Protocol, type Socket } from '../estate';
import { type DropReason, type FailReason, type Hop, type PacketKind } from './types';

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

/** A SIP helper's port: what goes to it outward is read. */
const HELPED_PORT = 5060;
const BROKEN_PORT = 65_000;
const NOTHING: Advertised = { contact: null, media: null };
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
  /** @returns null if it got there, otherwise where and why it died */
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
  const state = newBoxState(box);
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

function boxWithOutside({ topology, changed }: World, network: string, address: string): Box | undefined {
  if (changed?.box.in === network && address === changed.to) return changed.box;
  const box = topology.outsides.get(network)?.get(address);
  return box && box === changed?.box ? undefined : box;
}

/** Whether an address is somebody's inside a box without NAT, or further inside through such boxes. */
function isInside(world: World, box: Box, address: string): boolean {
  const { topology } = world;
  return (
    topology.hosts.get(box.id)?.has(address) === true ||
    boxWithOutside(world, box.id, address) !== undefined ||
    (topology.open.get(box.id) ?? []).some((inner) => isInside(world, inner, address))
  );
}

const isSame = (a: Socket, b: Socket) => a.port === b.port && a.address === b.address;

/** What has come to a host, but to a port at which it is not wanted, is dropped there after all. */
export function unwanted(world: World, host: string): Extract<Delivery, { readonly ok: false }> {
  const last = world.trace?.pop();
  if (last) world.trace?.push({ ...last, dropped: 'nothing-listens' });
  return { ok: false, reason: 'nothing-listens', at: host };
}

/** Sends a packet on its way, hop by hop. */
export function send(world: World, packet: Packet): Delivery {
  const { sender, t } = packet;
  if (!sender.isInTunnel) return carry(world, packet);
  const tunnel = world.tunnels.get(sender.id);
  const through = tunnel?.outward(t);
  return through && !through.ok ? through : carry(world, packet);
}

function carry(world: World, packet: Packet): Delivery {
  const { topology, ledger, trace } = world;
  const { kind, proto, t } = packet;
  let network = packet.sender.in;
  let source: Socket = { address: packet.sender.address, port: packet.port };
  let to = packet.to;
  let says = packet.says ?? NOTHING;
  /** The box by which it came in: what fits nobody there does not go out again. */
  let cameBy: Box | null = null;

  const hop = (where: string, more?: Partial<Hop>) => {
    if (!trace) return;
    trace.push({
      packet: kind,
      at: t,
      protocol: proto,
      where,
      source: socketText(source),
      destination: socketText(to),
      ...more,
    });
  };
  const drop = (at: string, reason: DropReason): Delivery => {
    hop(at, { dropped: reason });
    return { ok: false, reason, at };
  };

  /** Section 4 of the model: what a SIP helper does to a message that goes out by its box. */
  const help = (state: BoxState, inside: Socket, outside: Socket) => {
    const { box } = state;
    const { contact, media } = says;
    switch (box.sipHelper) {
      case 'none':
        return;
      case 'breaks-contact':
        if (contact) says = { ...says, contact: { address: state.outside, port: BROKEN_PORT } };
        return;
      case 'breaks-sdp':
        if (media) says = { ...says, media: { address: state.outside, port: BROKEN_PORT } };
        return;
      case 'rewrites-well': {
        if (box.nat && contact && isSame(contact, inside)) says = { ...says, contact: outside };
        if (media?.address !== inside.address) return;
        if (box.nat) {
          if (forwardTo(box, 'udp', media)) {
            says = { ...says, media: { address: state.outside, port: media.port } };
            return;
          }
          const mapping = mapOut(state, ledger, 'udp', media, to, t, true);
          if (!mapping) return;
          openUp(ledger, mapping);
          says = { ...says, media: { address: state.outside, port: mapping.port } };
        } else {
          const passed = passOut(state, ledger, 'udp', media, to, t, true);
          if (passed) openUp(ledger, passed);
        }
      }
    }
  };

  /** In by a box: null if it goes on inside. */
  const goIn = (box: Box): Delivery | null => {
    const state = stateOf(world, box);
    const forward = forwardAt(box, proto, to.port);
    if (box.nat) {
      let inside: Socket;
      if (forward) inside = { address: forward.to, port: to.port };
      else {
        const found = mapIn(state, ledger, proto, to.port, source, t);
        if (typeof found === 'string') return drop(box.id, found);
        inside = found;
      }
      if (trace) hop(box.id, { rewritten: { destination: socketText(inside) } });
      to = inside;
    } else {
      if (!forwardTo(box, proto, to) && !passIn(state, ledger, proto, to, source, t))
        return drop(box.id, 'filtered');
      hop(box.id);
    }
    network = box.id;
    cameBy = box;
    return null;
  };

  /** Out by the network's own box: null if it goes on outside. */
  const goOut = (box: Box): Delivery | null => {
    const state = stateOf(world, box);
    const forward = forwardTo(box, proto, source);
    if (!forward && isBlocked(box, proto, to.port)) return drop(box.id, 'blocked');
    const turnsRound = to.address === state.outside;
    if (turnsRound && !box.hairpin) return drop(box.id, 'no-hairpin');
    const mayMake = proto === 'udp' || packet.opens === true;
    const inside = source;
    let outside = source;
    if (forward) outside = box.nat ? { address: state.outside, port: source.port } : source;
    else if (box.nat) {
      const mapping = mapOut(state, ledger, proto, source, to, t, mayMake);
      if (!mapping) return drop(box.id, 'no-mapping');
      outside = { address: state.outside, port: mapping.port };
    } else if (!passOut(state, ledger, proto, source, to, t, mayMake)) return drop(box.id, 'no-mapping');
    const before = says;
    if (to.port === HELPED_PORT && packet.isReadable) help(state, inside, outside);
    if (trace)
      hop(box.id, {
        ...(box.nat || says !== before
          ? {
              rewritten: {
                ...(box.nat ? { source: socketText(outside) } : {}),
                ...(says.contact && says.contact !== before.contact
                  ? { contact: socketText(says.contact) }
                  : {}),
                ...(says.media && says.media !== before.media ? { media: socketText(says.media) } : {}),
              },
            }
          : {}),
      });
    source = outside;
    if (turnsRound) return goIn(box);
    network = box.in;
    cameBy = null;
    return null;
  };

  hop(packet.sender.id);
  // Each box is passed outward once and inward once at most: a packet that came in does not go out again.
  for (let steps = 2 * topology.boxes.size + 2; steps > 0; steps--) {
    const host = topology.hosts.get(network)?.get(to.address);
    if (host) {
      if (!packet.meant.includes(host.id)) return drop(host.id, 'wrong-host');
      if (!world.listening.get(host.id)?.has(to.port)) return drop(host.id, 'nothing-listens');
      hop(host.id);
      if (host.isInTunnel) {
        const through = world.tunnels.get(host.id)?.inward(t);
        if (through && !through.ok) return through;
      }
      return { ok: true, host, at: to, source, says };
    }
    const own = topology.boxes.get(network);
    const inward = boxWithOutside(world, network, to.address);
    let over: Delivery | null;
    if (inward) over = goIn(inward);
    else if (own?.inside === to.address) return drop(own.id, 'nothing-listens');
    else {
      const openBoxes = topology.open.get(network);
      const open =
        openBoxes && !(network === INTERNET && isPrivate(to.address))
          ? openBoxes.find((box) => isInside(world, box, to.address))
          : undefined;
      if (open) over = goIn(open);
      else if (network === INTERNET) return drop(INTERNET, 'no-such-address');
      else if (cameBy || !own) return drop(network, 'no-such-address');
      else over = goOut(own);
    }
    if (over) return over;
  }
  return drop(network, 'no-such-address');
}
