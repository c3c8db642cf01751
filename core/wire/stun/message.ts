/**
 * STUN messages (RFC 8489) with the attributes of TURN (RFC 8656), as bytes and back. Nothing here keeps a secret or
 * computes a hash of its own but the checksum: what is keyed is given.
 */

/** RFC 8489, section 5. */
const MAGIC_COOKIE = 0x2112a442;
const HEADER = 20;
/** CRC-32 of the message before it, exclusive-or'd with this (section 14.7). */
const FINGERPRINT_XOR = 0x5354554e;
/** Longer messages are not read: a datagram over Ethernet holds less. */
export const MOST_BYTES = 65_535;
/** Attributes read of one message at most. */
const MOST_ATTRIBUTES = 64;

export const METHODS = {
  binding: 1,
  allocate: 3,
  refresh: 4,
  send: 6,
  data: 7,
  createPermission: 8,
  channelBind: 9,
} as const;
export type StunMethod = keyof typeof METHODS;
export const CLASSES = ['request', 'indication', 'success', 'error'] as const;
export type StunClass = (typeof CLASSES)[number];

/** Numbers of attributes; from 0x8000 up whoever does not know one may pass it over. */
export const ATTRIBUTES = {
  mappedAddress: 0x0001,
  username: 0x0006,
  messageIntegrity: 0x0008,
  errorCode: 0x0009,
  unknownAttributes: 0x000a,
  channelNumber: 0x000c,
  lifetime: 0x000d,
  xorPeerAddress: 0x0012,
  data: 0x0013,
  realm: 0x0014,
  nonce: 0x0015,
  xorRelayedAddress: 0x0016,
  requestedAddressFamily: 0x0017,
  requestedTransport: 0x0019,
  xorMappedAddress: 0x0020,
  priority: 0x0024,
  useCandidate: 0x0025,
  software: 0x8022,
  fingerprint: 0x8028,
  iceControlled: 0x8029,
  iceControlling: 0x802a,
} as const;
export type AttributeName = keyof typeof ATTRIBUTES;

const NAMES = new Map<number, AttributeName>(
  Object.entries(ATTRIBUTES).map(([name, number]) => [number, name as AttributeName]),
);
const METHOD_NAMES = new Map<number, StunMethod>(
  Object.entries(METHODS).map(([name, number]) => [number, name as StunMethod]),
);

export interface StunSocket {
  readonly address: string;
  readonly port: number;
}

/** An attribute as it came, its padding left out. */
export interface StunAttribute {
  readonly type: number;
  readonly value: Uint8Array;
  /** Where it begins in the message. */
  readonly at: number;
}

export interface StunMessage {
  readonly method: StunMethod;
  readonly kind: StunClass;
  /** 12 octets. */
  readonly transaction: Uint8Array;
  readonly attributes: readonly StunAttribute[];
  readonly bytes: Uint8Array;
}

/** What signs or checks a message: HMAC-SHA1 of bytes with a key. */
export type Hmac = (key: Uint8Array, bytes: Uint8Array) => Uint8Array;

const TABLE = Uint32Array.from({ length: 256 }, (_each, n) => {
  let value = n;
  for (let bit = 0; bit < 8; bit += 1) value = value & 1 ? (value >>> 1) ^ 0xedb88320 : value >>> 1;
  return value >>> 0;
});

/** The checksum of ITU-T V.42 (CRC-32). */
export function crc32(bytes: Uint8Array): number {
  let value = 0xffffffff;
  for (const byte of bytes) value = (value >>> 8) ^ (TABLE[(value ^ byte) & 0xff] ?? 0);
  return (value ^ 0xffffffff) >>> 0;
}

const viewOf = (bytes: Uint8Array) => new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
const padded = (length: number) => (length + 3) & ~3;

function typeOf(method: StunMethod, kind: StunClass): number {
  const m = METHODS[method];
  const c = CLASSES.indexOf(kind);
  return (m & 0xf) | ((m & 0x70) << 1) | ((m & 0xf80) << 2) | ((c & 1) << 4) | ((c & 2) << 7);
}

/** Whether bytes may be a STUN message at all: two zero bits and the magic cookie (RFC 8489, section 5). */
export const looksLikeStun = (bytes: Uint8Array): boolean =>
  bytes.length >= HEADER && ((bytes[0] ?? 255) & 0xc0) === 0 && viewOf(bytes).getUint32(4) === MAGIC_COOKIE;

/** Reads a message. @returns null where the bytes are none, are cut short or go on, or name a method not known here */
export function parseStun(bytes: Uint8Array): StunMessage | null {
  if (!looksLikeStun(bytes) || bytes.length > MOST_BYTES) return null;
  const view = viewOf(bytes);
  const type = view.getUint16(0);
  const length = view.getUint16(2);
  if (length % 4 !== 0 || length + HEADER !== bytes.length) return null;
  const method = METHOD_NAMES.get((type & 0xf) | ((type & 0xe0) >> 1) | ((type & 0x3e00) >> 2));
  const kind = CLASSES[((type >> 4) & 1) | ((type >> 7) & 2)];
  if (!method || !kind) return null;
  const attributes: StunAttribute[] = [];
  for (let at = HEADER; at < bytes.length;) {
    if (attributes.length >= MOST_ATTRIBUTES) return null;
    const size = view.getUint16(at + 2);
    const end = at + 4 + size;
    if (end > bytes.length) return null;
    attributes.push({ type: view.getUint16(at), value: bytes.subarray(at + 4, end), at });
    at += 4 + padded(size);
  }
  return { method, kind, transaction: bytes.subarray(8, HEADER), attributes, bytes };
}

/** Those numbers that a receiver must know and this one does not (section 6.3.1). */
export const unknownOf = (message: StunMessage): readonly number[] => [
  ...new Set(
    message.attributes.filter(({ type }) => type < 0x8000 && !NAMES.has(type)).map(({ type }) => type),
  ),
];

/** The first attribute of a name; what comes after the message's integrity, but the fingerprint, is not looked at. */
export function attribute(message: StunMessage, name: AttributeName): Uint8Array | null {
  for (const { type, value } of message.attributes) {
    if (type === ATTRIBUTES[name]) return value;
    if (type === ATTRIBUTES.messageIntegrity && name !== 'fingerprint') return null;
  }
  return null;
}
/** All of a name, in order. */
export function allOf(message: StunMessage, name: AttributeName): readonly Uint8Array[] {
  const end = message.attributes.findIndex(({ type }) => type === ATTRIBUTES.messageIntegrity);
  return message.attributes
    .slice(0, end < 0 ? undefined : end)
    .filter(({ type }) => type === ATTRIBUTES[name])
    .map(({ value }) => value);
}

/** A text attribute; null where it is missing, too long or no UTF-8. */
export function textOf(message: StunMessage, name: AttributeName, most = 763): string | null {
  const value = attribute(message, name);
  if (!value || value.length > most) return null;
  try {
    return new TextDecoder('utf-8', { fatal: true }).decode(value);
  } catch {
    return null;
  }
}
export function numberOf(message: StunMessage, name: AttributeName): number | null {
  const value = attribute(message, name);
  return value?.length === 4 ? viewOf(value).getUint32(0) : null;
}

/** An IPv4 socket of an attribute whose address is exclusive-or'd with the cookie (section 14.2); null: it is none. */
export function readXorAddress(value: Uint8Array | null): StunSocket | null {
  if (value?.length !== 8 || value[1] !== 1) return null;
  const view = viewOf(value);
  const address = (view.getUint32(4) ^ MAGIC_COOKIE) >>> 0;
  return {
    address: [24, 16, 8, 0].map((shift) => (address >>> shift) & 255).join('.'),
    port: view.getUint16(2) ^ (MAGIC_COOKIE >>> 16),
  };
}
export const socketOf = (message: StunMessage, name: AttributeName): StunSocket | null =>
  readXorAddress(attribute(message, name));

/** An IPv4 socket as such an attribute. */
export function xorAddress({ address, port }: StunSocket): Uint8Array {
  const bytes = new Uint8Array(8);
  const view = viewOf(bytes);
  bytes[1] = 1;
  view.setUint16(2, port ^ (MAGIC_COOKIE >>> 16));
  const number = address.split('.').reduce((sum, part) => sum * 256 + Number(part), 0);
  view.setUint32(4, (number ^ MAGIC_COOKIE) >>> 0);
  return bytes;
}
export function uint32(value: number): Uint8Array {
  const bytes = new Uint8Array(4);
  viewOf(bytes).setUint32(0, value);
  return bytes;
}
export const text = (value: string): Uint8Array => new TextEncoder().encode(value);

/** An error's number and phrase (section 14.8). */
export function errorCode(code: number, phrase: string): Uint8Array {
  const words = text(phrase);
  const bytes = new Uint8Array(4 + words.length);
  bytes[2] = Math.floor(code / 100);
  bytes[3] = code % 100;
  bytes.set(words, 4);
  return bytes;
}
export function readError(message: StunMessage): number | null {
  const value = attribute(message, 'errorCode');
  return value && value.length >= 4 ? ((value[2] ?? 0) & 7) * 100 + (value[3] ?? 0) : null;
}
export function numbers16(values: readonly number[]): Uint8Array {
  const bytes = new Uint8Array(values.length * 2);
  values.forEach((value, i) => viewOf(bytes).setUint16(i * 2, value));
  return bytes;
}

export interface StunDraft {
  readonly method: StunMethod;
  readonly kind: StunClass;
  readonly transaction: Uint8Array;
  readonly attributes?: readonly (readonly [AttributeName, Uint8Array])[];
  /** Signed with this; left out: not. */
  readonly integrity?: { readonly key: Uint8Array; readonly hmac: Hmac };
  readonly fingerprint?: boolean;
}

/** Bytes of a message up to an attribute, with a length as if that attribute, of so many octets, ended it. */
function upTo(bytes: Uint8Array, at: number, size: number): Uint8Array {
  const part = bytes.slice(0, at);
  viewOf(part).setUint16(2, at - HEADER + 4 + size);
  return part;
}

/** Writes a message. */
export function buildStun({
  method,
  kind,
  transaction,
  attributes = [],
  integrity,
  fingerprint,
}: StunDraft): Uint8Array {
  const body = attributes.reduce((sum, [, value]) => sum + 4 + padded(value.length), 0);
  const length = body + (integrity ? 24 : 0) + (fingerprint ? 8 : 0);
  const bytes = new Uint8Array(HEADER + length);
  const view = viewOf(bytes);
  view.setUint16(0, typeOf(method, kind));
  view.setUint16(2, length);
  view.setUint32(4, MAGIC_COOKIE);
  bytes.set(transaction.subarray(0, 12), 8);
  let at = HEADER;
  const put = (name: AttributeName, value: Uint8Array) => {
    view.setUint16(at, ATTRIBUTES[name]);
    view.setUint16(at + 2, value.length);
    bytes.set(value, at + 4);
    at += 4 + padded(value.length);
  };
  for (const [name, value] of attributes) put(name, value);
  if (integrity) put('messageIntegrity', integrity.hmac(integrity.key, upTo(bytes, at, 20)));
  if (fingerprint) put('fingerprint', uint32((crc32(upTo(bytes, at, 4)) ^ FINGERPRINT_XOR) >>> 0));
  return bytes;
}

const isSame = (a: Uint8Array, b: Uint8Array): boolean => {
  let differ = a.length ^ b.length;
  for (let i = 0; i < a.length; i += 1) differ |= (a[i] ?? 0) ^ (b[i] ?? 0);
  return differ === 0;
};

/** Whether a message is signed with a key (section 14.5). */
export function isSigned(message: StunMessage, key: Uint8Array, hmac: Hmac): boolean {
  const given = message.attributes.find(({ type }) => type === ATTRIBUTES.messageIntegrity);
  return given?.value.length === 20 && isSame(given.value, hmac(key, upTo(message.bytes, given.at, 20)));
}

/** Whether a message's fingerprint is its own; one without is taken (section 7.3). */
export function hasOwnFingerprint(message: StunMessage): boolean {
  const given = message.attributes.find(({ type }) => type === ATTRIBUTES.fingerprint);
  if (!given) return true;
  const own = (crc32(upTo(message.bytes, given.at, 4)) ^ FINGERPRINT_XOR) >>> 0;
  return given.value.length === 4 && viewOf(given.value).getUint32(0) === own;
}

/** Channel data (RFC 8656, section 12.4): its number, and what it carries. */
export interface ChannelData {
  readonly channel: number;
  readonly data: Uint8Array;
}
export const isChannel = (channel: number): boolean => channel >= 0x4000 && channel <= 0x4fff;

/** Reads channel data; null where the bytes are none. */
export function parseChannelData(bytes: Uint8Array): ChannelData | null {
  if (bytes.length < 4) return null;
  const view = viewOf(bytes);
  const [channel, length] = [view.getUint16(0), view.getUint16(2)];
  if (!isChannel(channel) || bytes.length < 4 + length || bytes.length > 4 + padded(length)) return null;
  return { channel, data: bytes.subarray(4, 4 + length) };
}
/** Writes channel data; over a stream it is filled up to four octets. */
export function buildChannelData({ channel, data }: ChannelData, overStream: boolean): Uint8Array {
  const bytes = new Uint8Array(4 + (overStream ? padded(data.length) : data.length));
  viewOf(bytes).setUint16(0, channel);
  viewOf(bytes).setUint16(2, data.length);
  bytes.set(data, 4);
  return bytes;
}

/**
 * Cuts a stream into STUN messages and channel data.
 * @returns the pieces, what is left over, and whether something stands there that is neither
 */
export function cutStunStream(bytes: Uint8Array): {
  readonly pieces: readonly Uint8Array[];
  readonly rest: Uint8Array;
  readonly isBroken: boolean;
} {
  const pieces: Uint8Array[] = [];
  let at = 0;
  for (; bytes.length - at >= 4;) {
    const view = viewOf(bytes.subarray(at));
    const first = view.getUint16(0);
    const length = view.getUint16(2);
    const isMessage = first < 0x4000;
    const isNeither = isMessage
      ? bytes.length - at >= 8 && view.getUint32(4) !== MAGIC_COOKIE
      : !isChannel(first);
    if (isNeither) return { pieces, rest: bytes.subarray(at), isBroken: true };
    const size = isMessage ? HEADER + length : 4 + padded(length);
    if (bytes.length - at < size) break;
    pieces.push(bytes.subarray(at, at + size));
    at += size;
  }
  return { pieces, rest: bytes.subarray(at), isBroken: false };
}
