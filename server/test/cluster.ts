import { spawn, spawnSync, type ChildProcess } from 'node:child_process';
import { existsSync, mkdirSync, mkdtempSync, rmSync } from 'node:fs';
import { createServer, type AddressInfo } from 'node:net';
import { tmpdir, userInfo } from 'node:os';
import { join } from 'node:path';
import mysql, { type Connection, type RowDataPacket } from 'mysql2/promise';
import type { DbConfig } from '../db';

const PROVIDERS = ['/usr/lib/galera/libgalera_smm.so', '/usr/lib/libgalera_smm.so'];
/** Debian's Galera; null: it is not here. */
export const GALERA = PROVIDERS.find((each) => existsSync(each)) ?? null;
/** Where the tests run as root the nodes do not: what brings a node up to date refuses to work as root. */
const AS_MYSQL = process.getuid?.() === 0;
const TRIES = 1200;

interface Node {
  readonly folder: string;
  readonly port: number;
  readonly group: number;
  readonly transfer: number;
  child: ChildProcess | null;
}

/** Three nodes of a Galera cluster on loopback, below a folder of their own. */
export interface Cluster {
  readonly nodes: number;
  /** As the application reaches it. @param first the node that is asked first */
  readonly config: (first: number) => DbConfig;
  /** A connection of the administrator to one node. */
  readonly root: (node: number) => Promise<Connection>;
  readonly start: (node: number) => Promise<void>;
  readonly kill: (node: number) => Promise<void>;
  /** Stops a node where it is, or lets it go on: it neither answers nor is gone. */
  readonly hang: (node: number, hangs: boolean) => void;
  readonly stop: () => Promise<void>;
}

/** Ports that are free now: each stays taken until all are known. */
async function freePorts(count: number): Promise<readonly number[]> {
  const servers = await Promise.all(
    Array.from(
      { length: count },
      () =>
        new Promise<ReturnType<typeof createServer>>((done, failed) => {
          const server = createServer();
          server.once('error', failed);
          server.listen(0, '127.0.0.1', () => done(server));
        }),
    ),
  );
  const ports = servers.map((server) => (server.address() as AddressInfo).port);
  await Promise.all(servers.map((server) => new Promise((done) => server.close(done))));
  return ports;
}

const ACCOUNTS = [
  'CREATE DATABASE hostler CHARACTER SET utf8mb4 COLLATE utf8mb4_bin',
  "CREATE USER hostler_owner@'127.0.0.1' IDENTIFIED BY 'o'",
  "GRANT ALL ON `hostler%`.* TO hostler_owner@'127.0.0.1' WITH GRANT OPTION",
  "CREATE USER hostler@'127.0.0.1' IDENTIFIED BY 'a'",
  "CREATE USER hostler_keeper@'127.0.0.1' IDENTIFIED BY 'k'",
];

/** Starts a cluster, with the accounts that the application needs and an empty database. */
export async function startCluster(nodes = 3): Promise<Cluster> {
  const folder = mkdtempSync(join(tmpdir(), 'hostler-cluster-'));
  const ports = await freePorts(nodes * 4);
  const all = Array.from({ length: nodes }, (_, n): Node => {
    const [port, group, , transfer] = ports.slice(n * 4) as [number, number, number, number];
    return { folder: join(folder, String(n)), port, group, transfer, child: null };
  });
  const socketOf = (node: number) => join(all[node]!.folder, 's');
  const root = (node: number) =>
    mysql.createConnection({ socketPath: socketOf(node), user: userInfo().username, timezone: 'Z' });

  const spawned = (n: number, isFirst: boolean): ChildProcess => {
    const { folder: own, port, group, transfer } = all[n]!;
    const receives = ports[n * 4 + 2]!;
    const [command, ...before] = AS_MYSQL
      ? ['runuser', '-u', 'mysql', '--', '/usr/sbin/mariadbd']
      : ['/usr/sbin/mariadbd'];
    return spawn(
      command!,
      [
        ...before,
        '--no-defaults',
        `--datadir=${join(own, 'data')}`,
        `--socket=${socketOf(n)}`,
        `--pid-file=${join(own, 'pid')}`,
        `--log-error=${join(own, 'log.err')}`,
        `--port=${port}`,
        '--bind-address=127.0.0.1',
        '--skip-name-resolve',
        '--innodb-buffer-pool-size=48M',
        '--innodb-autoinc-lock-mode=2',
        '--binlog-format=ROW',
        '--wsrep-on=ON',
        `--wsrep-provider=${GALERA}`,
        '--wsrep-cluster-name=hostler-test',
        `--wsrep-cluster-address=gcomm://${isFirst ? '' : all.map((each) => `127.0.0.1:${each.group}`).join(',')}`,
        `--wsrep-node-name=n${n}`,
        `--wsrep-node-address=127.0.0.1:${group}`,
        `--wsrep-provider-options=gmcast.listen_addr=tcp://127.0.0.1:${group};ist.recv_addr=127.0.0.1:${receives};evs.keepalive_period=PT0.5S;evs.suspect_timeout=PT2S;evs.inactive_timeout=PT4S;gcache.size=16M`,
        '--wsrep-sst-method=rsync',
        `--wsrep-sst-receive-address=127.0.0.1:${transfer}`,
      ],
      // A group of its own: what it starts to bring a node up to date ends with it.
      { stdio: 'ignore', detached: true },
    );
  };
  async function start(n: number, isFirst = false): Promise<void> {
    const child = spawned(n, isFirst);
    all[n]!.child = child;
    for (let tries = 0; ; tries += 1)
      try {
        const connection = await root(n);
        try {
          const [[row]] = await connection.query<RowDataPacket[]>(
            "SHOW STATUS LIKE 'wsrep_local_state_comment'",
          );
          if (row?.Value === 'Synced') return;
          throw new Error(`node ${n} is ${row?.Value}`);
        } finally {
          connection.destroy();
        }
      } catch (error) {
        if (tries >= TRIES || child.exitCode !== null) throw error;
        await new Promise((next) => setTimeout(next, 50));
      }
  }
  async function kill(n: number): Promise<void> {
    const { child } = all[n]!;
    if (!child?.pid || child.exitCode !== null || child.signalCode !== null) return;
    const ended = new Promise((done) => child.once('exit', done));
    process.kill(-child.pid, 'SIGKILL');
    await ended;
  }
  const cluster: Cluster = {
    nodes,
    root,
    start: (n) => start(n),
    kill,
    hang: (n, hangs) => {
      const { child } = all[n]!;
      if (child?.pid) process.kill(-child.pid, hangs ? 'SIGSTOP' : 'SIGCONT');
    },
    config: (first) => {
      const hosts = all.map((_, n) => ({ host: '127.0.0.1', port: all[(first + n) % nodes]!.port }));
      return {
        ...hosts[0]!,
        hosts,
        user: 'hostler',
        password: 'a',
        database: 'hostler',
        owner: { user: 'hostler_owner', password: 'o' },
        keeper: { user: 'hostler_keeper', password: 'k' },
      };
    },
    stop: async () => {
      await Promise.all(all.map((_, n) => kill(n)));
      rmSync(folder, { recursive: true, force: true });
    },
  };
  try {
    for (const { folder: own } of all) mkdirSync(join(own, 'data'), { recursive: true });
    if (AS_MYSQL) spawnSync('chown', ['-R', 'mysql:', folder]);
    const made = spawnSync(
      'mariadb-install-db',
      [
        '--no-defaults',
        `--datadir=${join(all[0]!.folder, 'data')}`,
        '--auth-root-authentication-method=socket',
        `--auth-root-socket-user=${userInfo().username}`,
        '--skip-test-db',
        ...(AS_MYSQL ? ['--user=mysql'] : []),
      ],
      { encoding: 'utf8' },
    );
    if (made.status !== 0) throw new Error(made.stderr || made.stdout);
    await start(0, true);
    for (let n = 1; n < nodes; n += 1) await start(n);
    const admin = await root(0);
    for (const statement of ACCOUNTS) await admin.query(statement);
    await admin.end();
    return cluster;
  } catch (error) {
    await cluster.stop();
    throw error;
  }
}
