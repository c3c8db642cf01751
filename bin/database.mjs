// The project's own MariaDB: Debian's package, a data folder below var/, on loopback, as a user that is not root.
import { spawn, spawnSync } from 'node:child_process';
import { randomBytes } from 'node:crypto';
import { existsSync, mkdirSync, openSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { createServer } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { ensureDebian, say, stopWith, varFolder } from './steps.mjs';

const SERVER = '/usr/sbin/mariadbd';
const INSTALL = '/usr/bin/mariadb-install-db';
const READY_WITHIN_MS = 60_000;

const freePort = () =>
  new Promise((resolve, reject) => {
    const probe = createServer();
    probe.on('error', reject);
    probe.listen(0, '127.0.0.1', () => {
      const { port } = probe.address();
      probe.close(() => resolve(port));
    });
  });

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

/** The user to run the server as: not root, if root started us and that user can reach the folder. */
function serverUser(folder) {
  if (process.getuid?.() !== 0) return null;
  if (spawnSync('id', ['-u', 'mysql'], { stdio: 'ignore' }).status !== 0) return 'root';
  spawnSync('chown', ['-R', 'mysql:', folder]);
  const reaches =
    spawnSync('runuser', ['-u', 'mysql', '--', 'test', '-w', folder], { stdio: 'ignore' }).status === 0;
  return reaches ? 'mysql' : 'root';
}

async function connect(mysql, options) {
  const until = Date.now() + READY_WITHIN_MS;
  for (;;) {
    try {
      return await mysql.createConnection(options);
    } catch (error) {
      if (error.code === 'ER_ACCESS_DENIED_ERROR' || Date.now() > until) throw error;
      await pause(150);
    }
  }
}

/**
 * Starts the database, or joins the one that a start before left running.
 * @param name of the folder below var/ that holds it
 * @returns how to connect to it, and how to stop it; an outside one named by HOSTLER_DB_HOST is never stopped
 */
export async function startDatabase(name = 'database') {
  if (process.env.HOSTLER_DB_HOST) {
    say(`database: the MariaDB at ${process.env.HOSTLER_DB_HOST}`);
    return { config: null, stop: async () => {} };
  }
  ensureDebian(SERVER, 'mariadb-server');
  const { default: mysql } = await import('mysql2/promise');
  const folder = join(varFolder, name);
  const data = join(folder, 'data');
  const configFile = join(varFolder, `${name}.json`);
  const ownerFile = join(varFolder, `${name}.owner`);
  const pidFile = join(folder, 'mariadbd.pid');

  const owner = numberIn(ownerFile);
  const isShared = owner !== null && owner !== process.pid && isAlive(owner);
  const running = numberIn(pidFile);
  if (running && isAlive(running) && existsSync(configFile)) {
    const config = JSON.parse(readFileSync(configFile, 'utf8'));
    const joined = await mysql.createConnection(config).then(
      async (connection) => (await connection.end(), true),
      () => false,
    );
    if (joined) {
      say(`database: running already on 127.0.0.1:${config.port}`);
      if (!isShared) writeFileSync(ownerFile, String(process.pid));
      return { config, stop: isShared ? async () => {} : () => stopDatabase(running, ownerFile) };
    }
  }

  mkdirSync(folder, { recursive: true });
  const user = serverUser(folder);
  const asUser = user ? [`--user=${user}`] : [];
  if (!existsSync(join(data, 'mysql'))) {
    say(`database: making a new one in var/${name}`);
    rmSync(data, { recursive: true, force: true });
    const made = spawnSync(
      INSTALL,
      [
        '--no-defaults',
        `--datadir=${data}`,
        '--auth-root-authentication-method=normal',
        '--skip-test-db',
        ...asUser,
      ],
      { encoding: 'utf8' },
    );
    if (made.status !== 0) stopWith(`The database could not be made: ${made.stderr || made.stdout}`);
    if (user) spawnSync('chown', ['-R', `${user}:`, folder]);
  }
  const port = Number(process.env.HOSTLER_OWN_DB_PORT ?? 0) || (await freePort());
  const socket =
    join(folder, 'd.sock').length < 100
      ? join(folder, 'd.sock')
      : join(tmpdir(), `hostler-${randomBytes(6).toString('hex')}.sock`);
  say(`database: starting MariaDB on 127.0.0.1:${port}${user && user !== 'root' ? ` as ${user}` : ''}`);
  const log = openSync(join(folder, 'mariadbd.log'), 'a');
  const server = spawn(
    SERVER,
    [
      '--no-defaults',
      `--datadir=${data}`,
      `--socket=${socket}`,
      `--port=${port}`,
      '--bind-address=127.0.0.1',
      `--pid-file=${pidFile}`,
      '--character-set-server=utf8mb4',
      '--collation-server=utf8mb4_bin',
      '--default-time-zone=+00:00',
      '--max-allowed-packet=64M',
      '--skip-name-resolve',
      '--skip-log-bin',
      '--innodb-buffer-pool-size=256M',
      ...asUser,
    ],
    { stdio: ['ignore', log, log], detached: true },
  );
  server.unref();
  const failed = new Promise((_resolve, reject) => {
    server.once('exit', (code) =>
      reject(new Error(`MariaDB ended with code ${code}; see var/${name}/mariadbd.log`)),
    );
  });
  failed.catch(() => {});
  writeFileSync(ownerFile, String(process.pid));
  try {
    const known = existsSync(configFile) ? JSON.parse(readFileSync(configFile, 'utf8')) : null;
    const config = {
      host: '127.0.0.1',
      port,
      user: 'hostler',
      password: known?.password ?? randomBytes(18).toString('base64url'),
      database: 'hostler',
    };
    if (!known) {
      const rootPassword = randomBytes(18).toString('base64url');
      const admin = await Promise.race([
        connect(mysql, { socketPath: socket, user: 'root', multipleStatements: true }),
        failed,
      ]);
      await admin.query(
        `CREATE DATABASE IF NOT EXISTS hostler CHARACTER SET utf8mb4 COLLATE utf8mb4_bin;
         CREATE OR REPLACE USER hostler@'127.0.0.1' IDENTIFIED BY ?;
         GRANT ALL ON \`hostler%\`.* TO hostler@'127.0.0.1';`,
        [config.password],
      );
      writeFileSync(configFile, JSON.stringify(config), { mode: 0o600 });
      await admin.query('SET PASSWORD FOR root@localhost = PASSWORD(?)', [rootPassword]);
      await admin.end();
    } else {
      const probe = await Promise.race([connect(mysql, config), failed]);
      await probe.end();
      writeFileSync(configFile, JSON.stringify(config), { mode: 0o600 });
    }
    return { config, stop: () => stopDatabase(server.pid, ownerFile) };
  } catch (error) {
    return stopWith(`The database did not start: ${error.message}`);
  }
}

/** Asks MariaDB to end and waits until it has, at most 30 s. */
async function stopDatabase(pid, ownerFile) {
  try {
    process.kill(pid, 'SIGTERM');
  } catch {
    return;
  }
  for (let waited = 0; waited < 30_000 && isAlive(pid); waited += 100) await pause(100);
  rmSync(ownerFile, { force: true });
}
