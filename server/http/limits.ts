import type { Server } from 'node:http';
import type { Server as TlsServer } from 'node:https';
import type { Duplex } from 'node:stream';
import type { Socket } from 'node:net';
import type { Logger } from 'pino';

/** How long a request may take to come, its headers and the whole of it, in ms; for `createServer`. */
export const HTTP_LIMITS = {
  headersTimeout: 10_000,
  requestTimeout: 120_000,
  connectionsCheckingInterval: 1000,
} as const;
const MOST_CONNECTIONS = 1000;
/** Lines about it in the log within a minute; what comes beyond is counted only. */
const MOST_LINES = 20;
const MINUTE_MS = 60_000;

/**
 * Cuts off what comes a byte at a time, is no request at all or is one connection too many, and says so in the log,
 * which itself does not grow with what is sent.
 */
export function limitServer(server: Server | TlsServer, log: Logger): void {
  let sinceMs = 0;
  let lines = 0;
  let unsaid = 0;
  const tell = (what: string, about: object) => {
    const now = Date.now();
    if (now - sinceMs > MINUTE_MS) {
      if (unsaid > 0) log.warn({ times: unsaid }, 'more of the like was cut off');
      [sinceMs, lines, unsaid] = [now, 0, 0];
    }
    lines += 1;
    if (lines > MOST_LINES) unsaid += 1;
    else log.warn(about, what);
  };
  server.maxConnections = MOST_CONNECTIONS;
  server.on('drop', (from) => tell('a connection too many was dropped', { from: from?.remoteAddress }));
  server.on('clientError', (error: NodeJS.ErrnoException, stream: Duplex) => {
    const { remoteAddress, bytesRead } = stream as Socket;
    const isSlow = error.code === 'ERR_HTTP_REQUEST_TIMEOUT';
    if (error.code === 'ECONNRESET' || !stream.writable) return void stream.destroy();
    // Browsers open connections ahead of need, over which nothing may ever come.
    if (bytesRead > 0)
      tell(isSlow ? 'a request came too slowly and was cut off' : 'what is no request was cut off', {
        from: remoteAddress,
        code: error.code,
      });
    const status = isSlow ? '408 Request Timeout' : '400 Bad Request';
    stream.end(`HTTP/1.1 ${status}\r\nConnection: close\r\nContent-Length: 0\r\n\r\n`);
  });
}
