import { AsyncLocalStorage } from 'node:async_hooks';
import { readKept } from '../../core/estate';
import { setTimeout as pause } from 'node:timers/promises';
import type { Pool, PoolConnection } from 'mysql2/promise';
import { summaryOf, traced } from '../base';
import { asKeeper, type DbConfig } from './config';
import { isConflict, isHalfWay, isHeld, isLostCode } from './faults';
import { openNodes, type NodePool } from './nodes';

/** Whatever queries run on: the pool, or the one connection of a transaction. */
export type Queryable = Pick<Pool, 'query' | 'execute'>;
/** The one connection of a transaction: all that may be asked while it is open. */
export type Tx = Queryable & {
  readonly inTransaction: true;
  /** From here on all that is written bears one instant: what was, is as it was before or after all of it. */
  readonly fixTime: () => Promise<void>;
  /** From here on all that is written bears this instant, for made-up history; null: that of the clock again. */
  readonly atTime: (at: Date | null) => Promise<void>;
};

/** How the database is, as far as is known without asking it. */
export interface DbHealth {
  readonly ok: boolean;
  /** Since when it does not answer, ms since 1970; null: it does. */
  readonly sinceMs: number | null;
}

export interface Db extends Queryable {
  /** For `inTransaction` alone. */
  readonly connection: () => Promise<PoolConnection>;
  readonly health: () => DbHealth;
  /** Its connections: open, free of work, and how many wait for one. */
  readonly pool: () => { readonly open: number; readonly free: number; readonly waiting: number };
  readonly end: () => Promise<void>;
}

/** The database could not be asked now: too many wait for it, or it does not answer. Nothing was written. */
export class DatabaseBusy extends Error {
  override readonly name = 'DatabaseBusy';
}
/** The connection was lost while a transaction was being kept: whether it was kept is not known. */
export class OutcomeUnknown extends Error {
  override readonly name = 'OutcomeUnknown';
}

const SILENT = 'the database does not answer';
/** How long a connection is waited for, and a statement's answer, in ms. */
const WAIT_MS = 5000;
const ANSWER_MS = 10_000;
/** What the database itself gives up after: rows or tables that others hold for so long. Whole seconds, below that. */
const lockWaitS = (answerMs: number): number => Math.max(1, Math.floor(answerMs / 1250));
/** Once it does not answer, how often it is asked whether it does again; all others are refused at once meanwhile. */
const ASK_AGAIN_MS = 1000;
const CONNECTIONS = 8;
/** How often a transaction is done that the database gives up for another. */
const MOST_TRIES = 30;
/** Between two tries it waits up to so long times their number: those who want the same rows come apart. */
const APART_MS = 8;
const MOST_APART_MS = 120;
const comeApart = (tries: number): Promise<void> =>
  pause(Math.random() * Math.min(MOST_APART_MS, APART_MS * tries));
const MOST_WAITING = 400;

export interface DbLimits {
  readonly connections?: number;
  readonly waitMs?: number;
  readonly answerMs?: number;
}

/** Set while a transaction is open: whatever asks for another connection then would wait for itself. */
const open = new AsyncLocalStorage<{ over: boolean }>();

/** @throws inside a transaction: whoever needs another connection there could wait for itself for ever */
export function mustBeOutside(): void {
  if (open.getStore()?.over === false)
    throw new Error('inside a transaction only its own connection can be asked');
}

/** What is known of a piece of work's writing: whether something was kept, and whether that cannot be told. */
export interface Outcome {
  kept: boolean;
  unknown: boolean;
}
const outcomes = new AsyncLocalStorage<Outcome>();
/** Runs work, noting what it writes; the note is there even where the work fails. */
export const notingOutcome = <T>(outcome: Outcome, work: () => Promise<T>): Promise<T> =>
  outcomes.run(outcome, work);
function note(of: keyof Outcome): void {
  const outcome = outcomes.getStore();
  if (outcome) outcome[of] = true;
}

export const isLost = (error: unknown): boolean => error instanceof DatabaseBusy || isLostCode(error);
/** Whether what failed so may have been kept. */
const mayBeKept = (error: unknown): boolean => isLost(error) || isHalfWay(error);

/** Opens a pool. JSON columns come as text; times are UTC. No wait is without an end. */
export function openDb(config: DbConfig, limits: DbLimits = {}): Db {
  const { waitMs = WAIT_MS, answerMs = ANSWER_MS, connections = CONNECTIONS } = limits;
  const nodes = openNodes(config, {
    connectTimeout: waitMs,
    connectionLimit: connections,
    queueLimit: MOST_WAITING,
    lockWaitS: lockWaitS(answerMs),
  });
  let sinceMs: number | null = null;
  let askedMs = 0;

  /** A node does not answer: those after it are asked, where there are any. Of one that was left it says nothing. */
  const away = (node: NodePool) => {
    if (node !== nodes.inUse()) return;
    sinceMs ??= Date.now();
    nodes.moveOn(() => {
      sinceMs = null;
    });
  };

  nodes.watch(() => away(nodes.inUse()));

  const failed = (error: unknown): never => {
    if (isHeld(error)) throw new DatabaseBusy('others hold what this would change');
    if (!isLost(error)) throw error;
    throw error instanceof DatabaseBusy ? error : new DatabaseBusy(SILENT);
  };

  const bounded = (connection: PoolConnection, node: NodePool): PoolConnection =>
    withLimit(connection, answerMs, node.waiting, (error) => {
      if (isLost(error)) away(node);
      else if (node === nodes.inUse()) sinceMs = null;
    });

  /** A connection within the time, or a refusal; one that comes later is given back. */
  async function acquire(): Promise<PoolConnection> {
    mustBeOutside();
    if (sinceMs !== null) {
      if (Date.now() - askedMs < ASK_AGAIN_MS) throw new DatabaseBusy(SILENT);
      askedMs = Date.now();
    }
    const node = nodes.inUse();
    const coming = node.pool.getConnection();
    let over = false;
    let timer: ReturnType<typeof setTimeout> | undefined;
    const late = new Promise<never>((_resolve, reject) => {
      timer = setTimeout(() => {
        over = true;
        reject(new DatabaseBusy('too many wait for the database'));
      }, waitMs);
    });
    coming.then(
      (connection) => {
        if (over) connection.release();
      },
      () => undefined,
    );
    try {
      return bounded(await Promise.race([coming, late]), node);
    } catch (error) {
      // Waiting for others is no sign that the database does not answer.
      if (over) throw error;
      if (error instanceof Error && error.message === 'Queue limit reached.')
        throw new DatabaseBusy('too many wait for the database');
      // The node was left while this waited for a connection to it.
      if (error instanceof Error && error.message === 'Pool is closed.' && node !== nodes.inUse())
        throw new DatabaseBusy(SILENT);
      if (isLost(error)) away(node);
      return failed(error);
    } finally {
      clearTimeout(timer);
    }
  }

  const once =
    (name: 'query' | 'execute') =>
    async (...args: readonly unknown[]): Promise<unknown> => {
      let wasGivenUp = false;
      for (let tries = 1; ; tries += 1) {
        const connection = await acquire().catch((error: unknown) => {
          if (wasGivenUp) note('unknown');
          throw error;
        });
        try {
          const result = await (connection[name] as (...all: readonly unknown[]) => Promise<unknown>)(
            ...args,
          );
          connection.release();
          if (!isRead(args[0])) note('kept');
          return result;
        } catch (error) {
          giveBack(connection, error);
          if (mayBeKept(error) && !isRead(args[0])) note('unknown');
          // A statement by itself that the database gave up for another has changed nothing.
          if (!isConflict(error)) return failed(error);
          wasGivenUp ||= !isRead(args[0]);
          if (tries >= MOST_TRIES) throw new DatabaseBusy('others change the same again and again');
        }
        await comeApart(tries);
      }
    };

  return {
    query: once('query') as Queryable['query'],
    execute: once('execute') as Queryable['execute'],
    connection: acquire,
    health: () => ({ ok: sinceMs === null, sinceMs }),
    pool: () => {
      // The library tells its queues to nobody: they are looked at where they lie.
      const { pool: inner } = nodes.inUse().pool as unknown as {
        pool: Record<'_allConnections' | '_freeConnections' | '_connectionQueue', { length: number }>;
      };
      return {
        open: inner._allConnections.length,
        free: inner._freeConnections.length,
        waiting: inner._connectionQueue.length,
      };
    },
    end: () => nodes.end(),
  };
}

/** Opens a pool of the account that keeps call records: it may take a while to delete a month. */
export const openKeeper = (config: DbConfig): Db =>
  openDb(config.owner ? asKeeper(config) : config, { connections: 3, answerMs: 120_000 });

const isRead = (statement: unknown): boolean => /^\s*(?:SELECT|SHOW)\b/i.test(String(statement));

/** A connection that was lost or kept somebody waiting is not used again: an answer may still be under way on it. */
function giveBack(connection: PoolConnection, error: unknown): void {
  if (isLost(error)) connection.destroy();
  else connection.release();
}

/**
 * The connection, each statement of which is answered within the time or given up: sooner where its node is left
 * meanwhile because it answers nothing (`waiting`).
 */
function withLimit(
  connection: PoolConnection,
  answerMs: number,
  waiting: Set<() => void>,
  seen: (error: unknown) => void,
): PoolConnection {
  const LIMITED: readonly string[] = ['query', 'execute', 'beginTransaction', 'commit', 'rollback'];
  return new Proxy(connection, {
    get: (target, name) => {
      const value: unknown = Reflect.get(target, name);
      if (typeof value !== 'function') return value;
      const call = (value as (...args: unknown[]) => unknown).bind(target);
      if (!LIMITED.includes(String(name))) return call;
      return async (...args: unknown[]) => {
        let timer: ReturnType<typeof setTimeout> | undefined;
        let giveUp = () => {};
        const late = new Promise<never>((_resolve, reject) => {
          giveUp = () => reject(new DatabaseBusy(SILENT));
          waiting.add(giveUp);
          // A server that was busy by itself reads what has come meanwhile before it calls the database slow.
          timer = setTimeout(() => setImmediate(() => setImmediate(giveUp)), answerMs);
        });
        try {
          const asked = summaryOf(name === 'query' || name === 'execute' ? args[0] : String(name));
          const result = await traced(asked, { 'db.system.name': 'mariadb', 'db.query.summary': asked }, () =>
            Promise.race([call(...args) as Promise<unknown>, late]),
          );
          seen(null);
          return result;
        } catch (error) {
          seen(error);
          throw error;
        } finally {
          clearTimeout(timer);
          waiting.delete(giveUp);
        }
      };
    },
  });
}

/**
 * Runs work in one transaction: all of it is kept, or, if it throws, nothing. Inside it only its own connection can
 * be asked: whatever needs another is refused at once, as it could wait for ever. Where the database gives it up for
 * another that wanted the same rows the other way round, it is done again from the beginning.
 * @throws OutcomeUnknown where the connection is lost while the transaction is being kept
 */
export async function inTransaction<T>(db: Db, work: (tx: Tx) => Promise<T>): Promise<T> {
  // A node that is cut off while it keeps a transaction may give it up for another, and it was kept all the same: when
  // the next try does not come through either, nobody knows.
  const commit = { wasGivenUp: false };
  for (let tries = 1; ; tries += 1)
    try {
      const result = await within(db, (connection) => connection.beginTransaction(), work, commit);
      note('kept');
      return result;
    } catch (error) {
      if (commit.wasGivenUp && mayBeKept(error)) {
        note('unknown');
        throw new OutcomeUnknown('the node was cut off while this was being kept', { cause: error });
      }
      if (!isConflict(error)) throw error;
      if (tries >= MOST_TRIES) throw new DatabaseBusy('others change the same again and again');
      await comeApart(tries);
    }
}

/** Reads in one consistent snapshot, so that no change that is put live meanwhile is seen in part. */
export async function inSnapshot<T>(db: Db, read: (tx: Tx) => Promise<T>): Promise<T> {
  return within(
    db,
    async (connection) => {
      await connection.query('START TRANSACTION WITH CONSISTENT SNAPSHOT, READ ONLY');
    },
    read,
  );
}

async function within<T>(
  db: Db,
  begin: (connection: PoolConnection) => Promise<void>,
  work: (tx: Tx) => Promise<T>,
  commit: { wasGivenUp: boolean } = { wasGivenUp: false },
): Promise<T> {
  const connection = await db.connection();
  const state = { over: false, timeFixed: false };
  const letGo = async () => {
    if (state.timeFixed) await connection.query('SET @@timestamp = DEFAULT');
    connection.release();
  };
  let result: T;
  try {
    await begin(connection);
    const tx: Tx = {
      inTransaction: true,
      fixTime: async () => {
        state.timeFixed = true;
        await connection.query('SET @@timestamp = UNIX_TIMESTAMP(NOW(6))');
      },
      atTime: async (at) => {
        state.timeFixed = true;
        await (at === null
          ? connection.query('SET @@timestamp = DEFAULT')
          : connection.query('SET @@timestamp = ?', [at.getTime() / 1000]));
      },
      query: connection.query.bind(connection),
      execute: connection.execute.bind(connection),
    };
    result = await open.run(state, () => work(tx));
    state.over = true;
  } catch (error) {
    state.over = true;
    if (isLost(error)) {
      connection.destroy();
      throw error instanceof DatabaseBusy ? error : new DatabaseBusy(SILENT);
    }
    await connection
      .rollback()
      .then(letGo)
      .catch(() => connection.destroy());
    throw isHeld(error) ? new DatabaseBusy('others hold what this would change') : error;
  }
  try {
    await connection.commit();
  } catch (error) {
    connection.destroy();
    if (isConflict(error)) {
      commit.wasGivenUp = true;
      throw error;
    }
    // Whatever else it says, a node that is cut off may have handed this to the others before.
    note('unknown');
    throw new OutcomeUnknown('keeping this broke off, or the connection was lost meanwhile', {
      cause: error,
    });
  }
  await letGo().catch(() => connection.destroy());
  return result;
}

/** A JSON column's value. */
export const fromJson = <T>(text: string | null): T | undefined =>
  text === null ? undefined : (readKept(text) as T);
export const toJson = (value: unknown): string | null => (value === undefined ? null : JSON.stringify(value));
