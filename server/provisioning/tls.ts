import { createServer, type Server } from 'node:https';
import type { AddressInfo } from 'node:net';
import express from 'express';
import type { Logger } from 'pino';
import { SAFE_TLS } from '../../standins/sip/transport';
import { selfSigned } from '../../standins/certificate';
import { HTTP_LIMITS, limitServer, type Services } from '../http';
import { provisioning } from './service';

/** The service of provisioned phones, over TLS, on loopback. */
export interface TlsService {
  readonly port: number;
  readonly cert: string;
  readonly close: () => void;
}

/**
 * Listens over TLS with a certificate that signs itself; phones may show theirs, which is looked at with each question.
 * @param port one that is taken gives way to any that is free
 */
export async function openTls(services: Services, port: number, log: Logger): Promise<TlsService> {
  const { key, cert } = await selfSigned(services.now());
  const app = express();
  app.disable('x-powered-by');
  app.use('/provisioning', provisioning(services));
  app.use((_request, response) => {
    response.status(404).type('text/plain').send('There is nothing here.\n');
  });
  const server = createServer(
    { ...HTTP_LIMITS, ...SAFE_TLS, key, cert, requestCert: true, rejectUnauthorized: false },
    app,
  );
  limitServer(server, log);
  await listen(server, port).catch((error: NodeJS.ErrnoException) => {
    if (error.code !== 'EADDRINUSE') throw error;
    return listen(server, 0);
  });
  return {
    port: (server.address() as AddressInfo).port,
    cert,
    close: () => {
      server.close();
      server.closeAllConnections();
    },
  };
}

const listen = (server: Server, port: number): Promise<void> =>
  new Promise((resolve, reject) => {
    server.once('error', reject);
    server.listen(port, '127.0.0.1', () => {
      server.off('error', reject);
      resolve();
    });
  });
