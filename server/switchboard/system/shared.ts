import { randomBytes } from 'node:crypto';
import { connect, type Socket } from 'node:net';
import { hostname } from 'node:os';
import type { Logger } from 'pino';
import { aboutError, onceAMinute } from '../../base';
import type { Db } from '../../db';
import { greeting, GREETING, readFrames, sendFrame } from './frames';
import { leaseOn, SAY_MS, type Holder } from './lease';
import { ownSystem, type LinkHears, type OpenSystem, type SystemLink } from './link';
import { isOrder, openForOthers, type FromHolder, type ToHolder } from './others';

/** Between two tries to find the phone system, how long a server that runs it has to answer, and to pass on. In ms. */
const AGAIN_MS = 300;
const ANSWER_WITHIN_MS = 3000;
const REFRESH_WITHIN_MS = 10_000;

/** Whether a process of this machine is there; one that may not be asked is. */
function isThere(pid: number): boolean {
  try {
    process.kill(pid, 0);
    return true;
  } catch (error) {
    return (error as { code?: string }).code !== 'ESRCH';
  }
}

/**
 * Comes in to the phone system that another server runs.
 * @param enter told before anything is heard of it
 * @returns whether somebody there knows the token
 */
function comeIn(
  { port, token }: Holder,
  hears: LinkHears,
  enter: (link: SystemLink) => void,
): Promise<boolean> {
  return new Promise((done) => {
    const socket: Socket = connect(port, '127.0.0.1');
    const waiting = new Map<number, () => void>();
    let asked = 0;
    let isIn = false;
    let isClosed = false;
    const said = greeting(token);
    const late = setTimeout(() => socket.destroy(), ANSWER_WITHIN_MS);
    const send = (message: ToHolder) => sendFrame(socket, message);
    socket.on('error', () => undefined);
    socket.on('close', () => {
      clearTimeout(late);
      for (const passed of waiting.values()) passed();
      if (!isIn) return done(false);
      if (!isClosed) hears.ended('elsewhere');
    });
    socket.write(said.bytes);
    const link: SystemLink = {
      isOwn: () => false,
      isConnected: () => isIn && !socket.destroyed,
      send: (message) => {
        if (isOrder(message)) send({ kind: 'order', message });
      },
      share: (begun) => send({ kind: 'begun', begun }),
      refreshThere: (force) =>
        new Promise((passed) => {
          if (socket.destroyed) return passed();
          const id = (asked += 1);
          const timer = setTimeout(() => waiting.get(id)?.(), REFRESH_WITHIN_MS);
          waiting.set(id, () => {
            clearTimeout(timer);
            waiting.delete(id);
            passed();
          });
          send({ kind: 'refresh', id, force });
        }),
      close: () => {
        isClosed = true;
        socket.destroy();
        return Promise.resolve();
      },
    };
    readFrames(
      socket,
      GREETING.answers,
      (answer) => {
        if (!answer.equals(said.answer)) return false;
        clearTimeout(late);
        isIn = true;
        enter(link);
        done(true);
        return true;
      },
      (frame) => {
        const message = frame as FromHolder;
        if (message.kind === 'heard') hears.heard(message.message);
        else if (message.kind === 'state') hears.shared(message.state);
        else if (message.kind === 'begun') hears.begun(message.begun);
        else waiting.get(message.id)?.();
      },
    );
  });
}

export interface SharedSystemOptions {
  readonly db: Pick<Db, 'query' | 'execute'>;
  readonly log: Logger;
  /** Where the phone system leaves records of calls; left out: nowhere. */
  readonly spool?: string | undefined;
  /** The machine; left out: this one. */
  readonly host?: string;
}

/**
 * The one phone system of all servers of a machine on one database: the first runs it and lets the others in; when it
 * ends, or is silent for long, another one runs it.
 */
export function sharedSystem({
  db,
  log,
  spool,
  host = hostname().slice(0, 100),
}: SharedSystemOptions): OpenSystem {
  const lease = leaseOn(db, host);
  const say = onceAMinute(log);

  /** Runs it, where nobody else does. @param instead the token of whoever is gone; null: nobody had it */
  async function runIt(
    instead: string | null,
    hears: LinkHears,
    enter: (link: SystemLink) => void,
  ): Promise<void> {
    const token = randomBytes(32).toString('hex');
    let own: SystemLink | null = null;
    const others = await openForOthers(token, hears, (message) => own?.send(message));
    if (!(await lease.take({ pid: process.pid, port: others.port, token }, instead))) {
      others.close();
      return;
    }
    let isOver = false;
    const saying = setInterval(() => {
      lease.keep(token).then(
        (isHeld) => {
          if (isHeld || isOver) return;
          log.warn('another server runs the phone system now: it was not heard from this one for long');
          void over('elsewhere');
        },
        // Nobody else can take it either while the database does not answer.
        () => undefined,
      );
    }, SAY_MS);
    /** @param code null where nobody is to be told */
    const over = async (why: Parameters<LinkHears['ended']>[0] | 'closed'): Promise<void> => {
      if (isOver) return;
      isOver = true;
      clearInterval(saying);
      await own?.close();
      others.close();
      await lease.release(token).catch(() => undefined);
      if (why !== 'closed') hears.ended(why);
    };
    own = ownSystem(spool)({
      ...hears,
      heard: (message) => {
        others.heard(message);
        hears.heard(message);
      },
      ended: (code) => void over(code),
    });
    enter({ ...own, share: others.begun, close: () => over('closed') });
  }

  async function find(hears: LinkHears, enter: (link: SystemLink) => void): Promise<void> {
    const holder = await lease.holder();
    if (!holder) await runIt(null, hears, enter);
    else if (!(await comeIn(holder, hears, enter)) && (holder.isSilent || !isThere(holder.pid)))
      await runIt(holder.token, hears, enter);
  }

  return (hears) => {
    let link: SystemLink | null = null;
    let closed = false;
    const isFound = () => link !== null;
    const search = async (): Promise<void> => {
      while (!closed && !isFound()) {
        await find(hears, (found) => {
          link = found;
        }).catch((error: unknown) =>
          say('the phone system could not be looked for', { err: aboutError(error) }),
        );
        if (!isFound()) await new Promise((done) => setTimeout(done, AGAIN_MS));
      }
      if (closed) await link?.close();
    };
    const searching = search();
    return {
      isOwn: () => link?.isOwn() === true,
      isConnected: () => link?.isConnected() === true,
      send: (message) => link?.send(message),
      share: (begun) => link?.share(begun),
      refreshThere: (force) => link?.refreshThere(force) ?? Promise.resolve(),
      close: async () => {
        closed = true;
        await link?.close();
        await searching;
      },
    };
  };
}
