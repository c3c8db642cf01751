import { EventEmitter } from 'node:events';
import { connect, createServer, type Socket as Stream } from 'node:net';
import { createSocket, type Socket as UdpSocket } from 'node:dgram';
import { INTERNET, type Protocol, type Server, type Socket } from '../../core/estate';
import {
  forgetOld,
  listen,
  newWorld,
  send,
  socketText,
  tcpPort,
  topologyOf,
  type Advertised,
  type Delivery,
  type Host,
  type LostPacket,
  type Network,
} from '../../core/network';
import { cutStream } from '../../core/wire/sip';
import { listening } from '../sip/opening';
import { mayUse } from '../sip/reachable';
import type { Datagrams, Ground } from '../sip/ground';
import { advertisedIn, rewritten } from './advertised';
import { realOf as asWritten } from './staged';

export interface HouseOptions {
  /** The network around: what stands on the internet has loopback addresses. */
  readonly network: Network;
  /** The time by which the routers forget, s. */
  readonly seconds: () => number;
  /** @param phone whose packet it was, or was for; null: nobody’s that is known */
  readonly onLost?: (lost: LostPacket, phone: string | null) => void;
  /** Where a server really listens with a port of its own; left out: where the network says. */
  readonly realOf?: (server: Server, port: number) => string;
}

/** Routers of a home in user space, by the model's own code: real packets go out by them, and come in. */
export interface House {
  /** Where a phone of the network stands. */
  readonly ground: (phone: string) => Ground;
  readonly close: () => Promise<void>;
}

/** Sockets on the outside of one house at most, and packets that wait for one to be open. */
const MOST_OUTSIDE = 500;
const MOST_WAITING = 100;
/** Sockets outside by which SIP goes, and which stay open however long nothing comes. */
const MOST_SIGNALLING = 100;
/** So often what has run out is let go of, and sockets outside by which no SIP goes are closed after such a silence, s. */
const TIDY_EVERY_S = 600;
const MOST_CONNECTIONS = 10_000;
const [FIRST_EPHEMERAL, LAST_EPHEMERAL] = [49_160, 65_000] as const;
const ANYBODY = 'anybody';
/** The first line of a SIP message; a keep-alive may stand before it. */
const MESSAGE = /^(?:\r\n)*(?:[A-Z]{3,12} sips?:[ -~]{1,200}|SIP\/2\.0 [ -~]{1,100})/;
const LOST = new Error('a router let go of it');

/** A socket that a router has outside. */
interface Outside {
  /** null: its port cannot be had. */
  readonly socket: Promise<UdpSocket | null>;
  /** The server that was spoken to from it last, and the phone that spoke. */
  server: Server | null;
  phone: string | null;
  /** When something went by it last, s. */
  usedAt: number;
  /** Whether SIP went by it: it stays open, for what comes late and is let go of is told. */
  hasSip: boolean;
}

/** One UDP socket of a phone inside. */
class HomeSocket extends EventEmitter implements Datagrams {
  private own: Socket = { address: '', port: 0 };
  closed = false;
  constructor(
    private readonly take: (socket: HomeSocket, port: number) => number,
    private readonly post: (data: Uint8Array, from: Socket, to: Socket) => boolean,
    private readonly leave: (socket: HomeSocket) => void,
    private readonly host: string,
  ) {
    super();
  }
  bind(port: number, _address: string, done: () => void): void {
    this.own = { address: this.host, port: this.take(this, port) };
    queueMicrotask(done);
  }
  address(): Socket {
    return this.own;
  }
  send(data: Uint8Array | string, port: number, host: string, done?: (error: Error | null) => void): void {
    const bytes = typeof data === 'string' ? Buffer.from(data, 'latin1') : data;
    const goesOn = !this.closed && this.post(bytes, this.own, { address: host, port });
    done?.(goesOn ? null : LOST);
  }
  close(done?: () => void): void {
    this.closed = true;
    this.leave(this);
    if (done) queueMicrotask(done);
  }
  getSendQueueCount(): number {
    return 0;
  }
}

/** What comes over a stream: SIP message by message, for boxes read each by itself; anything else as it comes. */
function inPieces(stream: Stream, take: (piece: string) => void): void {
  let rest = '';
  stream.on('data', (data: Buffer) => {
    const text = rest + data.toString('latin1');
    rest = '';
    if (!MESSAGE.test(text)) return take(text);
    const cut = cutStream(text);
    for (const each of cut.messages) take(each);
    for (let ping = 0; ping < cut.pings; ping += 1) take('\r\n\r\n');
    if (cut.fault) take(cut.rest);
    else ({ rest } = cut);
  });
}

/** Opens the routers of a network. @throws where their inside cannot be had */
export async function openHouse(options: HouseOptions): Promise<House> {
  const { network, seconds, onLost = () => undefined, realOf = asWritten } = options;
  const topology = topologyOf(network);
  const world = newWorld(topology);
  const meant = [...topology.serverHosts.keys(), ...topology.phoneHosts.keys(), ANYBODY];
  const inside = new Map<string, HomeSocket>();
  const outside = new Map<string, Outside>();
  let tidiedAt = seconds();
  const streams = new Set<Stream>();
  const nextPort = new Map<string, number>();
  const connections = new Map<string, number>();
  let waiting = 0;
  let closed = false;

  /** Who sends to a socket outside: where two servers are one, whichever was spoken to from it. */
  function senderAt(address: string, port: number, own: Outside): Host {
    const there = network.servers.filter((server) => realOf(server, port) === address);
    const server =
      there.find((each) => each === own.server) ??
      there.find((each) => [each.port, each.tlsPort, each.mediaPort].includes(port)) ??
      there[0];
    const host = server && topology.serverHosts.get(server.id);
    return host ?? { id: ANYBODY, in: INTERNET, address, isInTunnel: false };
  }

  /** Sends a packet through the routers as they are now. */
  function carry(
    protocol: Protocol,
    sender: Host,
    port: number,
    to: Socket,
    text: string,
    phone: string | null,
    opens = false,
  ): Delivery & { readonly says?: Advertised; readonly before: Advertised } {
    const before = advertisedIn(text);
    for (const server of network.servers) listen(world, server.id, to.port);
    const sent = send(world, {
      kind: 'sound',
      proto: protocol,
      sender,
      port,
      to,
      meant,
      t: seconds(),
      opens,
      says: before,
      isReadable: before.contact !== null || before.media !== null,
    });
    if (!sent.ok)
      onLost(
        {
          protocol,
          from: { address: sender.address, port },
          to,
          reason: sent.reason,
          at: sent.at,
          line: MESSAGE.exec(text)?.[0].trim() ?? '',
        },
        phone,
      );
    return { ...sent, before };
  }
  const bytesOf = (data: Uint8Array, text: string, sent: ReturnType<typeof carry>): Buffer =>
    sent.ok && (sent.says.contact !== sent.before.contact || sent.says.media !== sent.before.media)
      ? Buffer.from(rewritten(text, sent.before, sent.says), 'latin1')
      : Buffer.from(data);

  /** Hands a packet to whoever has it now: a phone inside. */
  function handIn(sent: Extract<Delivery, { readonly ok: true }>, data: Buffer): void {
    const socket = inside.get(`${sent.host.id} ${sent.at.port}`);
    if (socket && !socket.closed) socket.emit('message', data, sent.source);
  }

  /** Sockets of sound that has ended would pile up in a house that stands for days. */
  function tidy(): void {
    const now = seconds();
    if (now - tidiedAt < TIDY_EVERY_S) return;
    tidiedAt = now;
    forgetOld(world, now);
    const silent = [...outside].filter(([, { usedAt }]) => now - usedAt >= TIDY_EVERY_S);
    const last = silent.filter(([, { hasSip }]) => hasSip).sort(([, a], [, b]) => b.usedAt - a.usedAt);
    const kept = new Set(last.slice(0, MOST_SIGNALLING));
    for (const each of silent) {
      if (kept.has(each)) continue;
      const [key, { socket }] = each;
      outside.delete(key);
      void socket.then((open) => open?.close());
    }
  }

  /** The socket that a router has outside for a mapping; null: there are too many, or it cannot be had. */
  function outsideAt(own: Socket): Outside | null {
    tidy();
    const key = socketText(own);
    const known = outside.get(key);
    if (known) return known;
    if (outside.size >= MOST_OUTSIDE || closed || !mayUse(own.address)) return null;
    const socket = createSocket('udp4');
    const there: Outside = {
      server: null,
      phone: null,
      usedAt: seconds(),
      hasSip: false,
      socket: new Promise((resolve) => {
        socket.once('error', () => {
          socket.close();
          outside.delete(key);
          resolve(null);
        });
        socket.bind(own.port, own.address, () => resolve(socket));
      }),
    };
    socket.on('message', (data, from) => {
      const text = data.toString('latin1');
      noteUse(there, text);
      const sender = senderAt(from.address, from.port, there);
      const sent = carry('udp', sender, from.port, own, text, there.phone);
      if (sent.ok) handIn(sent, bytesOf(data, text, sent));
    });
    outside.set(key, there);
    return there;
  }

  function noteUse(there: Outside, text: string): void {
    there.usedAt = seconds();
    there.hasSip ||= MESSAGE.test(text);
  }

  /**
   * Where answers and calls may come to, by what a message says of its sender, is listened at, though nothing has gone
   * out from there: what comes is let in or not as the router has it.
   */
  function expectAt({ says: { contact, media }, source }: Extract<Delivery, { readonly ok: true }>): void {
    const answered = contact && { address: source.address, port: contact.port };
    for (const socket of [contact, media, answered])
      if (socket && network.boxes.some(({ outside: own }) => own === socket.address)) void outsideAt(socket);
  }

  /** A packet of a phone: to another inside, or out by the router. @returns false: a router let go of it */
  function post(host: Host, data: Uint8Array, from: Socket, to: Socket): boolean {
    if (closed) return false;
    const text = Buffer.from(data).toString('latin1');
    const sent = carry('udp', host, from.port, to, text, host.id);
    if (!sent.ok) return false;
    expectAt(sent);
    const bytes = bytesOf(data, text, sent);
    const server = network.servers.find(({ id }) => id === sent.host.id);
    if (!server) {
      setImmediate(() => handIn(sent, bytes));
      return true;
    }
    if (waiting >= MOST_WAITING) return false;
    const there = outsideAt(sent.source);
    if (!there) return true;
    [there.server, there.phone] = [server, host.id];
    noteUse(there, text);
    waiting += 1;
    void there.socket.then((socket) => {
      waiting -= 1;
      if (!closed) socket?.send(bytes, sent.at.port, realOf(server, sent.at.port), () => undefined);
    });
    return true;
  }

  /** The port that a phone asked for, or any. */
  function take(host: Host, socket: HomeSocket, wanted: number): number {
    const any = nextPort.get(host.id) ?? FIRST_EPHEMERAL;
    const port = wanted === 0 ? any : wanted;
    if (wanted === 0) nextPort.set(host.id, any + 2 > LAST_EPHEMERAL ? FIRST_EPHEMERAL : any + 2);
    inside.set(`${host.id} ${port}`, socket);
    listen(world, host.id, port);
    return port;
  }
  function leave(socket: HomeSocket): void {
    for (const [key, each] of inside) if (each === socket) inside.delete(key);
  }

  /** What a phone wants to be connected with, by the port of the stream that it has opened to us. */
  const wanted = new Map<number, (stream: Stream) => void>();
  const came = new Map<number, Stream>();
  const gate = createServer((stream) => {
    streams.add(stream);
    stream.on('error', () => stream.destroy());
    stream.on('close', () => streams.delete(stream));
    const port = stream.remotePort ?? 0;
    const serve = wanted.get(port);
    wanted.delete(port);
    if (serve) serve(stream);
    else came.set(port, stream);
  });
  const gatePort = await listening(gate, 0, '127.0.0.1');

  function portFor(host: Host): number {
    const nth = connections.get(host.id) ?? 0;
    // One that reconnects for days begins anew with the first of its ports.
    connections.set(host.id, (nth + 1) % MOST_CONNECTIONS);
    return tcpPort(nth);
  }

  /** A connection of a phone, each piece of which goes through the routers. */
  function bridge(near: Stream, host: Host, port: number, to: Socket): void {
    listen(world, host.id, port);
    const opened = carry('tcp', host, port, to, '', host.id, true);
    const server = opened.ok ? network.servers.find(({ id }) => id === opened.host.id) : undefined;
    if (!opened.ok || !server) {
      near.destroy();
      return;
    }
    const { source } = opened;
    const far = connect({
      host: realOf(server, opened.at.port),
      port: opened.at.port,
      localAddress: source.address,
      localPort: source.port,
    });
    streams.add(far);
    far.setNoDelay(true);
    near.setNoDelay(true);
    inPieces(near, (piece) => {
      const sent = carry('tcp', host, port, to, piece, host.id);
      // A connection that the router has forgotten is dead for the phone; the other end does not know of it.
      if (!sent.ok) {
        near.destroy();
        return;
      }
      expectAt(sent);
      far.write(bytesOf(Buffer.from(piece, 'latin1'), piece, sent));
    });
    inPieces(far, (piece) => {
      const sent = carry('tcp', opened.host, opened.at.port, source, piece, host.id);
      if (!sent.ok) near.destroy();
      else if (!near.destroyed) near.write(bytesOf(Buffer.from(piece, 'latin1'), piece, sent));
    });
    far.on('error', () => far.destroy());
    far.on('close', () => {
      streams.delete(far);
      near.end();
    });
    near.on('end', () => far.end());
  }

  return {
    ground: (phone) => {
      const host = topology.phoneHosts.get(phone);
      if (!host) throw new Error(`there is no phone ${phone} in this network`);
      return {
        mayUse: () => true,
        datagrams: () =>
          new HomeSocket(
            (socket, port) => take(host, socket, port),
            (data, from, to) => post(host, data, from, to),
            leave,
            host.address,
          ),
        connect: (to) => {
          const stream = connect({ host: '127.0.0.1', port: gatePort });
          const port = portFor(host);
          stream.once('connect', () => {
            const own = stream.localPort ?? 0;
            const serve = (other: Stream) => bridge(other, host, port, to);
            const other = came.get(own);
            came.delete(own);
            if (other) serve(other);
            else wanted.set(own, serve);
          });
          return stream;
        },
      };
    },
    close: async () => {
      closed = true;
      for (const socket of inside.values()) socket.closed = true;
      for (const stream of streams) stream.destroy();
      await new Promise<void>((done) => gate.close(() => done()));
      for (const { socket } of outside.values()) (await socket)?.close();
    },
  };
}
