// A host in a namespace of the kernel tests: sockets that are told what to do by lines of JSON, and tell what came.
import { createSocket, type Socket } from 'node:dgram';
import { connect, createServer } from 'node:net';
import { createInterface } from 'node:readline';
import { openTurn } from '../turn';
import type { AgentOrder, AgentTold } from './messages';

const tell = (told: AgentTold) => process.stdout.write(`${JSON.stringify(told)}\n`);
const sockets = new Map<number, Socket>();
const CONNECT_WITHIN_MS = 1500;

async function bind(address: string, port: number): Promise<void> {
  const socket = createSocket('udp4');
  sockets.set(port, socket);
  socket.on('error', () => undefined);
  socket.on('message', (data, from) =>
    tell({
      kind: 'got',
      port,
      from: { address: from.address, port: from.port },
      data: data.toString('base64'),
    }),
  );
  await new Promise<void>((resolve) => socket.bind(port, address, resolve));
}

const connects = (address: string, port: number): Promise<boolean> =>
  new Promise((resolve) => {
    const socket = connect(port, address);
    const done = (is: boolean) => {
      clearTimeout(slow);
      socket.destroy();
      resolve(is);
    };
    const slow = setTimeout(() => done(false), CONNECT_WITHIN_MS);
    socket.once('connect', () => done(true));
    socket.once('error', () => done(false));
  });

async function act(order: AgentOrder): Promise<boolean> {
  switch (order.op) {
    case 'bind':
      await bind(order.address, order.port);
      return true;
    case 'send':
      sockets
        .get(order.port)
        ?.send(Buffer.from(order.data, 'base64'), order.to.port, order.to.address, () => undefined);
      return true;
    case 'listen':
      await new Promise<void>((resolve) =>
        createServer((socket) => socket.on('error', () => undefined).end()).listen(
          order.port,
          order.address,
          () => resolve(),
        ),
      );
      return true;
    case 'connect':
      return connects(order.address, order.port);
    case 'turn':
      await openTurn({
        address: order.address,
        port: order.port,
        realm: 'lab',
        relayAddress: order.address,
        allow: order.allow,
        passwordOf: (user) => (user === order.user ? order.password : null),
      });
      return true;
  }
}

const lines = createInterface({ input: process.stdin });
lines.on('line', (line) => {
  const order = JSON.parse(line) as AgentOrder;
  act(order).then(
    (ok) => tell({ kind: 'done', id: order.id, ok }),
    () => tell({ kind: 'done', id: order.id, ok: false }),
  );
});
// Whoever started it may be gone without a word.
lines.on('close', () => process.exit(0));
setTimeout(() => process.exit(0), 180_000);
