import { createServer as createTcpServer, type Socket } from 'node:net';
import { connect as connectTls, createServer as createTlsServer, type TLSSocket } from 'node:tls';
import { cutStream, LIMITS } from '../../core/wire/sip';
import type { Socket as Place } from '../../core/estate';
import type { Timer } from './clock';
import { MACHINE, type Ground } from './ground';
import { bound, listening } from './opening';

export const TRANSPORTS = ['udp', 'tcp', 'tls'] as const;
export type TransportName = (typeof TRANSPORTS)[number];

/** Where a message comes from or goes to. */
export interface Peer {
  readonly transport: TransportName;
  readonly host: string;
  readonly port: number;
}

export interface TransportOptions {
  /** A loopback address: nothing here listens anywhere else. */
  readonly address: string;
  /** 0: any free one. UDP and TCP share it, TLS has the next. */
  readonly port: number;
  /** Where it serves TLS; left out: at the next port. */
  readonly tlsPort?: number;
  readonly transports: readonly TransportName[];
  /** Whether it is told where datagrams wait too long to be read, for more come than can be answered. */
  readonly tellsLate?: boolean;
  /** Where it stands; left out: at the machine. */
  readonly ground?: Ground;
  /** Takes a datagram that is no SIP, as an answer of STUN. @returns whether it was taken */
  readonly onOther?: (bytes: Buffer, from: Place) => boolean;
  /** Told that a far end answers what keeps a stream open (RFC 5626, section 3.5.1). */
  readonly onPong?: () => void;
  /** Told that a stream to a far end was closed, though nobody here did so. */
  readonly onStreamClosed?: (to: Peer) => void;
  /** PEM texts, for TLS. */
  readonly tls?: { readonly key: string; readonly cert: string };
  /** @param late whether more has come than can be answered in time */
  readonly onMessage: (bytes: string, from: Peer, late: boolean) => void;
  /** Something that was not taken, in one line for the log. */
  readonly onRefused: (why: string, from: Peer) => void;
}

export interface Transport {
  readonly local: Readonly<Record<TransportName, Peer>>;
  /** Sends a message; what cannot be delivered is dropped, as a network would. */
  readonly send: (bytes: string, to: Peer) => void;
  /** Sends a datagram that is no SIP from the same socket, at once. */
  readonly sendOther: (bytes: Uint8Array, to: Place, lost?: () => void) => void;
  /** Whether a stream to the far end is open, so that a message can go back the way it came. */
  readonly isOpen: (to: Peer) => boolean;
  readonly close: () => Promise<void>;
}

/** Streams that one node keeps open at most, and how long one may take over a message before it is closed, in ms. */
const MOST_STREAMS = 500;
/** Of one source, of those that have come from outside. */
const MOST_OF_SOURCE = 100;
const STREAM_IDLE_MS = 120_000;
/** How long one may stay silent at first. */
const FIRST_WITHIN_MS = 10_000;
/** How often a datagram is sent to oneself, to see how long one waits to be read, and how long is too long, in ms. */
const PROBE_EACH_MS = 100;
const LATE_MS = 500;
const MESSAGE_WITHIN_MS = 10_000;
const CONNECT_WITHIN_MS = 3000;
/** How many turns of the event loop a closing socket waits for what it still has to send. */
const MOST_TURNS = 1000;

/** TLS 1.2 at least, without the suites of CBC mode (RFC 9325, section 4.2). */
export const SAFE_TLS = {
  minVersion: 'TLSv1.2',
  ciphers:
    'TLS_AES_256_GCM_SHA384:TLS_CHACHA20_POLY1305_SHA256:TLS_AES_128_GCM_SHA256:ECDHE-ECDSA-AES256-GCM-SHA384:' +
    'ECDHE-RSA-AES256-GCM-SHA384:ECDHE-ECDSA-CHACHA20-POLY1305:ECDHE-RSA-CHACHA20-POLY1305:' +
    'ECDHE-ECDSA-AES128-GCM-SHA256:ECDHE-RSA-AES128-GCM-SHA256',
} as const;

/** Tells far ends apart. */
export const peerKey = ({ transport, host, port }: Peer): string => `${transport}:${host}:${port}`;

/** So often another port is asked for where any will do: the one of UDP may be somebody's of TCP. */
const PORT_TRIES = 10;

/** Opens the sockets of one SIP node. @throws what the system says where an address or port cannot be had */
export async function openTransport(options: TransportOptions, tries = PORT_TRIES): Promise<Transport> {
  try {
    return await openSockets(options);
  } catch (error) {
    const isTaken = (error as NodeJS.ErrnoException).code === 'EADDRINUSE';
    if (options.port !== 0 || !isTaken || tries === 0) throw error;
    return openTransport(options, tries - 1);
  }
}

async function openSockets(options: TransportOptions): Promise<Transport> {
  const { address, onMessage, onRefused, ground = MACHINE } = options;
  if (!ground.mayUse(address)) throw new Error(`Stand-ins listen on loopback only, not on ${address}.`);
  const streams = new Map<string, Socket>();
  let closed = false;
  /** Datagrams that came in this turn: read one after the other, then looked at, which is quicker than in turn. */
  let inbox: { readonly data: Buffer; readonly from: Place }[] = [];
  /** Datagrams of this turn: they go out together at its end, which wakes their receivers once instead of each time. */
  let outbox: { readonly data: Buffer; readonly to: Peer }[] = [];

  const sources = new Map<string, number>();

  /** Reads messages from a stream, whichever way it was opened. @param cameIn opened by the far end */
  function serve(socket: Socket, peer: Peer, cameIn = false): void {
    const own = sources.get(peer.host) ?? 0;
    if (cameIn && own >= MOST_OF_SOURCE) {
      onRefused(`more than ${MOST_OF_SOURCE} streams of one source`, peer);
      socket.destroy();
      return;
    }
    if (streams.size >= MOST_STREAMS) {
      onRefused(`more than ${MOST_STREAMS} streams`, peer);
      socket.destroy();
      return;
    }
    const key = peerKey(peer);
    streams.set(key, socket);
    if (cameIn) sources.set(peer.host, own + 1);
    let buffered = '';
    let slow: Timer | null = null;
    const giveUp = (why: string) => {
      onRefused(why, peer);
      socket.destroy();
    };
    socket.setNoDelay(true);
    socket.setTimeout(cameIn ? FIRST_WITHIN_MS : STREAM_IDLE_MS, () => socket.destroy());
    socket.on('data', (data: Buffer) => {
      buffered += data.toString('latin1');
      if (!cameIn && buffered === '\r\n') options.onPong?.();
      const cut = cutStream(buffered);
      buffered = cut.rest;
      if (cut.pings > 0 && !socket.destroyed) socket.write('\r\n');
      if (cut.messages.length > 0) socket.setTimeout(STREAM_IDLE_MS);
      for (const each of cut.messages) onMessage(each, peer, false);
      if (cut.fault) return giveUp(cut.fault.text);
      if (cut.messages.length > 0 && slow) {
        clearTimeout(slow);
        slow = null;
      }
      if (buffered !== '')
        slow ??= setTimeout(() => giveUp('a message took too long to come'), MESSAGE_WITHIN_MS);
    });
    socket.on('error', () => socket.destroy());
    socket.on('close', () => {
      if (slow) clearTimeout(slow);
      if (streams.get(key) === socket) streams.delete(key);
      if (!cameIn) return;
      const left = (sources.get(peer.host) ?? 1) - 1;
      if (left > 0) sources.set(peer.host, left);
      else sources.delete(peer.host);
    });
  }

  const peerOf = (socket: Socket, transport: TransportName): Peer => ({
    transport,
    host: socket.remoteAddress ?? address,
    port: socket.remotePort ?? 0,
  });
  const udp = options.transports.includes('udp') ? ground.datagrams() : null;
  const tcp = options.transports.includes('tcp')
    ? createTcpServer((socket) => serve(socket, peerOf(socket, 'tcp'), true))
    : null;
  const tls =
    options.transports.includes('tls') && options.tls
      ? createTlsServer({ ...options.tls, ...SAFE_TLS, handshakeTimeout: 5000 }, (socket) =>
          serve(socket, peerOf(socket, 'tls'), true),
        )
      : null;
  tls?.on('tlsClientError', (error, socket) => onRefused(`TLS: ${error.message}`, peerOf(socket, 'tls')));
  let port = options.port;
  if (udp) {
    port = await bound(udp, port, address);
    udp.on('message', (data, from) => {
      // Empty lines keep a way through a router open, and ask for nothing (RFC 5626, section 3.5.1).
      if (data.length <= 4) return;
      if (from.port === port && from.address === address) return probeCame(data);
      if (data.length > LIMITS.messageBytes || options.onOther?.(data, from)) return;
      if (inbox.push({ data, from }) === 1) setImmediate(drain);
    });
  }
  /** A port that cannot be had leaves none of the others open. */
  const orNone = (error: unknown): never => {
    udp?.close();
    tcp?.close();
    throw error;
  };
  if (tcp) port = await listening(tcp, port, address).catch(orNone);
  const tlsPort = tls
    ? await listening(tls, options.tlsPort ?? (options.port === 0 ? 0 : options.port + 1), address).catch(
        orNone,
      )
    : port;
  const local = {
    udp: { transport: 'udp', host: address, port },
    tcp: { transport: 'tcp', host: address, port },
    tls: { transport: 'tls', host: address, port: tlsPort },
  } as const;

  let probe: { readonly text: string; readonly sentMs: number } | null = null;
  let waitedMs = 0;
  const probing =
    udp && options.tellsLate
      ? setInterval(() => {
          const now = performance.now();
          // One that was dropped, for there was no room, says as much as one that waits.
          if (probe && now - probe.sentMs < 4 * LATE_MS) return;
          probe = { text: `probe ${now}`, sentMs: now };
          udp.send(probe.text, port, address, () => undefined);
        }, PROBE_EACH_MS)
      : null;
  function probeCame(data: Buffer): void {
    if (probe?.text !== data.toString('latin1')) return;
    waitedMs = performance.now() - probe.sentMs;
    probe = null;
  }
  /** Whether what comes waits too long to be read. */
  const waits = (): boolean =>
    probing !== null &&
    (waitedMs > LATE_MS || (probe !== null && performance.now() - probe.sentMs > LATE_MS));

  function drain(): void {
    const come = inbox;
    inbox = [];
    const late = waits();
    for (const { data, from } of come) {
      if (closed) return;
      onMessage(data.toString('latin1'), { transport: 'udp', host: from.address, port: from.port }, late);
    }
    post();
  }
  function post(): void {
    const sent = outbox;
    outbox = [];
    for (const { data, to } of sent) udp?.send(data, to.port, to.host);
  }

  function streamTo(to: Peer): Socket {
    const open = streams.get(peerKey(to));
    if (open && !open.destroyed) return open;
    const plain = ground.connect({ address: to.host, port: to.port }, address);
    // A stand-in's certificate is its own: whom it belongs to was settled when the port was given.
    const socket: Socket | TLSSocket =
      to.transport === 'tls' ? connectTls({ socket: plain, rejectUnauthorized: false }) : plain;
    const slow = setTimeout(() => socket.destroy(), CONNECT_WITHIN_MS);
    socket.once('connect', () => clearTimeout(slow));
    socket.once('close', () => {
      clearTimeout(slow);
      if (!closed) options.onStreamClosed?.(to);
    });
    serve(socket, to);
    return socket;
  }

  return {
    local,
    send: (bytes, to) => {
      if (closed) return;
      if (!ground.mayUse(to.host))
        return onRefused(`${to.host} is not a loopback address: nothing is sent there`, to);
      const data = Buffer.from(bytes, 'latin1');
      if (to.transport === 'udp' && udp) {
        if (outbox.push({ data, to }) === 1) setImmediate(post);
      } else if (to.transport !== 'udp') {
        const socket = streamTo(to);
        if (!socket.destroyed) socket.write(data);
      }
    },
    sendOther: (bytes, to, lost) => {
      if (closed || !ground.mayUse(to.address)) return;
      udp?.send(bytes, to.port, to.address, (error) => error && lost?.());
    },
    isOpen: (to) => to.transport === 'udp' || streams.has(peerKey(to)),
    close: async () => {
      if (closed) return;
      closed = true;
      if (probing) clearInterval(probing);
      // What was sent last, a BYE for instance, still goes out.
      post();
      for (let turns = 0; udp && udp.getSendQueueCount() > 0 && turns < MOST_TURNS; turns += 1)
        await new Promise<void>((resolve) => setImmediate(resolve));
      for (const socket of streams.values()) socket.destroy();
      await Promise.all([
        udp && new Promise<void>((done) => udp.close(done)),
        ...[tcp, tls].map((server) => server && new Promise<void>((done) => server.close(() => done()))),
      ]);
    },
  };
}
