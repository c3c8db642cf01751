import { randomBytes } from 'node:crypto';
import { createSocket } from 'node:dgram';
import { createServer, type Server, type Socket } from 'node:net';
import { createServer as createTlsServer } from 'node:tls';
import {
  allOf,
  attribute,
  buildChannelData,
  buildStun,
  errorCode,
  hasOwnFingerprint,
  isChannel,
  isSigned,
  numberOf,
  numbers16,
  parseChannelData,
  parseStun,
  readXorAddress,
  socketOf,
  text,
  textOf,
  uint32,
  unknownOf,
  xorAddress,
  type AttributeName,
  type StunMessage,
  type StunSocket,
} from '../../core/wire/stun';
import { bound, listening } from '../sip/opening';
import { mayUse } from '../sip/reachable';
import { SAFE_TLS } from '../sip/transport';
import { countedBySource } from '../sip/counted';
import {
  countPacket,
  forgetOld,
  keyOf,
  MOST_PACKETS,
  newAllocation,
  type Allocation,
  type Client,
} from './allocation';
import { mayRelayTo } from './allow';
import { hmacSha1, longTermKey } from './credentials';
import { nonces } from './nonces';
import { clientOfStream } from './stream';

export interface TurnOptions {
  readonly address: string;
  /** 0: any. */
  readonly port: number;
  readonly realm: string;
  /** The password of a user; null: there is none by that name (any more). */
  readonly passwordOf: (user: string) => string | null;
  /** Where relayed sockets are opened. */
  readonly relayAddress: string;
  /** Ranges to which it relays although they are closed, "a.b.c.d/n". */
  readonly allow?: readonly string[];
  readonly mostAllocations?: number;
  /** Serves TLS too, at a port of its own (RFC 8656, section 2.1); PEM texts. */
  readonly tls?: { readonly key: string; readonly cert: string; readonly port: number };
  readonly now?: () => number;
  readonly log?: (line: string) => void;
}

export interface TurnServer {
  readonly port: number;
  /** null: it serves no TLS. */
  readonly tlsPort: number | null;
  readonly allocations: () => number;
  readonly close: () => Promise<void>;
}

/** Lifetimes in s (RFC 8656, sections 3.2, 9 and 12). */
const LIFETIME = { usual: 600, most: 3600, permission: 300, channel: 600 } as const;
const MOST_ALLOCATIONS = 200;
const MOST_OF_USER = 10;
const MOST_PEERS = 32;
const MOST_STREAMS = 200;
/** Refusals that one source is told within a second: they are longer than what they answer. */
const MOST_REFUSALS = 100;
const SWEEP_MS = 5000;
const UDP = 17;

/**
 * Opens a STUN and TURN server (RFC 8489, RFC 8656) over UDP, TCP and TLS, for IPv4 and long-term credentials: binding,
 * allocate, refresh, permissions, channels. It relays only to where `mayRelayTo` lets it.
 * @throws where its address or port cannot be had
 */
export async function openTurn(options: TurnOptions): Promise<TurnServer> {
  const { address, realm, relayAddress, allow = [], now = Date.now } = options;
  if (!mayUse(address) || !mayUse(relayAddress))
    throw new Error(`Stand-ins listen on loopback only, not on ${address}.`);
  const allocations = new Map<string, Allocation>();
  const streams = new Set<Socket>();
  const nonce = nonces(randomBytes(32), now);
  const refusalsOf = countedBySource(1000, now);
  const udp = createSocket({ type: 'udp4', recvBufferSize: 1 << 21 });
  let closed = false;

  const answer = (
    client: Client,
    { method, transaction }: StunMessage,
    attributes: readonly (readonly [AttributeName, Uint8Array])[],
    key?: Uint8Array,
  ) =>
    client.send(
      buildStun({
        method,
        kind: 'success',
        transaction,
        attributes,
        ...(key ? { integrity: { key, hmac: hmacSha1 } } : {}),
        fingerprint: true,
      }),
    );

  function refuse(
    client: Client,
    { method, transaction }: StunMessage,
    code: number,
    phrase: string,
    more: readonly (readonly [AttributeName, Uint8Array])[] = [],
    key?: Uint8Array,
  ): void {
    if (refusalsOf(client.socket.address) > MOST_REFUSALS) return;
    client.send(
      buildStun({
        method,
        kind: 'error',
        transaction,
        attributes: [['errorCode', errorCode(code, phrase)], ...more],
        ...(key ? { integrity: { key, hmac: hmacSha1 } } : {}),
        fingerprint: true,
      }),
    );
  }

  /** Who asks, by long-term credentials (RFC 8489, section 9.2.4); null once it was refused. */
  function judge(
    client: Client,
    message: StunMessage,
  ): { readonly user: string; readonly key: Uint8Array } | null {
    const ask = (code: number, phrase: string) => {
      refuse(client, message, code, phrase, [
        ['realm', text(realm)],
        ['nonce', text(nonce.fresh())],
      ]);
      return null;
    };
    const signature = message.attributes.some(({ type }) => type === 0x0008);
    if (!signature) return ask(401, 'Unauthenticated');
    const user = textOf(message, 'username', 508);
    const given = textOf(message, 'nonce');
    if (user === null || given === null || textOf(message, 'realm') === null) {
      refuse(client, message, 400, 'Bad Request');
      return null;
    }
    if (!nonce.holds(given)) return ask(438, 'Stale Nonce');
    const password = options.passwordOf(user);
    const key = longTermKey(user, realm, password ?? '');
    if (password === null || textOf(message, 'realm') !== realm || !isSigned(message, key, hmacSha1))
      return ask(401, 'Unauthenticated');
    return { user, key };
  }

  function drop(allocation: Allocation): void {
    allocations.delete(allocation.client.key);
    allocation.relay.close();
  }

  const permits = (allocation: Allocation, peer: string) => (allocation.permissions.get(peer) ?? 0) > now();
  const mayPass = (allocation: Allocation) => countPacket(allocation, now()) <= MOST_PACKETS;
  function relayOut(allocation: Allocation, peer: StunSocket, data: Uint8Array): void {
    if (permits(allocation, peer.address) && mayUse(peer.address) && mayPass(allocation))
      allocation.relay.send(data, peer.port, peer.address, () => undefined);
  }
  function cameIn(allocation: Allocation, data: Uint8Array, peer: StunSocket): void {
    if (!permits(allocation, peer.address) || !mayPass(allocation)) return;
    const { client } = allocation;
    const channel = allocation.byPeer.get(keyOf(peer));
    const bound = channel === undefined ? undefined : allocation.channels.get(channel);
    if (channel !== undefined && bound && bound.untilMs > now())
      return client.send(buildChannelData({ channel, data }, client.isStream));
    client.send(
      buildStun({
        method: 'data',
        kind: 'indication',
        transaction: randomBytes(12),
        attributes: [
          ['xorPeerAddress', xorAddress(peer)],
          ['data', data],
        ],
      }),
    );
  }

  const lifetimeOf = (message: StunMessage) => {
    const asked = numberOf(message, 'lifetime') ?? LIFETIME.usual;
    return asked === 0 ? 0 : Math.min(Math.max(asked, LIFETIME.usual), LIFETIME.most);
  };
  /** Tells of an allocation; the same request that comes again before its socket is there is answered with the first. */
  const made = (client: Client, message: StunMessage, allocation: Allocation, key: Uint8Array) => {
    if (!allocation.relayed) return;
    answer(
      client,
      message,
      [
        ['xorRelayedAddress', xorAddress(allocation.relayed)],
        ['lifetime', uint32(Math.max(0, Math.round((allocation.expiresMs - now()) / 1000)))],
        ['xorMappedAddress', xorAddress(client.socket)],
      ],
      key,
    );
  };

  async function allocate(
    client: Client,
    message: StunMessage,
    user: string,
    key: Uint8Array,
  ): Promise<void> {
    const no = (code: number, phrase: string) => refuse(client, message, code, phrase, [], key);
    const transaction = Buffer.from(message.transaction).toString('hex');
    const known = allocations.get(client.key);
    if (known?.transaction === transaction) return made(client, message, known, key);
    if (known) return no(437, 'Allocation Mismatch');
    const transport = attribute(message, 'requestedTransport');
    if (transport?.length !== 4) return no(400, 'Bad Request');
    if (transport[0] !== UDP) return no(442, 'Unsupported Transport Protocol');
    const family = attribute(message, 'requestedAddressFamily');
    if (family && family[0] !== 1) return no(440, 'Address Family not Supported');
    const own = [...allocations.values()].filter((each) => each.user === user).length;
    if (own >= MOST_OF_USER) return no(486, 'Allocation Quota Reached');
    if (allocations.size >= (options.mostAllocations ?? MOST_ALLOCATIONS))
      return no(508, 'Insufficient Capacity');
    const relay = createSocket('udp4');
    const expiresMs = now() + lifetimeOf(message) * 1000;
    const allocation = newAllocation({ client, user, relay, transaction }, expiresMs);
    // Counted before its socket is there: a flood of requests opens no more than are allowed.
    allocations.set(client.key, allocation);
    try {
      await bound(relay, 0, relayAddress);
    } catch {
      if (allocations.get(client.key) === allocation) allocations.delete(client.key);
      return no(508, 'Insufficient Capacity');
    }
    if (closed || allocations.get(client.key) !== allocation) {
      relay.close();
      return;
    }
    allocation.relayed = { address: relayAddress, port: relay.address().port };
    relay.on('message', (data, from) => cameIn(allocation, data, { address: from.address, port: from.port }));
    made(client, message, allocation, key);
  }

  /** What is asked of an allocation that is there. */
  function manage(client: Client, message: StunMessage, user: string, key: Uint8Array): void {
    const no = (code: number, phrase: string) => refuse(client, message, code, phrase, [], key);
    const allocation = allocations.get(client.key);
    if (!allocation) return no(437, 'Allocation Mismatch');
    if (allocation.user !== user) return no(441, 'Wrong Credentials');
    if (message.method === 'refresh') {
      const seconds = lifetimeOf(message);
      if (seconds === 0) drop(allocation);
      else allocation.expiresMs = now() + seconds * 1000;
      return answer(client, message, [['lifetime', uint32(seconds)]], key);
    }
    const peers = allOf(message, 'xorPeerAddress').map(readXorAddress);
    if (peers.length === 0 || peers.includes(null) || peers.length > MOST_PEERS)
      return no(400, 'Bad Request');
    const wanted = peers.flatMap((peer) => peer ?? []);
    if (wanted.some((peer) => !mayRelayTo(peer.address, allow))) return no(403, 'Forbidden');
    const names = new Set([...allocation.permissions.keys(), ...wanted.map((peer) => peer.address)]);
    if (names.size > MOST_PEERS) return no(508, 'Insufficient Capacity');
    if (message.method === 'channelBind') {
      const [peer] = wanted;
      const number = attribute(message, 'channelNumber');
      const channel = number?.length === 4 ? (number[0] ?? 0) * 256 + (number[1] ?? 0) : 0;
      const other = peer && allocation.byPeer.get(keyOf(peer));
      const bound = allocation.channels.get(channel);
      if (!peer || !isChannel(channel) || (other !== undefined && other !== channel))
        return no(400, 'Bad Request');
      if (bound && keyOf(bound.peer) !== keyOf(peer)) return no(400, 'Bad Request');
      allocation.channels.set(channel, { peer, untilMs: now() + LIFETIME.channel * 1000 });
      allocation.byPeer.set(keyOf(peer), channel);
    }
    for (const { address: peer } of wanted)
      allocation.permissions.set(peer, now() + LIFETIME.permission * 1000);
    answer(client, message, [], key);
  }

  function receive(client: Client, bytes: Uint8Array): void {
    const first = bytes[0] ?? 0;
    if (first >= 0x40) {
      const read = parseChannelData(bytes);
      const allocation = allocations.get(client.key);
      const bound = read && allocation?.channels.get(read.channel);
      if (read && allocation && bound && bound.untilMs > now()) relayOut(allocation, bound.peer, read.data);
      return;
    }
    const message = parseStun(bytes);
    if (!message || !hasOwnFingerprint(message)) return;
    if (message.kind === 'indication') {
      const allocation = allocations.get(client.key);
      const peer = socketOf(message, 'xorPeerAddress');
      const data = attribute(message, 'data');
      if (message.method === 'send' && allocation && peer && data && unknownOf(message).length === 0)
        relayOut(allocation, peer, data);
      return;
    }
    if (message.kind !== 'request') return;
    const unknown = unknownOf(message);
    const refuseUnknown = () =>
      refuse(client, message, 420, 'Unknown Attribute', [['unknownAttributes', numbers16(unknown)]]);
    if (message.method === 'binding')
      return unknown.length > 0
        ? refuseUnknown()
        : answer(client, message, [['xorMappedAddress', xorAddress(client.socket)]]);
    if (message.method === 'send' || message.method === 'data')
      return refuse(client, message, 400, 'Bad Request');
    const who = judge(client, message);
    if (!who) return;
    if (unknown.length > 0) return refuseUnknown();
    if (message.method === 'allocate') void allocate(client, message, who.user, who.key);
    else manage(client, message, who.user, who.key);
  }

  udp.on('message', (data, from) => {
    const socket = { address: from.address, port: from.port };
    receive(
      {
        key: `udp:${keyOf(socket)}`,
        socket,
        isStream: false,
        send: (bytes) => {
          if (!closed && mayUse(from.address)) udp.send(bytes, from.port, from.address, () => undefined);
        },
      },
      data,
    );
  });

  function serve(stream: Socket): void {
    if (streams.size >= MOST_STREAMS) {
      stream.destroy();
      return;
    }
    streams.add(stream);
    const { key } = clientOfStream(stream, receive);
    stream.on('close', () => {
      streams.delete(stream);
      const allocation = allocations.get(key);
      if (allocation) drop(allocation);
    });
  }

  const port = await bound(udp, options.port, address);
  const tcp: Server = createServer(serve);
  const tls = options.tls
    ? createTlsServer({ ...options.tls, ...SAFE_TLS, handshakeTimeout: 5000 }, serve)
    : null;
  tls?.on('tlsClientError', (_error, stream) => stream.destroy());
  /** A port that cannot be had leaves none of the others open. */
  const orNone = (error: unknown): never => {
    udp.close();
    tcp.close();
    throw error;
  };
  await listening(tcp, port, address).catch(orNone);
  const tlsPort = tls ? await listening(tls, options.tls?.port ?? 0, address).catch(orNone) : null;
  const sweeping = setInterval(() => {
    const at = now();
    for (const each of [...allocations.values()]) {
      if (each.expiresMs <= at) drop(each);
      forgetOld(each, at);
    }
  }, SWEEP_MS);

  return {
    port,
    tlsPort,
    allocations: () => allocations.size,
    close: async () => {
      closed = true;
      clearInterval(sweeping);
      for (const each of [...allocations.values()]) drop(each);
      for (const stream of streams) stream.destroy();
      await Promise.all([
        new Promise<void>((done) => udp.close(() => done())),
        ...[tcp, tls].map((each) => each && new Promise<void>((done) => each.close(() => done()))),
      ]);
    },
  };
}
