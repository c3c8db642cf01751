import type { MeasuredLine } from './quality';

/** One packet of a measurement there and back. Times in ms on one clock. */
export interface Echoed {
  readonly sentMs: number;
  /** null: it never came. */
  readonly gotMs: number | null;
}

/** A second of it. */
export interface LineSecond {
  readonly delayMs: number | null;
  readonly worstMs: number | null;
  readonly sent: number;
  readonly lost: number;
}

/** What came of the packets of one measurement. */
export interface LineFigures extends Pick<MeasuredLine, 'delayMs' | 'jitterMs' | 'lossPercent'> {
  /** Mean length of a run of lost packets; 1 where none is lost. */
  readonly burst: number;
  readonly sent: number;
  readonly received: number;
  readonly seconds: readonly LineSecond[];
}

const mean = (values: readonly number[]) => values.reduce((sum, each) => sum + each, 0) / values.length;

function secondsOf(packets: readonly Echoed[]): readonly LineSecond[] {
  const [first] = packets;
  if (!first) return [];
  const seconds: Echoed[][] = [];
  for (const packet of packets) {
    const at = Math.max(0, Math.floor((packet.sentMs - first.sentMs) / 1000));
    (seconds[at] ??= []).push(packet);
  }
  return [...seconds].map((each = []) => {
    const delays = each.flatMap(({ sentMs, gotMs }) => (gotMs === null ? [] : [(gotMs - sentMs) / 2]));
    return {
      delayMs: delays.length > 0 ? mean(delays) : null,
      worstMs: delays.length > 0 ? Math.max(...delays) : null,
      sent: each.length,
      lost: each.length - delays.length,
    };
  });
}

/**
 * What a line does to a call, from packets that went over it twice, to a relay and back. Of the two ways each is taken
 * for the same: half the delay, a √2-th of its standard deviation, and a loss of which two in a row make what was seen.
 * Runs of lost packets are as they were seen.
 * @returns null where no packet came back
 */
export function lineOf(packets: readonly Echoed[]): LineFigures | null {
  const delays = packets.flatMap(({ sentMs, gotMs }) => (gotMs === null ? [] : [gotMs - sentMs]));
  if (delays.length === 0) return null;
  const average = mean(delays);
  const variance = mean(delays.map((each) => (each - average) ** 2));
  const lost = packets.length - delays.length;
  const runs = packets.filter(({ gotMs }, at) => gotMs === null && packets[at - 1]?.gotMs !== null).length;
  return {
    delayMs: average / 2,
    jitterMs: Math.sqrt(variance / 2),
    lossPercent: 100 * (1 - Math.sqrt(delays.length / packets.length)),
    burst: runs === 0 ? 1 : lost / runs,
    sent: packets.length,
    received: delays.length,
    seconds: secondsOf(packets),
  };
}

/** How different a line makes the outside socket of one inside socket, as a browser can tell. */
export const LINE_MAPPINGS = ['same', 'by-address', 'by-port'] as const;
export type LineMapping = (typeof LINE_MAPPINGS)[number];

/** What STUN said of one socket: by the server asked. */
export interface SeenAs {
  readonly server: { readonly address: string; readonly port: number };
  readonly socket: { readonly address: string; readonly port: number };
}

/**
 * The mapping of RFC 4787, section 4.1, from what STUN servers on two addresses with two ports each saw.
 * @param seen a browser tells an outside socket once, by whichever server said it first
 * @returns null where nothing was seen, or too little to tell
 */
export function mappingOf(seen: readonly SeenAs[]): LineMapping | null {
  if (seen.length === 0) return null;
  if (new Set(seen.map(({ socket }) => socket.port)).size === 1) return 'same';
  const byAddress = new Map<string, Set<number>>();
  for (const { server, socket } of seen)
    byAddress.set(server.address, (byAddress.get(server.address) ?? new Set()).add(socket.port));
  return [...byAddress.values()].some((ports) => ports.size > 1) ? 'by-port' : 'by-address';
}
