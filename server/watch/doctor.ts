import { existsSync, statSync } from 'node:fs';
import { createServer } from 'node:net';
import { join, resolve } from 'node:path';
import type { Connection, RowDataPacket } from 'mysql2/promise';
import { unknownSettings } from '../base';
import { asOwner, readMigrations, rightsTooWide, UNDER_WAY, type DbConfig, connect, isCluster } from '../db';
import { keyFile, openKeyring } from '../secrets';
import { clockAlert, diskAlert } from './alerts';
import { collectorAt, NO_COLLECTOR, whyNotCollected } from './collector';

/** What was looked at, how it is, and what to do about it. */
export interface Checked {
  readonly what: string;
  readonly state: 'ok' | 'risk' | 'fault';
  readonly says: string;
}

type Env = Readonly<Record<string, string | undefined>>;
const ROOT = resolve(__dirname, '../..');
const LEAST_NODE = 20;
/** From this version on the database dumps the history of versioned tables. */
const LEAST_MARIADB = [10, 11] as const;

const ok = (what: string, says: string): Checked => ({ what, state: 'ok', says });
const risk = (what: string, says: string): Checked => ({ what, state: 'risk', says });
const fault = (what: string, says: string): Checked => ({ what, state: 'fault', says });

function versions(database: string): readonly Checked[] {
  const node = Number(process.versions.node.split('.')[0]);
  const [, major = '0', minor = '0'] = /^(\d+)\.(\d+)/.exec(database) ?? [];
  const isMaria = database.includes('MariaDB');
  const isNew =
    Number(major) > LEAST_MARIADB[0] ||
    (Number(major) === LEAST_MARIADB[0] && Number(minor) >= LEAST_MARIADB[1]);
  return [
    node >= LEAST_NODE
      ? ok('Node', process.versions.node)
      : fault('Node', `${process.versions.node}: version ${LEAST_NODE} or later is needed`),
    isMaria && isNew
      ? ok('Database', database)
      : fault('Database', `${database}: MariaDB ${LEAST_MARIADB.join('.')} or later is needed`),
  ];
}

async function migrations(db: Connection): Promise<Checked> {
  const what = 'Tables';
  const [half] = await db.query<RowDataPacket[]>('SHOW TABLES LIKE ?', [UNDER_WAY]);
  if (half.length > 0)
    return fault(what, 'a backup is being restored, or that was not finished: restore it again');
  const [there] = await db.query<RowDataPacket[]>("SHOW TABLES LIKE 'migration'");
  const ours = readMigrations();
  if (there.length === 0)
    return risk(what, `none yet: the first start makes them (${ours.length} migrations)`);
  const [rows] = await db.query<RowDataPacket[]>(
    'SELECT number, name, checksum FROM migration ORDER BY number',
  );
  const known = new Map(ours.map((each) => [each.number, each]));
  const foreign = rows.find(({ number }) => !known.has(Number(number)));
  if (foreign) return fault(what, `${foreign.name} is of a newer version of Hostler: run that one`);
  const changed = rows.find(({ number, checksum }) => known.get(Number(number))?.checksum !== checksum);
  if (changed) return fault(what, `${changed.name} is not as it was when it was done`);
  const owed = ours.length - rows.length;
  return owed === 0
    ? ok(what, `${rows.length} migrations, all done`)
    : risk(what, `${owed} migrations are done at the next start`);
}

async function rights(config: DbConfig): Promise<Checked> {
  const what = 'Rights in the database';
  const { owner: _owner, keeper: _keeper, ...own } = config;
  const connection = await connect(own);
  try {
    const wide = await rightsTooWide(connection, config.database);
    if (wide.length === 0) return ok(what, 'the application’s own account may do what it needs, and no more');
    const says = `the application’s own account may do more than it needs: ${wide.join('; ')}`;
    return config.owner ? fault(what, says) : risk(what, `${says}. Name another account as HOSTLER_DB_OWNER`);
  } finally {
    await connection.end();
  }
}

async function keys(db: Connection): Promise<Checked> {
  const what = 'Keys';
  const file = keyFile();
  const [there] = await db.query<RowDataPacket[]>("SHOW TABLES LIKE 'secret'");
  const [used] =
    there.length === 0
      ? [[]]
      : await db.query<RowDataPacket[]>('SELECT key_id FROM secret UNION SELECT key_id FROM sip_account');
  if (!existsSync(file))
    return used.length === 0
      ? risk(
          what,
          `${file} is not there yet: the first start makes it. Keep a copy of it, apart from backups`,
        )
      : fault(what, `${file} is not there, and the database holds secrets that only its keys open`);
  if ((statSync(file).mode & 0o077) !== 0)
    return fault(what, `${file} can be read by others on this machine: chmod 600`);
  const keyring = openKeyring(file);
  const missing = used.filter(({ key_id }) => !keyring.has(String(key_id)));
  return missing.length > 0
    ? fault(
        what,
        `${file} lacks ${missing.map(({ key_id }) => String(key_id)).join(', ')}, which secrets are sealed with`,
      )
    : ok(what, `${file} opens every secret`);
}

async function clock(db: Connection): Promise<Checked> {
  const before = Date.now();
  const [[row]] = await db.query<RowDataPacket[]>('SELECT UTC_TIMESTAMP(3) AS now');
  const ahead = (before + Date.now()) / 2 - (row!.now as Date).getTime();
  const alert = clockAlert(ahead);
  return alert ? fault('Clock', alert.says) : ok('Clock', 'as the database’s');
}

async function binlog(db: Connection): Promise<Checked> {
  const [[row]] = await db.query<RowDataPacket[]>('SELECT @@log_bin AS on_');
  return Number(row?.on_) === 1
    ? ok('Binary log', 'kept: a backup can be gone on from to any moment')
    : risk(
        'Binary log',
        'the database keeps none (log_bin): what was changed since the last backup could not be brought back',
      );
}

/** Below this a cluster cannot tell, when a node goes, which part of it goes on. */
const FEWEST_NODES = 3;
const reaches = (config: DbConfig): Promise<boolean> =>
  connect(config, { connectTimeout: 2000 }).then(
    (connection) => connection.end().then(() => true),
    () => false,
  );

/** How the nodes of a cluster are; null: the database is one server, as its settings say. */
async function cluster(db: Connection, config: DbConfig): Promise<Checked | null> {
  const what = 'Cluster';
  const { hosts = [] } = config;
  if (!(await isCluster(db)))
    return hosts.length > 1
      ? fault(
          what,
          'HOSTLER_DB_HOST names several servers, and they are no cluster: each would have its own data',
        )
      : null;
  const [rows] = await db.query<RowDataPacket[]>("SHOW STATUS LIKE 'wsrep_cluster_%'");
  const of = (name: string) => String(rows.find(({ Variable_name: each }) => each === name)?.Value ?? '');
  const size = Number(of('wsrep_cluster_size'));
  if (of('wsrep_cluster_status') !== 'Primary')
    return fault(what, 'the node that answers is cut off from the others, and takes no statements');
  const away = (
    await Promise.all(
      hosts.map(async ({ host, port: at }) =>
        (await reaches({ ...asOwner(config), hosts: undefined, host, port: at })) ? [] : [`${host}:${at}`],
      ),
    )
  ).flat();
  if (away.length > 0) return fault(what, `${size} nodes are together; ${away.join(', ')} cannot be reached`);
  if (hosts.length < size)
    return risk(
      what,
      `${size} nodes, and HOSTLER_DB_HOST names ${hosts.length || 1}: where that goes away the others are not asked`,
    );
  return size < FEWEST_NODES
    ? risk(what, `${size} nodes: when one is lost, the rest cannot tell whether it is the one cut off`)
    : ok(what, `${size} nodes, each can be reached`);
}

const RECORD_TRIGGERS = 2;
/** Whether the record is kept as it is from the owner of the tables too. */
async function record(db: Connection): Promise<Checked | null> {
  const [there] = await db.query<RowDataPacket[]>("SHOW TABLES LIKE 'record_entry'");
  if (there.length === 0) return null;
  const [[row]] = await db.query<RowDataPacket[]>(
    "SELECT COUNT(*) AS n FROM information_schema.triggers WHERE trigger_schema = DATABASE() AND event_object_table = 'record_entry'",
  );
  return Number(row?.n) >= RECORD_TRIGGERS
    ? ok('Record', 'cannot be altered, by the owner of the tables neither')
    : risk(
        'Record',
        'the database took no triggers (log_bin_trust_function_creators = 0): the application cannot alter the record, the owner of the tables could',
      );
}

const isFree = (port: number): Promise<boolean> =>
  new Promise((done) => {
    const probe = createServer();
    probe.once('error', () => done(false));
    probe.listen(port, '127.0.0.1', () => probe.close(() => done(true)));
  });

async function port(what: string, number: number, ours: string | null): Promise<Checked> {
  if (!Number.isInteger(number) || number < 0 || number > 65_535) return fault(what, `${number} is no port`);
  if (number === 0 || (await isFree(number))) return ok(what, number === 0 ? 'any' : `${number} is free`);
  const isOurs =
    ours !== null &&
    (await fetch(`http://127.0.0.1:${number}${ours}`, { signal: AbortSignal.timeout(2000) }).then(
      (answer) => answer.json().then((body: unknown) => (body as { live?: unknown }).live === true),
      () => false,
    ));
  return isOurs
    ? ok(what, `${number}: Hostler answers there`)
    : fault(what, `${number} is in use by something else`);
}

function proxy(env: Env): Checked {
  const what = 'Proxy';
  const { HOSTLER_HOSTNAME: name, HOSTLER_BEHIND_PROXY: behind, HOSTLER_SECURE_COOKIE: secure } = env;
  if (name === undefined && behind !== '1')
    return ok(what, 'none: the application is reached from this machine only');
  if (name === undefined)
    return fault(what, 'HOSTLER_BEHIND_PROXY is set, and HOSTLER_HOSTNAME does not say under which name');
  if (behind !== '1')
    return risk(
      what,
      'HOSTLER_HOSTNAME is set without HOSTLER_BEHIND_PROXY=1: wrong passwords count for the proxy and not for who tries them',
    );
  return secure === '1'
    ? ok(what, `called as ${name}`)
    : risk(what, 'HOSTLER_SECURE_COOKIE=1 is not set: the session’s cookie would go over plain HTTP too');
}

async function traces({ HOSTLER_TRACES_URL: text }: Env): Promise<readonly Checked[]> {
  const what = 'Traces';
  if (text === undefined || text === '') return [];
  const url = collectorAt(text);
  if (!url) return [fault(what, NO_COLLECTOR)];
  const why = await whyNotCollected(url);
  return [why === null ? ok(what, `${url.host} takes them`) : risk(what, why)];
}

/** Looks at all that a server needs before it is started, or while it runs. Nothing is changed. */
export async function examine(config: DbConfig, env: Env = process.env): Promise<readonly Checked[]> {
  const main = Number(env.HOSTLER_PORT ?? 4680);
  const found: Checked[] = [
    ...unknownSettings(env).map(({ name, meant }) =>
      fault('Settings', `${name} is no setting${meant ? `: ${meant} may be meant` : ''}`),
    ),
    existsSync(join(ROOT, 'dist/index.html'))
      ? ok('Build', 'dist is there')
      : risk('Build', 'dist is not there: npm start builds it'),
    await port('Port', main, '/api/health/live'),
    await port('Port of phones’ settings', Number(env.HOSTLER_TLS_PORT ?? main + 1), null).then((each) =>
      // A server of ours that runs has it too.
      each.state === 'fault' && each.says.includes('in use')
        ? risk(each.what, `${each.says}, or by a server of ours`)
        : each,
    ),
    proxy(env),
    ...(await traces(env)),
  ];
  const disk = await diskAlert(env.HOSTLER_SPOOL ?? join(ROOT, 'var'));
  found.push(
    disk ? { what: 'Disk', state: disk.weight, says: disk.says } : ok('Disk', 'more than a tenth is free'),
  );
  let db: Connection;
  try {
    db = await connect(asOwner(config), { timezone: 'Z' });
  } catch (error) {
    const { code = 'error', sqlMessage } = error as { code?: string; sqlMessage?: string };
    return [
      ...found,
      fault('Database', `it cannot be reached (${code})${sqlMessage ? `: ${sqlMessage}` : ''}`),
    ];
  }
  try {
    const [[row]] = await db.query<RowDataPacket[]>('SELECT VERSION() AS version');
    found.push(...versions(String(row?.version)));
    for (const look of [
      migrations,
      keys,
      clock,
      binlog,
      record,
      (each: Connection) => cluster(each, config),
    ]) {
      const said = await look(db);
      if (said) found.push(said);
    }
    found.push(await rights(config));
  } finally {
    await db.end();
  }
  return found;
}
