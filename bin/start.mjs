// npm start: does all the set-up that is missing, then serves the application on loopback until it is stopped.
import { fork, spawnSync } from 'node:child_process';
import { createServer } from 'node:net';
import {
  bundled,
  bundleScripts,
  checkNode,
  ensureBuild,
  ensurePackages,
  root,
  say,
  stopWith,
} from './steps.mjs';

const port = Number(process.env.HOSTLER_PORT ?? 4680);
if (!Number.isInteger(port) || port < 1 || port > 65_535)
  stopWith(`HOSTLER_PORT must be a port from 1 to 65535, not "${process.env.HOSTLER_PORT}".`);

/** `--empty`: an organisation of one's own that begins with nothing, in a database beside the demo's. */
const wanted = process.argv.slice(2);
const isEmpty = wanted.includes('--empty');
const unknown = wanted.find((each) => each !== '--empty');
if (unknown !== undefined)
  stopWith(`npm start knows --empty (an organisation without the demo), not "${unknown}".`);
const databaseName = isEmpty ? 'own-database' : 'database';

const portIsFree = () =>
  new Promise((resolve) => {
    const probe = createServer();
    probe.once('error', () => resolve(false));
    probe.listen(port, '127.0.0.1', () => probe.close(() => resolve(true)));
  });

checkNode();
if (!(await portIsFree()))
  stopWith(`Port ${port} is in use. Choose another: HOSTLER_PORT=${port + 1} npm start`);
ensurePackages();
ensureBuild();
const { databaseEnv, startDatabase } = await import('./database.mjs');

/** What ends by itself is started again, after pauses that grow; what keeps ending is given up. */
const PAUSES_MS = [500, 1000, 2000, 4000, 8000, 15_000, 30_000, 30_000];
const STEADY_MS = 60_000;
const STOP_WITHIN_MS = 15_000;
const pause = (ms) => new Promise((resolve) => setTimeout(resolve, ms));

/** Counts how often something ended shortly after it had begun. */
function falls(what) {
  let count = 0;
  let sinceMs = Date.now();
  return {
    begun: () => {
      sinceMs = Date.now();
    },
    /** @returns after how long it may begin again; null: not any more */
    next: (why) => {
      if (Date.now() - sinceMs > STEADY_MS) count = 0;
      const ms = PAUSES_MS[count] ?? null;
      count += 1;
      process.stderr.write(
        ms === null
          ? `${what} ended again (${why}), ${count} times in a row: all is stopped.\n`
          : `${what} ended (${why}) and is started again in ${ms / 1000} s.\n`,
      );
      return ms;
    },
  };
}

let database = await startDatabase(databaseName).catch((error) =>
  stopWith(`Could not start: ${error.message}.`),
);
let server = null;
let stopping = false;

async function stop(code) {
  if (stopping) return;
  stopping = true;
  if (server && server.exitCode === null && server.signalCode === null) {
    const ended = new Promise((resolve) => server.once('exit', resolve));
    server.kill('SIGTERM');
    const late = setTimeout(() => server.kill('SIGKILL'), STOP_WITHIN_MS);
    await ended;
    clearTimeout(late);
  }
  await database.stop();
  process.exit(code);
}
for (const signal of ['SIGINT', 'SIGTERM', 'SIGHUP']) process.on(signal, () => void stop(0));

const databaseFalls = falls('The database');
async function watchDatabase() {
  for (;;) {
    const why = await database.ended;
    if (stopping) return;
    for (let up = false; !up;) {
      const ms = databaseFalls.next(why);
      if (ms === null) return stop(1);
      await pause(ms);
      if (stopping) return;
      databaseFalls.begun();
      up = await startDatabase(databaseName).then(
        (again) => {
          database = again;
          return true;
        },
        (error) => {
          process.stderr.write(`${error.message}\n`);
          return false;
        },
      );
    }
  }
}
void watchDatabase();

say(`database: migrations${isEmpty ? '' : ' and demo data'}`);
const env = {
  ...process.env,
  ...databaseEnv(database.config),
  ...(isEmpty ? { HOSTLER_EMPTY: '1' } : {}),
};
const scripts = await bundleScripts();
const setUp = spawnSync(process.execPath, [bundled(scripts, 'server/setup.ts')], {
  cwd: root,
  stdio: 'inherit',
  env,
});
if (setUp.status !== 0) {
  process.stderr.write('\nPreparing the database failed.\n');
  await stop(1);
}

const serverFalls = falls('The server');
let hasListened = false;
function startServer() {
  serverFalls.begun();
  server = fork(bundled(scripts, 'server/main.ts'), [], {
    cwd: root,
    env: {
      NODE_ENV: 'production',
      HOSTLER_LOG: 'warn',
      HOSTLER_SCRIPTS: scripts,
      // Passwords take turns beside files and names: there must be threads left for those.
      UV_THREADPOOL_SIZE: '8',
      ...env,
      HOSTLER_PORT: String(port),
    },
  });
  server.on('message', (message) => {
    if (message?.phones) {
      const { address, udp, tls, wanted } = message.phones;
      process.stdout.write(
        (wanted === udp ? '' : `SIP port ${wanted} is in use: another one was taken.\n`) +
          `The stand-in phone system is at ${address}: SIP over UDP and TCP at port ${udp}, over TLS at ${tls}.\n` +
          `Its accounts, and who is registered: http://127.0.0.1:${port}/phones\n`,
      );
    }
    if (message !== 'listening') return;
    process.stdout.write(
      `\nHostler is at http://127.0.0.1:${port}\n${hasListened ? '' : 'Stop with Ctrl+C.\n'}`,
    );
    hasListened = true;
  });
  server.on('exit', (code, signal) => {
    if (stopping) return;
    // One that has never come up would not the next time either: it has said why.
    if (!hasListened) return void stop(code || 1);
    const ms = serverFalls.next(signal ?? `exit code ${code}`);
    if (ms === null) return void stop(1);
    setTimeout(() => {
      if (!stopping) startServer();
    }, ms);
  });
}
if (!stopping) startServer();
