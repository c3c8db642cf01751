import { INTERNET, type Box, type Socket } from '../estate';
import {
  forwardAt,
  forwardTo,
  isBlocked,
  isSame,
  openUp,
  passIn,
  passOut,
  tableOf,
  type BoxState,
} from './boxes';
import { isPrivate, socketText, type Host } from './topology';
import type { DropReason, Hop } from './types';
import { stateOf, type Advertised, type Delivery, type Packet, type World } from './world';

/** A SIP helper's port: what goes to it outward is read. */
const HELPED_PORT = 5060;
const BROKEN_PORT = 65_000;
const NOTHING: Advertised = { contact: null, media: null };

/** A packet on its way: where it is, and what has become of it so far. */
interface Moving {
  readonly world: World;
  readonly packet: Packet;
  network: string;
  source: Socket;
  to: Socket;
  says: Advertised;
  /** It came in by a box: what fits nobody there does not go out again. */
  isInward: boolean;
}

function hop({ world, packet, source, to }: Moving, where: string, more?: Partial<Hop>): void {
  const { trace, topology } = world;
  const box = trace && topology.showsTables ? topology.boxes.get(where) : undefined;
  trace?.push({
    packet: packet.kind,
    at: packet.t,
    protocol: packet.proto,
    where,
    source: socketText(source),
    destination: socketText(to),
    ...more,
    ...(box ? { table: tableOf(stateOf(world, box), packet.t) } : {}),
  });
}
function drop(moving: Moving, at: string, reason: DropReason): Delivery {
  hop(moving, at, { dropped: reason });
  return { ok: false, reason, at };
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

/** Section 4 of the model: what a SIP helper does to a message that goes out by its box. */
function help(moving: Moving, state: BoxState, outside: Socket): void {
  const { box } = state;
  const { contact, media } = moving.says;
  const broken: Socket = { address: state.outside, port: BROKEN_PORT };
  switch (box.sipHelper) {
    case 'none':
      return;
    case 'breaks-contact':
      if (contact) moving.says = { ...moving.says, contact: broken };
      return;
    case 'breaks-sdp':
      if (media) moving.says = { ...moving.says, media: broken };
      return;
    case 'rewrites-well': {
      if (box.nat && contact && isSame(contact, moving.source))
        moving.says = { ...moving.says, contact: outside };
      if (media?.address !== moving.source.address) return;
      if (box.nat && forwardTo(box, 'udp', media)) {
        moving.says = { ...moving.says, media: { address: state.outside, port: media.port } };
        return;
      }
      const crossing = { proto: 'udp', inside: media, to: moving.to, t: moving.packet.t } as const;
      const memory = passOut(state, crossing, true);
      if (!memory) return;
      openUp(state, memory);
      if (box.nat) moving.says = { ...moving.says, media: { address: state.outside, port: memory.port } };
    }
  }
}

/** In by a box: null if it goes on inside. */
function goIn(moving: Moving, box: Box): Delivery | null {
  const { world, packet, source, to } = moving;
  const forward = box.nat ? forwardAt(box, packet.proto, to.port) : forwardTo(box, packet.proto, to);
  const inside = forward
    ? { address: forward.to, port: to.port }
    : passIn(stateOf(world, box), packet.proto, to, source, packet.t);
  if (typeof inside === 'string') return drop(moving, box.id, inside);
  if (world.trace)
    hop(moving, box.id, box.nat ? { rewritten: { destination: socketText(inside) } } : undefined);
  moving.to = inside;
  moving.network = box.id;
  moving.isInward = true;
  return null;
}

/** What a box wrote in a packet that goes out by it. */
const writtenBy = (box: Box, outside: Socket, before: Advertised, after: Advertised): Partial<Hop> =>
  box.nat || after !== before
    ? {
        rewritten: {
          ...(box.nat ? { source: socketText(outside) } : {}),
          ...(after.contact && after.contact !== before.contact
            ? { contact: socketText(after.contact) }
            : {}),
          ...(after.media && after.media !== before.media ? { media: socketText(after.media) } : {}),
        },
      }
    : {};

/** Out by the network's own box: null if it goes on outside. */
function goOut(moving: Moving, box: Box): Delivery | null {
  const { world, packet, source, to } = moving;
  const { proto, t } = packet;
  const state = stateOf(world, box);
  const forward = forwardTo(box, proto, source);
  if (!forward && isBlocked(box, proto, to.port)) return drop(moving, box.id, 'blocked');
  const turnsRound = to.address === state.outside;
  if (turnsRound && !box.hairpin) return drop(moving, box.id, 'no-hairpin');
  let { port } = source;
  if (!forward) {
    const mayMake = proto === 'udp' || packet.opens === true;
    const memory = passOut(state, { proto, inside: source, to, t }, mayMake);
    if (!memory) return drop(moving, box.id, 'no-mapping');
    ({ port } = memory);
  }
  const outside = box.nat ? { address: state.outside, port } : source;
  const before = moving.says;
  if (to.port === HELPED_PORT && packet.isReadable) help(moving, state, outside);
  if (world.trace) hop(moving, box.id, writtenBy(box, outside, before, moving.says));
  moving.source = outside;
  if (turnsRound) return goIn(moving, box);
  moving.network = box.in;
  moving.isInward = false;
  return null;
}

/** One step further: in by a box, or out by the network's own; null if it goes on from there. */
function step(moving: Moving): Delivery | null {
  const { world, network, to } = moving;
  const { topology } = world;
  const own = topology.boxes.get(network);
  const inward = boxWithOutside(world, network, to.address);
  if (inward) return goIn(moving, inward);
  if (own?.inside === to.address) return drop(moving, own.id, 'nothing-listens');
  const boxes = topology.open.get(network);
  const open =
    boxes && !(network === INTERNET && isPrivate(to.address))
      ? boxes.find((box) => isInside(world, box, to.address))
      : undefined;
  if (open) return goIn(moving, open);
  if (moving.isInward || !own) return drop(moving, network, 'no-such-address');
  return goOut(moving, own);
}

/** What has come to the host that has its destination. */
function arrive(moving: Moving, host: Host): Delivery {
  const { world, packet, to, source, says } = moving;
  const { id } = host;
  if (!packet.meant.includes(id)) return drop(moving, id, 'wrong-host');
  if (!world.listening.get(id)?.has(to.port)) return drop(moving, id, 'nothing-listens');
  hop(moving, id);
  const through = host.isInTunnel ? world.tunnels.get(id)?.inward(packet.t) : undefined;
  return through && !through.ok ? through : { ok: true, host, at: to, source, says };
}

function carry(world: World, packet: Packet): Delivery {
  const { sender } = packet;
  const moving: Moving = {
    world,
    packet,
    network: sender.in,
    source: { address: sender.address, port: packet.port },
    to: packet.to,
    says: packet.says ?? NOTHING,
    isInward: false,
  };
  hop(moving, sender.id);
  // Each box is passed outward once and inward once at most: a packet that came in does not go out again.
  for (let steps = 2 * world.topology.boxes.size + 2; steps > 0; steps--) {
    const host = world.topology.hosts.get(moving.network)?.get(moving.to.address);
    const over = host ? arrive(moving, host) : step(moving);
    if (over) return over;
  }
  return drop(moving, moving.network, 'no-such-address');
}

/** Sends a packet on its way, hop by hop; from inside a tunnel through it first. */
export function send(world: World, packet: Packet): Delivery {
  const through = packet.sender.isInTunnel
    ? world.tunnels.get(packet.sender.id)?.outward(packet.t)
    : undefined;
  return through && !through.ok ? through : carry(world, packet);
}
