import { mkdtempSync } from 'node:fs';
import { connect, createServer, type AddressInfo, type Socket } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { DbConfig, DbHost } from '../db';

/** A way to the database that can be stopped: nothing passes then, and no connection is closed either. */
export interface DatabaseWay {
  readonly through: (config: DbConfig) => DbConfig;
  /** The same way, as a host among several. */
  readonly host: DbHost;
  readonly standStill: () => void;
  readonly letGo: () => void;
  readonly close: () => Promise<void>;
}

/** Opens one at a socket and a port of its own. */
export async function databaseWay(): Promise<DatabaseWay> {
  const socketPath = join(mkdtempSync(join(tmpdir(), 'hostler-way-')), 'd.sock');
  const open = new Set<Socket>();
  let target: DbConfig | null = null;
  let still = false;
  const pass = (socket: Socket) => (still ? socket.pause() : socket.resume());
  const pair = (near: Socket) => {
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
  };
  const [atSocket, atPort] = [createServer(pair), createServer(pair)];
  await new Promise<void>((done) => atSocket.listen(socketPath, done));
  await new Promise<void>((done) => atPort.listen(0, '127.0.0.1', done));
  const set = (to: boolean) => {
    still = to;
    open.forEach(pass);
  };
  return {
    through: (config) => {
      target = config;
      return { ...config, socketPath };
    },
    host: { host: '127.0.0.1', port: (atPort.address() as AddressInfo).port },
    standStill: () => set(true),
    letGo: () => set(false),
    close: async () => {
      open.forEach((socket) => socket.destroy());
      for (const server of [atSocket, atPort]) await new Promise((done) => server.close(done));
    },
  };
}
