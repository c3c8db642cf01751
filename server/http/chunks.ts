import { once } from 'node:events';
import type { Response } from 'express';

/**
 * Sends text bit by bit, as fast as the far end takes it. Where it cannot be gone on with, the connection is broken
 * off: a file that is not whole must not look as if it were.
 * @throws what went wrong, to be told in the log
 */
export async function sendChunks(response: Response, chunks: AsyncIterable<string>): Promise<void> {
  const gone = new AbortController();
  response.once('close', () => gone.abort());
  try {
    for await (const chunk of chunks) {
      if (gone.signal.aborted) return;
      if (!response.write(chunk)) await once(response, 'drain', { signal: gone.signal });
    }
    response.end();
  } catch (error) {
    // Whoever asked went away.
    if (gone.signal.aborted) return;
    if (response.headersSent) response.destroy();
    throw error;
  }
}
