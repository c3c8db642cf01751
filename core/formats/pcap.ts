/**
 * Packet captures in the classic pcap format (magic 0xa1b2c3d4, version 2.4), link type 101: raw IPv4 packets, one
 * UDP datagram each. Checksums are those of RFC 791 and RFC 768.
 */
export interface CapturedPacket {
  /** ms since 1970. */
  readonly epochMs: number;
  readonly from: { readonly host: string; readonly port: number };
  readonly to: { readonly host: string; readonly port: number };
  readonly payload: Uint8Array;
}

const LINKTYPE_RAW = 101;
const IP_HEADER = 20;
const UDP_HEADER = 8;
const SNAP = 65_535;

const octets = (host: string): readonly number[] => {
  const parts = host.split('.').map(Number);
  return parts.length === 4 && parts.every((each) => Number.isInteger(each) && each >= 0 && each < 256)
    ? parts
    : [0, 0, 0, 0];
};

/** The one's complement sum of 16-bit words that IP and UDP use. */
function checksum(bytes: Uint8Array, seed = 0): number {
  let sum = seed;
  for (let at = 0; at < bytes.length; at += 2) sum += (bytes[at]! << 8) | (bytes[at + 1] ?? 0);
  while (sum > 0xffff) sum = (sum & 0xffff) + (sum >>> 16);
  return ~sum & 0xffff;
}

function packetOf({ from, to, payload }: CapturedPacket, id: number): Uint8Array {
  const udpLength = UDP_HEADER + payload.length;
  const bytes = new Uint8Array(IP_HEADER + udpLength);
  const view = new DataView(bytes.buffer);
  bytes[0] = 0x45;
  view.setUint16(2, bytes.length);
  view.setUint16(4, id & 0xffff);
  bytes[8] = 64;
  bytes[9] = 17;
  bytes.set(octets(from.host), 12);
  bytes.set(octets(to.host), 16);
  view.setUint16(10, checksum(bytes.subarray(0, IP_HEADER)));
  view.setUint16(20, from.port);
  view.setUint16(22, to.port);
  view.setUint16(24, udpLength);
  bytes.set(payload, IP_HEADER + UDP_HEADER);
  let pseudo = 17 + udpLength;
  for (let at = 12; at < IP_HEADER; at += 2) pseudo += view.getUint16(at);
  view.setUint16(26, checksum(bytes.subarray(IP_HEADER), pseudo) || 0xffff);
  return bytes;
}

/** A capture file. A payload too large for one IPv4 packet is left out. */
export function writePcap(packets: readonly CapturedPacket[]): Uint8Array {
  const whole = packets
    .filter(({ payload }) => payload.length + IP_HEADER + UDP_HEADER <= SNAP)
    .map((packet, i) => ({ packet, bytes: packetOf(packet, i + 1) }));
  const file = new Uint8Array(24 + whole.reduce((sum, { bytes }) => sum + 16 + bytes.length, 0));
  const view = new DataView(file.buffer);
  view.setUint32(0, 0xa1b2c3d4, true);
  view.setUint16(4, 2, true);
  view.setUint16(6, 4, true);
  view.setUint32(16, SNAP, true);
  view.setUint32(20, LINKTYPE_RAW, true);
  let at = 24;
  for (const { packet, bytes } of whole) {
    view.setUint32(at, Math.floor(packet.epochMs / 1000), true);
    view.setUint32(at + 4, Math.round((packet.epochMs % 1000) * 1000), true);
    view.setUint32(at + 8, bytes.length, true);
    view.setUint32(at + 12, bytes.length, true);
    file.set(bytes, at + 16);
    at += 16 + bytes.length;
  }
  return file;
}
