import type { Socket as UdpSocket } from 'node:dgram';
import type { Server } from 'node:net';

export function bind(socket: UdpSocket, port: number, address: string): Promise<void> {
  return new Promise((resolve, reject) => {
    socket.once('error', reject);
    socket.bind(port, address, () => {
      socket.off('error', reject);
      socket.on('error', () => undefined);
      resolve();
    });
  });
}

export const listen = (server: Server, port: number, address: string): Promise<void> =>
  new Promise((resolve, reject) => {
    server.once('error', reject);
    server.listen(port, address, () => {
      server.off('error', reject);
      resolve();
    });
  });
