/** RTP packets (RFC 3550) and telephone events in them (RFC 4733). */
export interface RtpPacket {
  readonly payloadType: number;
  readonly marker: boolean;
  readonly sequence: number;
  readonly timestamp: number;
  readonly source: number;
  readonly payload: Uint8Array;
}

/** Reads a packet; null where it is none. */
export function parseRtp(bytes: Uint8Array): RtpPacket | null {
  if (bytes.length < 12 || bytes[0]! >> 6 !== 2) return null;
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  let start = 12 + 4 * (bytes[0]! & 15);
  if ((bytes[0]! & 16) !== 0) {
    if (bytes.length < start + 4) return null;
    start += 4 + 4 * view.getUint16(start + 2);
  }
  const padding = (bytes[0]! & 32) === 0 ? 0 : bytes[bytes.length - 1]!;
  if (start + padding > bytes.length) return null;
  return {
    payloadType: bytes[1]! & 127,
    marker: bytes[1]! > 127,
    sequence: view.getUint16(2),
    timestamp: view.getUint32(4),
    source: view.getUint32(8),
    payload: bytes.subarray(start, bytes.length - padding),
  };
}

export function writeRtp({
  payloadType,
  marker,
  sequence,
  timestamp,
  source,
  payload,
}: RtpPacket): Uint8Array {
  const bytes = new Uint8Array(12 + payload.length);
  const view = new DataView(bytes.buffer);
  bytes[0] = 128;
  bytes[1] = payloadType | (marker ? 128 : 0);
  view.setUint16(2, sequence & 0xffff);
  view.setUint32(4, timestamp >>> 0);
  view.setUint32(8, source >>> 0);
  bytes.set(payload, 12);
  return bytes;
}

/** The keys in the order of their event codes (RFC 4733, section 3.2). */
const KEYS = '0123456789*#ABCD';

export interface KeyEvent {
  readonly key: string;
  readonly end: boolean;
  /** In units of the RTP timestamp, 1/8000 s. */
  readonly duration: number;
}

/** A telephone event's payload; null where it is none or no key. */
export function parseKeyEvent(payload: Uint8Array): KeyEvent | null {
  if (payload.length < 4) return null;
  const key = KEYS[payload[0]!];
  if (key === undefined) return null;
  return { key, end: payload[1]! > 127, duration: (payload[2]! << 8) | payload[3]! };
}

/** The payload of a telephone event; null where the key is none. */
export function writeKeyEvent({ key, end, duration }: KeyEvent): Uint8Array | null {
  const code = KEYS.indexOf(key);
  if (code < 0 || key.length !== 1) return null;
  return Uint8Array.of(code, (end ? 128 : 0) | 10, (duration >> 8) & 255, duration & 255);
}

/**
 * The packets of one key (RFC 4733, section 2.5): its beginning, one update, and its end three times over; all with
 * the timestamp at which it began.
 */
export function keyPackets(
  key: string,
  from: { readonly sequence: number; readonly timestamp: number; readonly source: number },
  payloadType: number,
): readonly Uint8Array[] {
  const steps = [
    { end: false, duration: 160 },
    { end: false, duration: 400 },
    { end: true, duration: 800 },
    { end: true, duration: 800 },
    { end: true, duration: 800 },
  ];
  return steps.flatMap((step, i) => {
    const payload = writeKeyEvent({ key, ...step });
    return payload
      ? [writeRtp({ ...from, payloadType, marker: i === 0, sequence: from.sequence + i, payload })]
      : [];
  });
}

/** Tells each key once, however often its packets come: by the timestamp at which it began. */
export function keyReader(): (packet: RtpPacket) => string | null {
  let last: number | null = null;
  return ({ payload, timestamp }) => {
    const event = parseKeyEvent(payload);
    if (!event || timestamp === last) return null;
    last = timestamp;
    return event.key;
  };
}
