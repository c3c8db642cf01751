import { mkdtempSync } from 'node:fs';
import { connect, createServer, type Server, type Socket } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { DbConfig } from '../db';

/** A way to the database that can be stopped: nothing passes then, and no connection is closed either. */
export interface DatabaseWay {
  readonly through: (config: DbConfig) => DbConfig;
  readonly standStill: () => void;
  readonly letGo: () => void;
  readonly close: () => Promise<void>;
}

/** Opens one at a socket of its own. */
export async function databaseWay(): Promise<DatabaseWay> {
  const socketPath = join(mkdtempSync(join(tmpdir(), 'hostler-way-')), 'd.sock');
  const open = new Set<Socket>();
  let target: DbConfig | null = null;
  let still = false;
  const pass = (socket: Socket) => (still ? socket.pause() : socket.resume());
  const server: Server = createServer((near) => {
    const far = target?.socketPath
      ? connect(target.socketPath)
      : connect(target?.port ?? 3306, target?.host ?? '127.0.0.1');
    for (const [from, to] of [
      [near, far],
      [far, near],
    ] as const) {
      open.add(from);
      from.on('data', (part) => to.write(part));
      from.on('error', () => to.destroy());
      from.on('close', () => {
        open.delete(from);
        to.destroy();
      });
      pass(from);
    }
  });
  await new Promise<void>((done) => server.listen(socketPath, done));
  const set = (to: boolean) => {
    still = to;
    open.forEach(pass);
  };
  return {
    through: (config) => {
      target = config;
      return { ...config, socketPath };
    },
    standStill: () => set(true),
    letGo: () => set(false),
    close: async () => {
      open.forEach((socket) => socket.destroy());
      await new Promise((done) => server.close(done));
    },
  };
}
