import { createServer, type AddressInfo } from 'node:net';

/** A port of loopback that nobody listens on now. */
export const freePort = () =>
  new Promise<number>((done) => {
    const probe = createServer().listen(0, '127.0.0.1', () => {
      const { port } = probe.address() as AddressInfo;
      probe.close(() => done(port));
    });
  });
