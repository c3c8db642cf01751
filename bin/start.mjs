// npm start: does all the set-up that is missing, then serves the application on loopback until it is stopped.
import { fork } from 'node:child_process';
import { existsSync, readFileSync } from 'node:fs';
import { createServer } from 'node:net';
import { join } from 'node:path';
import {
  bundleScripts,
  checkNode,
  ensureBuild,
  ensurePackages,
  root,
  run,
  say,
  stopWith,
  varFolder,
} from './steps.mjs';

const port = Number(process.env.HOSTLER_PORT ?? 4680);
if (!Number.isInteger(port) || port < 1 || port > 65_535)
  stopWith(`HOSTLER_PORT must be a port from 1 to 65535, not "${process.env.HOSTLER_PORT}".`);

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
const { startDatabase } = await import('./database.mjs');
const database = await startDatabase();

let server = null;
let stopping = false;
async function stop(code) {
  if (stopping) return;
  stopping = true;
  if (server && server.exitCode === null) {
    const ended = new Promise((resolve) => server.once('exit', resolve));
    server.kill('SIGTERM');
    await ended;
  }
  await database.stop();
  process.exit(code);
}
process.on('SIGINT', () => void stop(0));
process.on('SIGTERM', () => void stop(0));
process.on('SIGHUP', () => void stop(0));

say('database: migrations and demo data');
run(process.execPath, ['--import', 'tsx', join(root, 'server', 'setup.ts')], 'Preparing the database');

const scripts = await bundleScripts();
server = fork(join(root, 'server', 'main.ts'), [], {
  cwd: root,
  execArgv: ['--import', 'tsx'],
  env: {
    NODE_ENV: 'production',
    HOSTLER_LOG: 'warn',
    HOSTLER_SCRIPTS: scripts,
    ...process.env,
    HOSTLER_PORT: String(port),
  },
});
server.on('message', (message) => {
  if (message?.phones) {
    const { address, udp, tls } = message.phones;
    process.stdout.write(
      `The stand-in phone system is at ${address}: SIP over UDP and TCP at port ${udp}, over TLS at ${tls}.\n` +
        `Its accounts, and who is registered: http://127.0.0.1:${port}/phones\n`,
    );
  }
  if (message !== 'listening') return;
  process.stdout.write(`\nHostler is at http://127.0.0.1:${port}\n`);
  const accounts = join(varFolder, 'demo-accounts.json');
  if (existsSync(accounts)) {
    process.stdout.write('Demo accounts (name, password, what it may do):\n');
    for (const account of JSON.parse(readFileSync(accounts, 'utf8')))
      process.stdout.write(`  ${account.name.padEnd(12)} ${account.password.padEnd(16)} ${account.role}\n`);
  }
  process.stdout.write('Stop with Ctrl+C.\n');
});
server.on('exit', (code) => void stop(code ?? 1));
