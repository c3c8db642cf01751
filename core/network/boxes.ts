import { portSpan, type Box, type Forward, type Protocol, type Socket } from '../estate';
import { socketText } from './topology';
import type { TableRow } from './types';
import { forgetIn, ownedIn, ownerKey } from './owned';

/** A destination to which a mapping's inside socket has sent. */
interface Note {
  readonly address: string;
  first: number;
  last: number;
}

/** What a box remembers of a socket inside: with NAT a mapping (RFC 4787 section 4), without it a state. */
export interface Memory {
  readonly proto: Protocol;
  readonly inside: Socket;
  /** Of a mapping: towards which destinations it counts. */
  readonly key: string;
  /** The outside port. */
  readonly port: number;
  readonly first: number;
  last: number;
  answered: boolean;
  stream: boolean;
  /** Lets anything in: a SIP helper made it. */
  open: boolean;
  readonly notes: Map<string, Note>;
}

/** What a box remembers at one time. */
export interface BoxState {
  readonly box: Box;
  readonly ledger: Ledger;
  outside: string;
  memories: Memory[];
  readonly used: Set<number>;
}

/** A packet that crosses a box: its protocol, the socket inside, the one outside, and when, s. */
export interface Crossing {
  readonly proto: Protocol;
  readonly inside: Socket;
  readonly to: Socket;
  readonly t: number;
}

/** Keeps how to take back what is done, and until when what was looked up stays as it is. */
export interface Ledger {
  /** What takes back each change since it was set, the latest last; null: nothing is taken back. */
  undo: (() => void)[] | null;
  /** The first second at which something that was looked up is no longer so. */
  horizon: number;
}

const FIRST_PORT = 40_000;
/** After so many seconds an answered flow counts as a stream. */
const STREAM_AFTER_S = 2;

const spans = new Map<string, readonly [number, number]>();
function spanOf(ports: string): readonly [number, number] {
  const known = spans.get(ports);
  if (known) return known;
  const span = portSpan(ports);
  // Files bring their own spans: the table is begun anew before it grows large.
  if (spans.size > 10_000) spans.clear();
  spans.set(ports, span);
  return span;
}
const holds = (ports: string, port: number) => {
  const [from, to] = spanOf(ports);
  return port >= from && port <= to;
};

export const newBoxState = (box: Box, ledger: Ledger): BoxState => ({
  box,
  ledger,
  outside: box.outside,
  memories: [],
  used: new Set(),
});

/** What a box remembers at a time, in words that can be shown; what has run out stays in it until the next is made. */
export const tableOf = ({ box, memories }: BoxState, t: number): readonly TableRow[] =>
  memories.map((memory) => {
    const timeout = timeoutOf(box, memory);
    return {
      protocol: memory.proto,
      inside: socketText(memory.inside),
      port: box.nat ? memory.port : null,
      isOpen: memory.open || box.filtering === 'endpoint-independent',
      leftS: memory.last + timeout - t,
      towards: [...memory.notes].map(([socket, { address, last }]) => ({
        socket: box.filtering === 'address-dependent' ? address : socket,
        leftS: last + timeout - t,
      })),
    };
  });

/** Whether the box lets nothing go out to such a port. */
export const isBlocked = ({ blocked }: Box, proto: Protocol, port: number): boolean =>
  blocked.some((each) => {
    const [of, ports] = each.split(':');
    return of === proto && (ports === undefined || holds(ports, port));
  });

/** The forward that leads to a socket inside. */
export const forwardTo = ({ forwards }: Box, proto: Protocol, inside: Socket): Forward | undefined =>
  forwards.find(
    (each) => each.proto === proto && each.to === inside.address && holds(each.ports, inside.port),
  );
/** The forward that an outside port has. */
export const forwardAt = ({ forwards }: Box, proto: Protocol, port: number): Forward | undefined =>
  forwards.find((each) => each.proto === proto && holds(each.ports, port));

const timeoutOf = ({ udpTimeoutS, tcpTimeoutS, udpStreamTimeoutS }: Box, memory: Memory) =>
  memory.proto === 'tcp' ? tcpTimeoutS : memory.stream ? (udpStreamTimeoutS ?? udpTimeoutS) : udpTimeoutS;

/** Whether something last used then is still live; how long it stays so is noted. */
function isFresh(ledger: Ledger, last: number, timeout: number, t: number): boolean {
  if (t - last >= timeout) return false;
  if (last + timeout < ledger.horizon) ledger.horizon = last + timeout;
  return true;
}
const isLive = ({ box, ledger }: BoxState, memory: Memory, t: number) =>
  isFresh(ledger, memory.last, timeoutOf(box, memory), t);
const hasNoted = ({ box, ledger }: BoxState, memory: Memory, socket: string, t: number) => {
  const note = memory.notes.get(socket);
  return note !== undefined && isFresh(ledger, note.last, timeoutOf(box, memory), t);
};

/** Marks a memory, and the noted destination if there is one, as used. */
function markUsed({ ledger }: BoxState, memory: Memory, note: Note | undefined, t: number): void {
  if (ledger.undo) {
    const { last, stream } = memory;
    const noted = note?.last;
    ledger.undo.push(() => {
      memory.last = last;
      memory.stream = stream;
      if (note && noted !== undefined) note.last = noted;
    });
  }
  memory.last = t;
  if (memory.answered && t - memory.first > STREAM_AFTER_S) memory.stream = true;
  if (note) note.last = t;
}

function noteDestination(state: BoxState, memory: Memory, { to, t }: Crossing): void {
  const key = socketText(to);
  const known = memory.notes.get(key);
  if (known && t - known.last < timeoutOf(state.box, memory)) return markUsed(state, memory, known, t);
  memory.notes.set(key, { address: to.address, first: t, last: t });
  state.ledger.undo?.push(() => {
    if (known) memory.notes.set(key, known);
    else memory.notes.delete(key);
  });
  markUsed(state, memory, undefined, t);
}

/** Whether something that a box remembers has run out. */
function hasOld({ box, memories }: BoxState, t: number): boolean {
  const known = ownedIn(memories);
  const { udpTimeoutS, tcpTimeoutS, udpStreamTimeoutS } = box;
  const shortest = Math.min(udpTimeoutS, tcpTimeoutS, udpStreamTimeoutS ?? udpTimeoutS);
  if (known.oldest !== null && t - known.oldest < shortest) return false;
  known.oldest = memories.reduce((least, { last }) => Math.min(least, last), t);
  return memories.some((each) => t - each.last >= timeoutOf(box, each));
}

/** What is no longer live is gone; then this is remembered too. */
function remember(state: BoxState, { proto, inside, t }: Crossing, key: string, port: number): Memory {
  const { memories } = state;
  const memory: Memory = {
    proto,
    inside,
    key,
    port,
    first: t,
    last: t,
    answered: false,
    stream: false,
    open: false,
    notes: new Map(),
  };
  // What is tried is taken back afterwards, and what has run out counts for nothing wherever it is looked at.
  if (!state.ledger.undo && hasOld(state, t))
    forgetIn(memories, (each) => t - each.last >= timeoutOf(state.box, each));
  // A box may hold thousands, and is not copied for each.
  memories.push(memory);
  state.ledger.undo?.push(() => {
    memories.pop();
  });
  return memory;
}

/** Outside ports whose mappings have run out are given out again, so that a box can go on for as long as one likes. */
export function freePorts(state: BoxState, t: number): void {
  state.memories = state.memories.filter((each) => t - each.last < timeoutOf(state.box, each));
  state.used.clear();
  for (const { port } of state.memories) state.used.add(port);
}

const keyOf = ({ mapping }: Box, to: Socket): string => {
  switch (mapping) {
    case 'endpoint-independent':
      return '';
    case 'address-dependent':
      return to.address;
    case 'address-and-port-dependent':
      return socketText(to);
  }
};
export const isSame = (a: Socket, b: Socket): boolean => a.port === b.port && a.address === b.address;

/** The live memories of an inside socket that count towards a destination. */
const memoriesOf = (state: BoxState, { proto, inside, t }: Crossing, key: string) =>
  (ownedIn(state.memories).by.get(ownerKey(proto, inside, key)) ?? []).filter((each) =>
    isLive(state, each, t),
  );

/** Whether another inside socket has an outside port already, towards this destination. */
const isTaken = (state: BoxState, { proto, to, t }: Crossing, port: number, but?: Memory) =>
  state.memories.some(
    (each) =>
      each !== but &&
      each.proto === proto &&
      each.port === port &&
      isLive(state, each, t) &&
      (!state.box.sharesPorts || hasNoted(state, each, socketText(to), t)),
  );

/** The mapping by which a socket sends to a destination, if there is one. */
function knownMapping(state: BoxState, crossing: Crossing): Memory | undefined {
  const { to, t } = crossing;
  const own = memoriesOf(state, crossing, keyOf(state.box, to));
  if (!state.box.sharesPorts) return own[0];
  const noted = own.find((each) => hasNoted(state, each, socketText(to), t));
  if (noted) return noted;
  const newest = (memory: Memory) =>
    Math.max(
      ...[...memory.notes.values()]
        .filter((note) => isFresh(state.ledger, note.last, timeoutOf(state.box, memory), t))
        .map((note) => note.first),
    );
  const [first, ...others] = own;
  if (!first) return undefined;
  const latest = others.reduce((best, each) => (newest(each) > newest(best) ? each : best), first);
  return isTaken(state, crossing, latest.port, latest) ? undefined : latest;
}

/** The outside port that a new mapping gets. */
function newPort(state: BoxState, crossing: Crossing): number {
  const { box, used } = state;
  const { proto, inside } = crossing;
  const isReserved = (port: number) => forwardAt(box, proto, port) !== undefined;
  if (box.portPreserving && !isReserved(inside.port) && !isTaken(state, crossing, inside.port))
    return inside.port;
  let port = FIRST_PORT;
  while (port < 65_535 && (used.has(port) || isReserved(port))) port += 1;
  return port;
}

/** A mapping that was not there before; where ports are shared, one of the socket's own with that port goes on. */
function newMapping(state: BoxState, crossing: Crossing): Memory {
  const port = newPort(state, crossing);
  const key = keyOf(state.box, crossing.to);
  const own = state.box.sharesPorts
    ? memoriesOf(state, crossing, key).find((each) => each.port === port)
    : undefined;
  const mapping = own ?? remember(state, crossing, key, port);
  if (!state.used.has(port)) {
    state.used.add(port);
    state.ledger.undo?.push(() => state.used.delete(port));
  }
  return mapping;
}

/**
 * A socket inside sends out through a box: with NAT its mapping is made or refreshed, without it the state of this
 * source and destination.
 * @param mayMake false for a packet over TCP that opens no connection
 * @returns the mapping or state, or null where there is none and none may be made
 */
export function passOut(state: BoxState, crossing: Crossing, mayMake: boolean): Memory | null {
  const { box } = state;
  const { inside, to } = crossing;
  const key = socketText(to);
  const known = box.nat ? knownMapping(state, crossing) : memoriesOf(state, crossing, key)[0];
  if (!known && !mayMake) return null;
  const memory =
    known ?? (box.nat ? newMapping(state, crossing) : remember(state, crossing, key, inside.port));
  noteDestination(state, memory, crossing);
  return memory;
}

/** From now on lets anything in. */
export function openUp({ ledger }: BoxState, memory: Memory): void {
  const before = memory.open;
  memory.open = true;
  ledger.undo?.push(() => {
    memory.open = before;
  });
}

/** Whether the filter lets a source in (RFC 4787 section 5). */
function takes(state: BoxState, memory: Memory, source: Socket, t: number): boolean {
  if (memory.open) return true;
  switch (state.box.filtering) {
    case 'endpoint-independent':
      return true;
    case 'address-dependent':
      return [...memory.notes].some(
        ([socket, { address }]) => address === source.address && hasNoted(state, memory, socket, t),
      );
    case 'address-and-port-dependent':
      return hasNoted(state, memory, socketText(source), t);
  }
}

/** Something came in by a memory: it and the destination that let it in count as used, if the box does so. */
function cameIn(state: BoxState, memory: Memory, source: Socket, t: number): void {
  const { box, ledger } = state;
  if (!memory.answered) {
    memory.answered = true;
    ledger.undo?.push(() => {
      memory.answered = false;
    });
  }
  if (!box.inboundRefreshes) return;
  const exact = memory.notes.get(socketText(source));
  const timeout = timeoutOf(box, memory);
  const isUsable = (note: Note) => t - note.last < timeout;
  const note =
    exact && isUsable(exact)
      ? exact
      : box.filtering === 'address-dependent'
        ? [...memory.notes.values()].find((each) => each.address === source.address && isUsable(each))
        : undefined;
  markUsed(state, memory, note, t);
}

/**
 * A packet comes in to a box: with NAT to one of its outside ports, without it to a socket inside.
 * @returns the socket inside, or why it is dropped
 */
export function passIn(
  state: BoxState,
  proto: Protocol,
  to: Socket,
  source: Socket,
  t: number,
): Socket | 'no-mapping' | 'filtered' {
  const { nat } = state.box;
  const here = state.memories.filter(
    (each) =>
      each.proto === proto &&
      (nat ? each.port === to.port : isSame(each.inside, to)) &&
      isLive(state, each, t),
  );
  if (nat && here.length === 0) return 'no-mapping';
  // Of several mappings with one port the one that has noted the source counts, else the first that lets it in.
  const memory =
    (nat && here.length > 1
      ? here.find((each) => hasNoted(state, each, socketText(source), t))
      : undefined) ?? here.find((each) => takes(state, each, source, t));
  if (!memory) return 'filtered';
  cameIn(state, memory, source, t);
  return memory.inside;
}
