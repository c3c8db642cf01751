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
  maxHeaderSize: 16_384,
} as const;
/** Connections at once, of all and of one source: none can take all the places. */
export const MOST_CONNECTIONS = { altogether: 1000, perSource: 250 } as const;
/** How long a connection that is told to end may take to do so, in ms. */
const END_WITHIN_MS = 500;
/** Lines about it in the log within a minute; what comes beyond is counted only. */
const MOST_LINES = 20;
const MINUTE_MS = 60_000;

/**
 * Cuts off what comes a byte at a time, is no request at all or is one connection too many, and says so in the log,
 * which itself does not grow with what is sent.
 */
export function limitServer(
  server: Server | TlsServer,
  log: Pick<Logger, 'warn'>,
  most: { readonly altogether: number; readonly perSource: number } = MOST_CONNECTIONS,
): void {
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
  const sources = new Map<string, number>();
  server.maxConnections = most.altogether;
  server.on('connection', (socket: Socket) => {
    const from = socket.remoteAddress ?? '';
    const count = (sources.get(from) ?? 0) + 1;
    sources.set(from, count);
    socket.once('close', () => {
      const left = (sources.get(from) ?? 1) - 1;
      if (left <= 0) sources.delete(from);
      else sources.set(from, left);
    });
    if (count <= most.perSource) return;
    tell('a connection too many of one source was dropped', { from });
    socket.destroy();
  });
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
    // A far end that does not close its side would keep the place for ever.
    const late = setTimeout(() => stream.destroy(), END_WITHIN_MS);
    stream.once('close', () => clearTimeout(late));
  });
}
