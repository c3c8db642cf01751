import type { Response } from 'express';
import { accountOfSession } from '../auth';
import type { Db } from '../db';
import { type Account, busy, refusal, type Reply } from '../base';

/** Streams of events that one account, and all together, may have open. */
const MOST_OF_ONE = 24;
const MOST = 2000;
const KEEP_OPEN_MS = 20_000;
/** One that finds no room asks again after so long, in s. */
const AGAIN_S = 30;
/** What waits for the browser at most, in bytes: one that does not read is let go. */
const MOST_WAITING = 4 << 20;

interface Open {
  readonly account: number;
  readonly session: number;
  readonly end: () => void;
}

/** The open streams of a server: each ends with the session that it was opened with. */
export interface Streams {
  readonly open: (
    response: Response,
    db: Db,
    who: { readonly account: Account; readonly token: string },
    stream: NonNullable<Reply['stream']>,
  ) => void;
  /** Ends those of a session, or of all sessions of an account, at once. */
  readonly end: (of: { readonly session: number } | { readonly account: number }) => void;
  /** Ends all of them, when the server ends. */
  readonly endAll: () => void;
  readonly count: () => number;
}

export function openStreams(): Streams {
  const all = new Set<Open>();
  return {
    count: () => all.size,
    endAll: () => {
      for (const each of [...all]) each.end();
    },
    end: (of) => {
      for (const each of [...all])
        if ('session' in of ? each.session === of.session : each.account === of.account) each.end();
    },
    open: (response, db, { account, token }, stream) => {
      const own = [...all].filter((each) => each.account === account.id).length;
      if (own >= MOST_OF_ONE)
        throw refusal(429, `${MOST_OF_ONE} pages of yours follow what happens already. Close some of them.`);
      if (all.size >= MOST)
        throw busy(
          'Too many pages follow what happens at this server. Yours is up to date when it is loaded again.',
          AGAIN_S,
        );
      // Told not to transform, compression leaves events alone, which it would hold back.
      response.writeHead(200, {
        'Content-Type': 'text/event-stream',
        'Cache-Control': 'no-store, no-transform',
      });
      const closing: (() => void)[] = [];
      const entry: Open = { account: account.id, session: account.session, end: () => response.end() };
      all.add(entry);
      let waiting: string[] = [];
      let asking = false;
      /** Sends what waits once the session is known to be good still: it may have been ended on another server. */
      const flush = async () => {
        if (asking) return;
        asking = true;
        try {
          while (waiting.length > 0 && !response.writableEnded) {
            const still = await accountOfSession(db, token);
            if (!still || still.role !== account.role || still.person !== account.person) {
              response.end();
              return;
            }
            const events = waiting.join('');
            waiting = [];
            if (response.writableLength > MOST_WAITING) response.destroy();
            else if (!response.writableEnded) response.write(events);
          }
        } catch {
          // The database does not answer: nothing is told, and the browser opens the stream again.
          response.end();
        } finally {
          asking = false;
        }
      };
      const push = (text: string) => {
        waiting.push(text);
        void flush();
      };
      const keeping = setInterval(() => push(': still here\n\n'), KEEP_OPEN_MS);
      closing.push(
        () => clearInterval(keeping),
        () => all.delete(entry),
      );
      response.on('close', () => {
        for (const close of closing) close();
      });
      stream(
        (name, data) => {
          if (!response.writableEnded) push(`event: ${name}\ndata: ${JSON.stringify(data)}\n\n`);
        },
        (then) => closing.push(then),
      );
    },
  };
}
