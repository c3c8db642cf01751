import { randomInt } from 'node:crypto';
import { createSocket, type Socket } from 'node:dgram';

/** Places of one network at most. */
const MOST_PLACES = 250;
/** Blocks tried beside the first. */
const MOST_TRIES = 20;
/** Whoever has a block listens at this port of its last address. */
const GUARD = { last: 254, port: 40_999 } as const;

/** Listens at the guard of a block. @returns null: another process has it */
function guarded(start: string): Promise<Socket | null> {
  const socket = createSocket('udp4');
  return new Promise((resolve) => {
    socket.once('error', () => {
      socket.close();
      resolve(null);
    });
    socket.bind({ address: `${start}.${GUARD.last}`, port: GUARD.port, exclusive: true }, () =>
      resolve(socket),
    );
  });
}

/** Loopback addresses that nobody else uses: a block by chance, so that networks beside each other do not meet. */
export interface Block {
  readonly next: () => string;
  /** All of them, as CIDR. */
  readonly all: string;
  readonly free: () => void;
}

/** Takes a block. @throws where none is free after some tries */
export async function takeBlock(): Promise<Block> {
  for (let tries = 0; tries <= MOST_TRIES; tries += 1) {
    const start = `127.${randomInt(70, 120)}.${randomInt(1, 250)}`;
    const guard = await guarded(start);
    if (!guard) continue;
    let last = 0;
    return {
      next: () => {
        last += 1;
        if (last > MOST_PLACES) throw new Error('there are too many places in this network');
        return `${start}.${last}`;
      },
      all: `${start}.0/24`,
      free: () => guard.close(),
    };
  }
  throw new Error('no block of loopback addresses is free');
}
