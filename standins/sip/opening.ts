import type { AddressInfo, Server } from 'node:net';
import type { Datagrams } from './ground';

/** Binds a UDP socket; what goes wrong with it later is passed over. @returns its port @throws where it cannot be had */
export const bound = (socket: Datagrams, port: number, address: string): Promise<number> =>
  new Promise((resolve, reject) => {
    socket.once('error', reject);
    socket.bind(port, address, () => {
      socket.off('error', reject);
      socket.on('error', () => undefined);
      resolve(socket.address().port);
    });
  });

/** Has a server listen. @returns its port @throws where it cannot be had */
export const listening = (server: Server, port: number, address: string): Promise<number> =>
  new Promise((resolve, reject) => {
    server.once('error', reject);
    server.listen(port, address, () => {
      server.off('error', reject);
      resolve((server.address() as AddressInfo).port);
    });
  });
