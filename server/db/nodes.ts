import mysql, { type Connection, type Pool, type PoolOptions } from 'mysql2/promise';
import type { DbConfig } from './config';
import { isReady, nodesOf, optionsOf } from './connect';

const POOL: PoolOptions = {
  timezone: 'Z',
  charset: 'utf8mb4',
  supportBigNumbers: true,
  jsonStrings: true,
  waitForConnections: true,
};
/** How long a node is waited for that is asked whether it can take over, and how often all of them are, in ms. */
const ASK_NODE_MS = 2000;
const ASK_AGAIN_MS = 500;
/** How often the node in use is asked whether it is well, and how often it must fail in a row to be left, in ms. */
const ASK_WELL_MS = 1000;
const MOST_SILENT = 2;

/** What is opened to each node. */
interface NodeOptions {
  readonly connectTimeout: number;
  readonly connectionLimit: number;
  readonly queueLimit: number;
  /** What the database itself gives up after: rows or tables that others hold for so long. */
  readonly lockWaitS: number;
}

/** What is opened to a node. */
export interface NodePool {
  readonly pool: Pool;
  /** What is done for each statement that waits when the node was left because it answers nothing. */
  readonly waiting: Set<() => void>;
}

/** Pools of the nodes of a database: one is in use, and the others take over when it goes away. */
export interface Nodes {
  readonly inUse: () => NodePool;
  /** Looks for a node that takes statements, the one in use last. Once one is found it is the one in use. */
  readonly moveOn: (found: () => void) => void;
  /** Asks the node in use now and then, and tells of one that hangs without waiting for a statement to fail. */
  readonly watch: (away: () => void) => void;
  readonly end: () => Promise<void>;
}

/**
 * A statement on a node of a cluster sees what was kept through any other before it was asked: reads, updates,
 * deletes and inserts wait until the node has come that far. Without a cluster this says nothing.
 */
const AS_OF_NOW = 'SET SESSION wsrep_sync_wait = 7';

export function openNodes(config: DbConfig, { lockWaitS, ...options }: NodeOptions): Nodes {
  const nodes = nodesOf(config);
  const open = (at: number): NodePool => {
    const pool = mysql.createPool({ ...optionsOf(config, nodes[at]!), ...POOL, ...options });
    pool.on('connection', (connection) => {
      // What the library hands over here is its connection with callbacks. Somebody must hear the answers: a server
      // without clusters may not know the word, and a node that is cut off refuses all of them.
      const raw = connection as unknown as { query: (sql: string, heard: () => void) => void };
      raw.query(
        `SET SESSION innodb_lock_wait_timeout = ${lockWaitS}, SESSION lock_wait_timeout = ${lockWaitS}`,
        () => undefined,
      );
      raw.query(AS_OF_NOW, () => undefined);
    });
    return { pool, waiting: new Set() };
  };
  let at = 0;
  let inUse = open(at);
  let asking: Promise<void> | null = null;
  let isOver = false;

  async function answers(node: number): Promise<boolean> {
    let connection: Connection | null = null;
    let timer: ReturnType<typeof setTimeout> | undefined;
    const late = new Promise<boolean>((resolve) => {
      // A process that was busy by itself reads what has come meanwhile before it calls a node slow.
      timer = setTimeout(() => setImmediate(() => setImmediate(() => resolve(false))), ASK_NODE_MS);
    });
    const asked = async (): Promise<boolean> => {
      connection = await mysql.createConnection({
        ...optionsOf(config, nodes[node]!),
        connectTimeout: 2 * ASK_NODE_MS,
      });
      return isReady(connection);
    };
    try {
      return await Promise.race([asked().catch(() => false), late]);
    } finally {
      clearTimeout(timer);
      (connection as Connection | null)?.destroy();
    }
  }
  /** Whatever still waits at a node that was left is given up, if that node answers nothing. */
  async function leave({ waiting }: NodePool, node: number): Promise<void> {
    if (waiting.size > 0 && !(await answers(node))) for (const giveUp of waiting) giveUp();
  }
  async function look(): Promise<void> {
    while (!isOver) {
      for (let step = 1; step <= nodes.length && !isOver; step += 1) {
        const next = (at + step) % nodes.length;
        if (!(await answers(next))) continue;
        if (next !== at) {
          const [before, wasAt] = [inUse, at];
          at = next;
          inUse = open(at);
          // What is still asked there is answered or fails; nobody waits for it.
          void before.pool.end().catch(() => undefined);
          void leave(before, wasAt);
        }
        return;
      }
      await new Promise((resolve) => setTimeout(resolve, ASK_AGAIN_MS));
    }
  }
  let watching: ReturnType<typeof setInterval> | undefined;
  return {
    inUse: () => inUse,
    watch: (away) => {
      if (nodes.length < 2) return;
      let silent = 0;
      let isAsked = false;
      watching = setInterval(() => {
        if (isAsked || asking) return;
        isAsked = true;
        const asked = at;
        void answers(asked).then((well) => {
          isAsked = false;
          // What was asked of one that was left meanwhile says nothing of the one in use.
          silent = well || asked !== at ? 0 : silent + 1;
          if (silent < MOST_SILENT || isOver) return;
          silent = 0;
          away();
        });
      }, ASK_WELL_MS);
    },
    moveOn: (found) => {
      if (nodes.length < 2 || asking) return;
      asking = look()
        .then(() => {
          if (!isOver) found();
        })
        .catch(() => undefined)
        .finally(() => {
          asking = null;
        });
    },
    end: async () => {
      isOver = true;
      clearInterval(watching);
      await inUse.pool.end();
    },
  };
}
