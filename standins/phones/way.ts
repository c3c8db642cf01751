import { connect as connectTls } from 'node:tls';
import type { NetworkPhone, Socket } from '../../core/estate';
import { cutStunStream } from '../../core/wire/stun';
import { overIce, type IceBase, type OwnCandidate } from '../media/ice';
import { openDatagrams, openPlain, type SoundSocket } from '../media/socket';
import type { Datagrams, Ground } from '../sip/ground';
import { openStunClient, type StunClient } from '../turn';

/** How a stand-in phone gets out of the network that it stands in. */
export interface PhoneWay {
  readonly ground: Ground;
  readonly settings: NetworkPhone;
  /** Where it learns what its sockets look like from outside; null: nowhere. */
  readonly stun: Socket | null;
  /** Where it gets a relayed socket; null: nowhere. */
  readonly turn: {
    readonly at: Socket;
    readonly tlsPort: number;
    readonly credentials: { readonly username: string; readonly password: string };
  } | null;
  /** Whether its server uses ICE. */
  readonly usesIce: boolean;
}

/** A call for which the phone gets no relayed socket. */
export class NoAllocation extends Error {
  constructor() {
    super('the TURN server gave no relayed address');
  }
}

/** A question of STUN is sent so often, so long apart at first, ms: the ways here are short. */
const PATIENCE = { times: 3, firstPauseMs: 120 } as const;
const LEARNING: readonly NetworkPhone['method'][] = ['stun', 'ice', 'turn'];
/** From this much further up it sends, where it does not from where it hears. */
const ASIDE = 2;
const NOTHING = () => undefined;

/** What it says of its signalling socket where it has learned nothing. */
export const ownContact = ({ method, manual, address, signalPort }: NetworkPhone): Socket =>
  method === 'manual-public-address' && manual
    ? { address: manual.address, port: manual.signalPort }
    : { address, port: signalPort };

/** Whether it asks a STUN server what its signalling socket looks like. */
export const learnsContact = ({ transport, method }: NetworkPhone): boolean =>
  transport === 'udp' && LEARNING.includes(method);

/** STUN from a socket. */
export const stunOver = (send: (bytes: Uint8Array, lost: () => void) => void): StunClient =>
  openStunClient({ send, ...PATIENCE });

/** A UDP socket whose answers of STUN and whose relayed data are taken out before anybody else hears. */
function sifted(socket: Datagrams) {
  const clients: StunClient[] = [];
  let heard: (bytes: Buffer, from: Socket) => void = NOTHING;
  socket.on('message', (data, from) => {
    if (clients.some((client) => client.receive(data))) return;
    heard(data, { address: from.address, port: from.port });
  });
  const post = (bytes: Uint8Array, to: Socket, lost: () => void) =>
    socket.send(bytes, to.port, to.address, (error) => error && lost());
  const base: IceBase = {
    send: (bytes, to) => post(bytes, to, NOTHING),
    hear: (listener) => {
      heard = listener;
    },
  };
  return { base, clients, post };
}

/** A relayed socket, as a place from which sound and checks go. */
interface Relayed {
  readonly socket: Socket;
  readonly base: IceBase;
  readonly close: () => void;
}

/** Asks for a relayed socket, over UDP from the phone's own port or by a connection. @returns null: there is none */
async function allocate(
  { ground, settings, turn }: PhoneWay,
  own: ReturnType<typeof sifted>,
): Promise<Relayed | null> {
  if (!turn) return null;
  const { at, tlsPort, credentials } = turn;
  let heard: (bytes: Buffer, from: Socket) => void = NOTHING;
  const more = {
    credentials,
    ...PATIENCE,
    onData: (data: Uint8Array, peer: Socket) => heard(Buffer.from(data), peer),
  };
  let close: () => void = NOTHING;
  let client: StunClient;
  if (settings.turnTransport === 'udp') {
    client = openStunClient({ ...more, send: (bytes, lost) => own.post(bytes, at, lost) });
    own.clients.push(client);
  } else {
    const isTls = settings.turnTransport === 'tls';
    const plain = ground.connect({ address: at.address, port: isTls ? tlsPort : at.port }, settings.address);
    const stream = isTls ? connectTls({ socket: plain, rejectUnauthorized: false }) : plain;
    client = openStunClient({ ...more, send: (bytes) => stream.write(bytes) });
    let rest: Uint8Array = new Uint8Array(0);
    stream.on('data', (data: Buffer) => {
      const cut = cutStunStream(Buffer.concat([rest, data]));
      rest = cut.rest;
      for (const piece of cut.pieces) client.receive(piece);
    });
    stream.on('error', () => stream.destroy());
    stream.on('close', () => client.close());
    close = () => stream.destroy();
  }
  const made = await client.allocate();
  if (!made.ok) {
    close();
    return null;
  }
  /** What waits for the permission of its peer. */
  const permitted = new Map<string, Promise<unknown>>();
  return {
    socket: made.value.relayed,
    base: {
      send: (bytes, to) => {
        const known = permitted.get(to.address) ?? client.permit(to);
        permitted.set(to.address, known);
        void known.then(() => client.sendTo(to, bytes));
      },
      hear: (listener) => {
        heard = listener;
      },
    },
    close: () => {
      void client.refresh(0);
      setTimeout(() => {
        client.close();
        close();
      }, PATIENCE.firstPauseMs);
    },
  };
}

/** Opens the socket of a call as its phone has it. @throws NoAllocation, or where a port cannot be had */
export async function openSound(way: PhoneWay, isControlling: boolean): Promise<SoundSocket> {
  const { ground, settings, stun } = way;
  const { address, rtpPort, method, manual, symmetric } = settings;
  const sendsFrom = symmetric ? null : await openDatagrams(ground, address, rtpPort + ASIDE);
  if (!LEARNING.includes(method))
    return openPlain({
      ground,
      address,
      port: rtpPort,
      isOpen: true,
      ...(method === 'manual-public-address' && manual
        ? { writtenAs: { address: manual.address, port: manual.rtpPort } }
        : {}),
      ...(sendsFrom ? { sendsFrom } : {}),
    });
  const socket = await openDatagrams(ground, address, rtpPort);
  const own = sifted(socket);
  const close = (relayed: Relayed | null) => () => {
    relayed?.close();
    // What the relay is told last still goes out.
    setTimeout(() => socket.close(), relayed ? PATIENCE.firstPauseMs : 0);
    sendsFrom?.close();
  };
  if (method === 'turn') {
    const relayed = await allocate(way, own);
    if (!relayed) {
      close(null)();
      throw new NoAllocation();
    }
    return {
      port: rtpPort,
      written: relayed.socket,
      ice: null,
      isOpen: true,
      send: relayed.base.send,
      hear: relayed.base.hear,
      aim: NOTHING,
      close: close(relayed),
    };
  }
  const client = stunOver((bytes, lost) => stun && own.post(bytes, stun, lost));
  own.clients.push(client);
  const learned = stun ? await client.mapped() : null;
  const host = { address, port: rtpPort };
  const written = learned ?? host;
  if (method === 'ice' && way.usesIce) {
    const relayed = await allocate(way, own);
    const isSeen = written.address !== host.address || written.port !== host.port;
    const candidates: readonly OwnCandidate[] = [
      { type: 'host', socket: host, base: own.base },
      ...(isSeen ? [{ type: 'srflx', socket: written, base: own.base } as const] : []),
      ...(relayed ? [{ type: 'relay', socket: relayed.socket, base: relayed.base } as const] : []),
    ];
    return overIce({ port: rtpPort, candidates, isControlling, written, close: close(relayed) });
  }
  return {
    port: rtpPort,
    written,
    ice: null,
    isOpen: true,
    send: (bytes, to) =>
      sendsFrom ? sendsFrom.send(bytes, to.port, to.address, NOTHING) : own.base.send(bytes, to),
    hear: own.base.hear,
    aim: NOTHING,
    close: close(null),
  };
}
