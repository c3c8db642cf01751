import type { Socket } from '../../core/estate';
import type { IceOffer, Sound } from '../../core/wire/sip';
import { MACHINE, type Datagrams, type Ground } from '../sip/ground';
import { bound } from '../sip/opening';

/** Where the sound of one call goes out and comes in. */
export interface SoundSocket {
  /** The port that it listens at. */
  readonly port: number;
  /** What is said of it to the far end. */
  readonly written: Socket;
  /** Its candidates, where it finds its way by ICE. */
  readonly ice: IceOffer | null;
  /** Whether it takes what comes from another address than the far end has named. */
  readonly isOpen: boolean;
  readonly send: (bytes: Uint8Array, to: Socket) => void;
  readonly hear: (listener: (bytes: Buffer, from: Socket) => void) => void;
  /** Told where the far end hears. */
  readonly aim: (to: Sound) => void;
  readonly close: () => void;
}

const NOTHING = () => undefined;

/** A place from which sound and checks go, and at which they come in: a port of one's own, or a relayed one. */
export interface Base {
  readonly send: (bytes: Uint8Array, to: Socket) => void;
  readonly hear: (listener: (bytes: Buffer, from: Socket) => void) => void;
}

/** Opens a UDP socket. @throws where it cannot be had */
export async function openDatagrams(ground: Ground, address: string, port = 0): Promise<Datagrams> {
  const socket = ground.datagrams();
  await bound(socket, port, address);
  return socket;
}

/** A UDP socket as a place for sound. @param sendsFrom what it sends from, where that is another one */
export const baseOf = (socket: Datagrams, { mayUse }: Ground, sendsFrom = socket): Base => ({
  send: (bytes, to) => {
    if (mayUse(to.address)) sendsFrom.send(bytes, to.port, to.address, NOTHING);
  },
  hear: (listener) => {
    socket.on('message', (data, { address, port }) => listener(data, { address, port }));
  },
});

/** Sound that goes from one place to where the far end says, and comes in from anywhere. */
export const overBase = (base: Base, more: Pick<SoundSocket, 'port' | 'written' | 'close'>): SoundSocket => ({
  ...base,
  ...more,
  ice: null,
  isOpen: true,
  aim: NOTHING,
});

export interface PlainOptions {
  readonly address: string;
  readonly ground?: Ground;
  /** 0, or left out: any. */
  readonly port?: number;
  /** What is said of it in place of its own address. */
  readonly writtenAs?: Socket;
  /** It sends to where the latest packet came from, wherever the far end says that it hears. */
  readonly latches?: boolean;
  readonly isOpen?: boolean;
  /** The socket that it sends from, where that is another one. */
  readonly sendsFrom?: Datagrams;
}

/** A socket of one's own: sound goes where the far end says, or where its sound comes from. @throws where it cannot be had */
export async function openPlain(options: PlainOptions): Promise<SoundSocket> {
  const { address, ground = MACHINE, latches = false, sendsFrom } = options;
  const socket = await openDatagrams(ground, address, options.port);
  const { port } = socket.address();
  const base = baseOf(socket, ground, sendsFrom);
  let latest: Socket | null = null;
  if (latches)
    base.hear((_data, from) => {
      latest = from;
    });
  return {
    port,
    written: options.writtenAs ?? { address, port },
    ice: null,
    isOpen: options.isOpen === true || latches,
    send: (bytes, to) => base.send(bytes, latest ?? to),
    hear: base.hear,
    aim: NOTHING,
    close: () => {
      socket.close();
      sendsFrom?.close();
    },
  };
}
