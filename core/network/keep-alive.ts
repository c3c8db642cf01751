import type { NetworkPhone, Server } from '../estate';
import { isTcp } from './actor';
import { type Topology, wayOut } from './topology';

/** A keep-alive comes so much before the time-out, s. */
const MARGIN_S = 5;
const DAY_S = 86_400;
/** A packet with its headers, octets; its answer is as long. */
const OCTETS = 32;

/** What a keep-alive costs a day in octets, there and back. */
export const bytesADay = (everyS: number | null): number =>
  everyS === null ? 0 : Math.ceil(DAY_S / everyS) * 2 * OCTETS;

/**
 * The longest safe interval of a phone's keep-alives to its server: the smallest time-out on the way less 5 s.
 * @returns s; null where no box on the way forgets anything, 0 where none is short enough
 */
export function longestKeepAlive(
  topology: Topology,
  phone: Pick<NetworkPhone, 'in' | 'transport'>,
  server: Pick<Server, 'in'>,
): number | null {
  const [out, inward] = [wayOut(topology, phone.in), wayOut(topology, server.in)];
  // Beyond the network that both ways come to nothing of theirs passes.
  const meeting = out.find((network) => inward.includes(network));
  const before = (way: readonly string[]) => way.slice(0, way.indexOf(meeting ?? ''));
  const times = [...before(out), ...before(inward)].flatMap((network) => {
    const box = topology.boxes.get(network);
    return box ? [isTcp(phone.transport) ? box.tcpTimeoutS : box.udpTimeoutS] : [];
  });
  return times.length === 0 ? null : Math.max(0, Math.min(...times) - MARGIN_S);
}
