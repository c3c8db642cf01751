import type { Server } from 'node:http';

/**
 * Ends a server without cutting anybody off: nobody new is taken in, connections on which nothing goes on are closed,
 * and what is worked on has a while to be answered.
 * @param withinMs how long; after it connections are closed whatever goes on there
 */
export function endGently(server: Server, withinMs: number): Promise<void> {
  return new Promise((done) => {
    const late = setTimeout(() => server.closeAllConnections(), withinMs);
    // Answers from here on say that their connection is closed with them.
    server.prependListener('request', (_request, response) => {
      response.setHeader('Connection', 'close');
    });
    server.close(() => {
      clearTimeout(late);
      done();
    });
    server.closeIdleConnections();
  });
}
