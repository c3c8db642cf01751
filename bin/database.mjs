// The project's own MariaDB: Debian's package, a data folder below var/, reached by a socket in a folder that only its
// owner can enter, run as a user that is not root.
import { spawn, spawnSync } from 'node:child_process';
import { randomBytes } from 'node:crypto';
import {
  chmodSync,
  existsSync,
  mkdirSync,
  mkdtempSync,
  openSync,
  readFileSync,
  renameSync,
  rmSync,
  statfsSync,
  writeFileSync,
} from 'node:fs';
import { freemem, tmpdir } from 'node:os';
import { join } from 'node:path';
import { ensureDebian, say, varFolder } from './steps.mjs';

const SERVER = '/usr/sbin/mariadbd';
const INSTALL = '/usr/bin/mariadb-install-db';
const READY_WITHIN_MS = 60_000;
const STOP_WITHIN_MS = 30_000;
/** The longest path of a socket that the system takes. */
const SOCKET_PATH = 100;

const isAlive = (pid) => {
  try {
    process.kill(pid, 0);
    return true;
  } catch (error) {
    return error.code === 'EPERM';
  }
};

const numberIn = (file) => (existsSync(file) ? Number(readFileSync(file, 'utf8').trim()) || null : null);
const pause = (ms) => new Promise((resolve) => setTimeout(resolve, ms));
const newSecret = () => randomBytes(18).toString('base64url');

/** Writes a file whole or not at all, for its owner only. */
function writeWhole(file, text) {
  writeFileSync(`${file}.new`, text, { mode: 0o600 });
  renameSync(`${file}.new`, file);
}

/** The user to run the server as: not root, if root started us and that user can reach the folder. */
function serverUser(folder) {
  if (process.getuid?.() !== 0) return null;
  if (spawnSync('id', ['-u', 'mysql'], { stdio: 'ignore' }).status !== 0) return 'root';
  spawnSync('chown', ['-R', 'mysql:', folder]);
  const reaches =
    spawnSync('runuser', ['-u', 'mysql', '--', 'test', '-w', folder], { stdio: 'ignore' }).status === 0;
  return reaches ? 'mysql' : 'root';
}

/** Which rows are of accounts that are meant to be there. */
const isOurs = (...users) =>
  `(User = 'mariadb.sys' OR (Host = 'localhost' AND User IN ('root', ${users.map((user) => `'${user}'`).join(', ')})))`;

/**
 * What the server does before it takes anybody in: whatever accounts there were are gone, and those that are needed
 * are made. `root` comes in over the socket only, as the system's own root; the owner makes tables; the application
 * reads and writes what it is granted of them; the keeper writes call records and deletes them. What accounts there
 * are then is kept for a look.
 */
const accountsSql = ({ owner, keeper, user, password, database }) =>
  [
    `CREATE DATABASE IF NOT EXISTS ${database} CHARACTER SET utf8mb4 COLLATE utf8mb4_bin`,
    'DROP DATABASE IF EXISTS test',
    // What the application was granted of each table stays: the server may be running while the database starts again.
    `DELETE FROM mysql.global_priv WHERE NOT ${isOurs(user, owner.user, keeper.user)}`,
    ...['tables_priv', 'columns_priv', 'procs_priv', 'proxies_priv', 'roles_mapping'].map(
      (table) => `DELETE FROM mysql.${table} WHERE NOT ${isOurs(user, owner.user, keeper.user)}`,
    ),
    "DELETE FROM mysql.db WHERE User <> 'mariadb.sys'",
    'DELETE FROM mysql.tables_priv WHERE Db NOT IN (SELECT schema_name FROM information_schema.schemata)',
    `UPDATE mysql.global_priv SET Priv = JSON_SET(Priv, '$.access', 0) WHERE User IN ('${user}', '${keeper.user}')`,
    'FLUSH PRIVILEGES',
    'CREATE USER IF NOT EXISTS root@localhost',
    'ALTER USER root@localhost IDENTIFIED VIA unix_socket',
    'GRANT ALL ON *.* TO root@localhost WITH GRANT OPTION',
    `CREATE USER IF NOT EXISTS ${owner.user}@localhost`,
    `ALTER USER ${owner.user}@localhost IDENTIFIED BY '${owner.password}'`,
    `GRANT ALL ON \`${database}%\`.* TO ${owner.user}@localhost WITH GRANT OPTION`,
    `CREATE USER IF NOT EXISTS ${user}@localhost`,
    `ALTER USER ${user}@localhost IDENTIFIED BY '${password}'`,
    `CREATE USER IF NOT EXISTS ${keeper.user}@localhost`,
    `ALTER USER ${keeper.user}@localhost IDENTIFIED BY '${keeper.password}'`,
    'CREATE DATABASE IF NOT EXISTS account_check',
    'DROP TABLE IF EXISTS account_check.account',
    `CREATE TABLE account_check.account ENGINE=InnoDB AS SELECT User AS user, Host AS host, ` +
      `JSON_VALUE(Priv, '$.plugin') AS plugin, COALESCE(JSON_VALUE(Priv, '$.authentication_string'), '') <> '' AS has_secret, ` +
      `COALESCE(JSON_VALUE(Priv, '$.account_locked'), '') IN ('1', 'true') AS is_locked FROM mysql.global_priv`,
    `GRANT SELECT ON account_check.* TO ${owner.user}@localhost`,
  ]
    .map((statement) => `${statement};\n`)
    .join('');

/** Whoever could come in without a secret; each as `user@host`. */
export const openAccounts = (rows) =>
  rows
    .filter(({ plugin, has_secret, is_locked }) => plugin !== 'unix_socket' && !has_secret && !is_locked)
    .map(({ user, host }) => `${user || '(anybody)'}@${host}`);

async function checkAccounts(mysql, config) {
  const { owner, socketPath } = config;
  const connection = await mysql.createConnection({ socketPath, user: owner.user, password: owner.password });
  try {
    const [rows] = await connection.query('SELECT * FROM account_check.account');
    const open = openAccounts(rows);
    if (rows.length === 0 || open.length > 0)
      throw new Error(`accounts of the database need no password: ${open.join(', ') || 'none were listed'}`);
    const [[own]] = await connection.query("SHOW VARIABLES LIKE 'skip_networking'");
    if (own.Value !== 'ON') throw new Error('the database listens on the network');
  } finally {
    await connection.end();
  }
}

async function connected(mysql, options, failed) {
  const until = Date.now() + READY_WITHIN_MS;
  for (;;) {
    try {
      const connection = await Promise.race([mysql.createConnection(options), failed]);
      await connection.end();
      return;
    } catch (error) {
      if (error.isEnd || error.code === 'ER_ACCESS_DENIED_ERROR' || Date.now() > until) throw error;
      await pause(100);
    }
  }
}

/** Makes the data folder beside its place and moves it there whole: one that is half made is never taken for one. */
function makeData(folder, data, asUser) {
  const beside = `${data}.new`;
  rmSync(beside, { recursive: true, force: true });
  const made = spawnSync(
    INSTALL,
    [
      '--no-defaults',
      `--datadir=${beside}`,
      '--auth-root-authentication-method=socket',
      '--skip-test-db',
      ...asUser,
    ],
    { encoding: 'utf8' },
  );
  if (made.status !== 0) throw new Error(`the database could not be made: ${made.stderr || made.stdout}`);
  // A folder from a set-up that was ended half way has no system tables.
  rmSync(data, { recursive: true, force: true });
  renameSync(beside, data);
}

/** Where files are in memory, and how much of it has to be free for the tests, bytes. */
const MEMORY = '/dev/shm';
const MEMORY_NEEDED = 4 * 2 ** 30;

/**
 * Where the data lie: below var/; those of the tests in memory, if there is room, where a new database takes a quarter
 * of the time. Theirs are gone when they end.
 */
function folderOf(name, before, inMemory) {
  const own = join(varFolder, name);
  if (!inMemory) return own;
  const last = before?.folder;
  if (last !== undefined && existsSync(last)) {
    const running = numberIn(join(last, 'mariadbd.pid'));
    if (running && isAlive(running)) return last;
    if (last.startsWith(`${MEMORY}/hostler-`)) rmSync(last, { recursive: true, force: true });
  }
  try {
    const { bavail, bsize } = statfsSync(MEMORY);
    if (Math.min(bavail * bsize, freemem()) < MEMORY_NEEDED) return own;
    return mkdtempSync(join(MEMORY, 'hostler-'));
  } catch {
    return own;
  }
}

/**
 * Starts the database, or joins the one that a start before left running.
 * @param name of the folder below var/ that holds it
 * @param inMemory its data need not outlast it, and lie in memory where there is room
 * @returns how to connect to it; `ended` says when it ends without being asked (an outside one, named by
 *   HOSTLER_DB_HOST or HOSTLER_DB_SOCKET, never does); `stop` asks it to end
 * @throws where it does not come up
 */
export async function startDatabase(name = 'database', { inMemory = false } = {}) {
  const outside = process.env.HOSTLER_DB_HOST ?? process.env.HOSTLER_DB_SOCKET;
  if (outside) {
    say(`database: the MariaDB at ${outside}`);
    return { config: null, ended: new Promise(() => {}), stop: async () => {} };
  }
  ensureDebian(SERVER, 'mariadb-server');
  const { default: mysql } = await import('mysql2/promise');
  const configFile = join(varFolder, `${name}.json`);
  const before = existsSync(configFile) ? JSON.parse(readFileSync(configFile, 'utf8')) : null;
  const folder = folderOf(name, before, inMemory);
  const data = join(folder, 'data');
  const ownerFile = join(varFolder, `${name}.owner`);
  const pidFile = join(folder, 'mariadbd.pid');

  /** Ends the server; what lies in memory is gone with it. */
  const stopHere = async (pid) => {
    await stopDatabase(pid, ownerFile);
    if (folder.startsWith(`${MEMORY}/`)) rmSync(folder, { recursive: true, force: true });
  };

  const starter = numberIn(ownerFile);
  const isShared = starter !== null && starter !== process.pid && isAlive(starter);
  const running = numberIn(pidFile);
  if (running && isAlive(running)) {
    const joined =
      before?.socketPath !== undefined &&
      (await checkAccounts(mysql, before).then(
        () => true,
        () => false,
      ));
    if (joined) {
      say(`database: running already at ${before.socketPath}`);
      if (!isShared) writeFileSync(ownerFile, String(process.pid));
      return {
        config: before,
        ended: gone(running),
        stop: isShared ? async () => {} : () => stopHere(running),
      };
    }
    // One of an older version, which listened on the network, or one that does not answer.
    await stopDatabase(running, ownerFile);
    if (isAlive(running)) throw new Error(`process ${running} holds ${folder} and does not end`);
  }

  mkdirSync(folder, { recursive: true });
  chmodSync(folder, 0o700);
  const user = serverUser(folder);
  const asUser = user ? [`--user=${user}`] : [];
  if (!existsSync(join(data, 'mysql', 'global_priv.frm'))) {
    say(`database: making a new one in ${folder}`);
    makeData(folder, data, asUser);
  }
  const temporary = join(folder, 'tmp');
  rmSync(temporary, { recursive: true, force: true });
  mkdirSync(temporary);
  const socketPath =
    join(folder, 'd.sock').length < SOCKET_PATH
      ? join(folder, 'd.sock')
      : join(mkdtempSync(join(tmpdir(), 'hostler-')), 'd.sock');
  const config = {
    folder,
    socketPath,
    user: 'hostler',
    password: before?.password ?? newSecret(),
    database: 'hostler',
    owner: before?.owner ?? { user: 'hostler_owner', password: newSecret() },
    keeper: before?.keeper ?? { user: 'hostler_keeper', password: newSecret() },
  };
  writeWhole(configFile, JSON.stringify(config));
  const initFile = join(folder, 'accounts.sql');
  writeFileSync(initFile, accountsSql(config), { mode: 0o600 });
  if (user) {
    spawnSync('chown', ['-R', `${user}:`, folder]);
    if (!socketPath.startsWith(folder)) spawnSync('chown', [`${user}:`, join(socketPath, '..')]);
  }
  say(`database: starting MariaDB at ${socketPath}${user && user !== 'root' ? ` as ${user}` : ''}`);
  const log = openSync(join(folder, 'mariadbd.log'), 'a');
  const server = spawn(
    SERVER,
    [
      '--no-defaults',
      `--datadir=${data}`,
      `--tmpdir=${temporary}`,
      `--socket=${socketPath}`,
      '--skip-networking',
      `--init-file=${initFile}`,
      `--pid-file=${pidFile}`,
      '--character-set-server=utf8mb4',
      '--collation-server=utf8mb4_bin',
      '--default-time-zone=+00:00',
      '--max-allowed-packet=64M',
      '--skip-log-bin',
      '--innodb-buffer-pool-size=256M',
      // What tests write need not outlive the machine; a server that is killed keeps it all the same.
      ...(name !== 'database'
        ? ['--innodb-flush-log-at-trx-commit=2', '--skip-innodb-doublewrite', '--innodb-flush-method=nosync']
        : []),
      ...asUser,
    ],
    { stdio: ['ignore', log, log], detached: true },
  );
  server.unref();
  const ended = new Promise((resolve) => server.once('exit', (code, signal) => resolve(signal ?? code)));
  const failed = ended.then((code) => {
    throw Object.assign(new Error(`MariaDB ended with ${code}; see ${folder}/mariadbd.log`), {
      isEnd: true,
    });
  });
  failed.catch(() => {});
  writeFileSync(ownerFile, String(process.pid));
  const stop = () => stopHere(server.pid);
  try {
    const { owner } = config;
    await connected(mysql, { socketPath, user: owner.user, password: owner.password }, failed);
    await checkAccounts(mysql, config);
    rmSync(initFile, { force: true });
    return { config, ended, stop };
  } catch (error) {
    await stop();
    throw new Error(`the database did not start: ${error.message}`);
  }
}

/** Resolves once a process that is not ours has ended. */
const gone = (pid) =>
  new Promise((resolve) => {
    const timer = setInterval(() => {
      if (isAlive(pid)) return;
      clearInterval(timer);
      resolve('its end');
    }, 500);
    timer.unref();
  });

/** Asks MariaDB to end and waits until it has, at most 30 s. */
async function stopDatabase(pid, ownerFile) {
  try {
    process.kill(pid, 'SIGTERM');
  } catch {
    return;
  }
  for (let waited = 0; waited < STOP_WITHIN_MS && isAlive(pid); waited += 100) await pause(100);
  rmSync(ownerFile, { force: true });
}

/** The environment that tells a process of ours which database to use. */
export const databaseEnv = (config) =>
  config === null
    ? {}
    : {
        HOSTLER_DB_SOCKET: config.socketPath,
        HOSTLER_DB_USER: config.user,
        HOSTLER_DB_PASSWORD: config.password,
        HOSTLER_DB_NAME: config.database,
        HOSTLER_DB_OWNER: config.owner.user,
        HOSTLER_DB_OWNER_PASSWORD: config.owner.password,
        ...(config.keeper
          ? { HOSTLER_DB_KEEPER: config.keeper.user, HOSTLER_DB_KEEPER_PASSWORD: config.keeper.password }
          : {}),
      };
