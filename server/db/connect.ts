import mysql, { type Connection, type ConnectionOptions, type RowDataPacket } from 'mysql2/promise';
import type { DbConfig, DbHost } from './config';

/** How long a node is waited for before the next one is asked, in ms. */
const NODE_WAIT_MS = 3000;

/** A database, or only its server. */
type Reached = Omit<DbConfig, 'database'> & { readonly database?: string };

/** The nodes of a database, in the order in which they are asked; of one server, that. */
export const nodesOf = ({ hosts, host, port }: Reached): readonly (DbHost | null)[] =>
  hosts ?? [host === undefined ? null : { host, port: port ?? 3306 }];

/** How the library reaches one node as the account of a configuration. */
export function optionsOf(config: Reached, node: DbHost | null): ConnectionOptions {
  const { hosts: _hosts, owner: _owner, keeper: _keeper, ...one } = config;
  return { ...one, ...(node ?? {}) };
}

/** Whether a connection is to a node of a Galera cluster. */
export async function isCluster(connection: Pick<Connection, 'query'>): Promise<boolean> {
  const [[row]] = await connection.query<RowDataPacket[]>("SHOW VARIABLES LIKE 'wsrep_on'");
  return row?.Value === 'ON';
}

/** Whether a node takes statements now: one that is cut off from its cluster, or catches up, does not. */
export async function isReady(connection: Pick<Connection, 'query'>): Promise<boolean> {
  const [[row]] = await connection.query<RowDataPacket[]>("SHOW STATUS LIKE 'wsrep_ready'");
  // Of a server that is in no cluster it says OFF as well.
  return row?.Value !== 'OFF' || !(await isCluster(connection));
}

/**
 * A connection to the first node that takes statements.
 * @throws what the last of them said
 */
export async function connect(config: Reached, more: ConnectionOptions = {}): Promise<Connection> {
  const nodes = nodesOf(config);
  let last: unknown = null;
  for (const node of nodes)
    try {
      const connection = await mysql.createConnection({
        ...optionsOf(config, node),
        ...(nodes.length > 1 ? { connectTimeout: NODE_WAIT_MS } : {}),
        ...more,
      });
      if (nodes.length === 1 || (await isReady(connection))) return connection;
      connection.destroy();
      last = new Error('no node of the cluster takes statements');
    } catch (error) {
      last = error;
    }
  throw last as Error;
}
