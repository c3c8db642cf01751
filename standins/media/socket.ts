import type { Socket } from '../../core/estate';
import type { IceOffer, Sound } from '../../core/wire/sip';
import { MACHINE, type Datagrams, type Ground } from '../sip/ground';

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

/** Opens a UDP socket. @throws where it cannot be had */
export async function openDatagrams(ground: Ground, address: string, port = 0): Promise<Datagrams> {
  const socket = ground.datagrams();
  await new Promise<void>((resolve, reject) => {
    socket.once('error', reject);
    socket.bind(port, address, () => {
      socket.off('error', reject);
      resolve();
    });
  });
  socket.on('error', NOTHING);
  return socket;
}

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
  let latest: Socket | null = null;
  if (latches)
    socket.on('message', (_data, from) => {
      latest = from;
    });
  return {
    port,
    written: options.writtenAs ?? { address, port },
    ice: null,
    isOpen: options.isOpen === true || latches,
    send: (bytes, to) => {
      const where = latest ?? to;
      if (ground.mayUse(where.address)) (sendsFrom ?? socket).send(bytes, where.port, where.address, NOTHING);
    },
    hear: (listener) => {
      socket.on('message', (data, { address: host, port: at }) =>
        listener(data, { address: host, port: at }),
      );
    },
    aim: NOTHING,
    close: () => {
      socket.close();
      sendsFrom?.close();
    },
  };
}
