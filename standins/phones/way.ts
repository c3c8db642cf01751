import { connect as connectTls } from 'node:tls';
import type { NetworkPhone, Socket } from '../../core/estate';
import { learns, soundFrom } from '../../core/network';
import { overIce, type OwnCandidate } from '../media/ice';
import { baseOf, openDatagrams, openPlain, overBase, type Base, type SoundSocket } from '../media/socket';
import type { Datagrams, Ground } from '../sip/ground';
import { onPieces, openStunClient, type StunClient } from '../turn';

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
const NOTHING = () => undefined;

/** STUN from a socket. */
export const stunOver = (send: (bytes: Uint8Array, lost: () => void) => void): StunClient =>
  openStunClient({ send, ...PATIENCE });

/** A UDP socket whose answers of STUN and whose relayed data are taken out before anybody else hears. */
function sifted(socket: Datagrams, ground: Ground) {
  const clients: StunClient[] = [];
  const all = baseOf(socket, ground);
  const base: Base = {
    send: all.send,
    hear: (listener) => {
      heard = listener;
    },
  };
  let heard: (bytes: Buffer, from: Socket) => void = NOTHING;
  all.hear((data, from) => {
    if (!clients.some((client) => client.receive(data))) heard(data, from);
  });
  const post = (bytes: Uint8Array, to: Socket, lost: () => void) =>
    socket.send(bytes, to.port, to.address, (error) => error && lost());
  return { base, clients, post };
}

/** A relayed socket, as a place from which sound and checks go. */
interface Relayed {
  readonly socket: Socket;
  readonly base: Base;
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
    onPieces(stream, (piece) => client.receive(piece));
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
  const sendsFrom = symmetric ? null : await openDatagrams(ground, address, soundFrom(settings));
  if (!learns(settings))
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
  const own = sifted(socket, ground);
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
    return overBase(relayed.base, { port: rtpPort, written: relayed.socket, close: close(relayed) });
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
  const base = sendsFrom ? { ...own.base, send: baseOf(sendsFrom, ground).send } : own.base;
  return overBase(base, { port: rtpPort, written, close: close(null) });
}
