// npm test: does all the set-up that is missing, then runs every check: types, lint, unit, server, browser.
import { spawn } from 'node:child_process';
import { readFileSync } from 'node:fs';
import {
  bundleScripts,
  checkNode,
  ensureDebian,
  ensurePackages,
  offerDebian,
  root,
  say,
  stopWith,
  TEST_SCRIPTS,
  TOOLS,
} from './steps.mjs';

checkNode();
ensurePackages();
ensureDebian('/usr/sbin/mariadbd', 'mariadb-server');
ensureDebian('/usr/bin/chromium', 'chromium');
// The same without windows, which needs less.
offerDebian('/usr/lib/chromium/chromium-headless-shell', 'chromium-headless-shell', 'Chromium is used');
// The model of networks is held to the kernel's NAT and to a STUN and TURN server that nobody here wrote.
offerDebian('/usr/sbin/ip', 'iproute2');
offerDebian('/usr/sbin/nft', 'nftables');
offerDebian('/usr/sbin/conntrack', 'conntrack');
offerDebian('/usr/bin/turnserver', 'coturn');
// Three databases as one: what they are for, and what brings a node up to date.
offerDebian('/usr/lib/galera/libgalera_smm.so', 'galera-4');
offerDebian('/usr/bin/rsync', 'rsync');

const { databaseEnv, startDatabase } = await import('./database.mjs');
const database = await startDatabase('test-database', { inMemory: true }).catch((error) =>
  stopWith(error.message),
);
const { config } = database;
const env = {
  ...process.env,
  ...databaseEnv(config),
};

/** A bound for what hangs: the whole is to end in any case, and to say what did not. In minutes. */
const MOST_MINUTES = 40;

const failed = [];
const running = new Set();
/** Ends a command with all that it started: it leads a group of its own. */
function endGroup(child, signal) {
  try {
    process.kill(-child.pid, signal);
  } catch {
    // It is over already.
  }
}
let isStopping = false;
for (const signal of ['SIGINT', 'SIGTERM'])
  process.once(signal, () => {
    isStopping = true;
    for (const child of running) endGroup(child, signal);
    void database.stop().finally(() => process.exit(1));
  });
/** How the machine's time went so far, in ticks; null where that is not told. @see proc_stat(5) */
function machineTime() {
  try {
    const [, ...ticks] = readFileSync('/proc/stat', 'utf8').split('\n', 1)[0].split(/\s+/);
    const [user, nice, system, idle, iowait, irq, softirq, steal] = ticks.map(Number);
    return { all: user + nice + system + idle + iowait + irq + softirq + steal, idle: idle + iowait, steal };
  } catch {
    return null;
  }
}
/** Which part of that others took, and which nobody used: where others take half, steps take twice as long. */
function sharesSince(before) {
  const now = machineTime();
  if (!before || !now || now.all === before.all) return '';
  const share = (key) => `${Math.round((100 * (now[key] - before[key])) / (now.all - before.all))} %`;
  return ` (of the machine ${share('steal')} went to other machines, ${share('idle')} was idle)`;
}
const begun = { at: Date.now(), machine: machineTime() };
const times = [];
let done = 0;
/** Runs a command; its output is shown as it comes, or, of one that runs beside others, when it is over. */
function step(name, command, args, beside = false) {
  // Nothing is begun any more: it would outlive us.
  if (isStopping) return new Promise(() => {});
  say(beside ? `${name} (beside others)` : name);
  const began = Date.now();
  const machine = machineTime();
  const parts = [];
  return new Promise((resolve) => {
    const child = spawn(command, args, {
      cwd: root,
      stdio: beside ? ['ignore', 'pipe', 'pipe'] : 'inherit',
      env,
      detached: true,
    });
    running.add(child);
    let hung = false;
    const bound = setTimeout(() => {
      hung = true;
      say(`${name}: not over after ${MOST_MINUTES} minutes, ended`);
      endGroup(child, 'SIGKILL');
    }, MOST_MINUTES * 60_000);
    for (const stream of beside ? [child.stdout, child.stderr] : [])
      stream.on('data', (part) => parts.push(part));
    child.on('exit', () => {
      clearTimeout(bound);
      running.delete(child);
      // Whatever it left running would keep its output open for ever.
      endGroup(child, 'SIGKILL');
    });
    child.on('close', (code) => {
      process.stdout.write(Buffer.concat(parts));
      done += 1;
      if (code !== 0 || hung) failed.push(name);
      const took = `${Math.round((Date.now() - began) / 1000)} s`;
      times.push(`${name}: ${took}${beside ? ', beside others' : sharesSince(machine)}`);
      say(`${name}: ${code === 0 && !hung ? 'passed' : 'FAILED'} in ${took}`);
      resolve();
    });
  });
}
const tool = (path, ...args) => [process.execPath, [`${root}/node_modules/${path}`, ...args]];

// `npm run attack`: what somebody may try against it, and what may fail under it.
if (process.argv[2] === 'attack') {
  env.HOSTLER_SCRIPTS = await bundleScripts(TEST_SCRIPTS);
  await step(
    'attacks',
    ...tool('jest/bin/jest.js', '--forceExit', '--testPathPattern', 'attack|upgrade|killed|privacy'),
  );
  await finish();
}

const ofTheCode = async () => {
  await step('format', ...tool(TOOLS.format, '--check', '.'), true);
  await step('types', ...tool(TOOLS.types, '--noEmit'), true);
  await step('lint', ...tool(TOOLS.lint, '--max-warnings', '0', '.'), true);
  await step('imports', process.execPath, [`${root}/bin/architecture.mjs`, '--check'], true);
};
await Promise.all([
  ofTheCode(),
  step('build', process.execPath, [`${root}/bin/build-if-needed.mjs`], true),
  // One after the other: what they import takes longer to compile than they take, and each of several would compile it.
  step(
    'component tests',
    ...tool('jest/bin/jest.js', '--forceExit', '--selectProjects', 'ui', '--maxWorkers', '1'),
    true,
  ),
]);
// The tests run what `npm start` runs, and what they start by themselves in the same way.
env.HOSTLER_SCRIPTS = await bundleScripts(TEST_SCRIPTS);
// What a failed test left open keeps nobody waiting.
await step('unit and server tests', ...tool('jest/bin/jest.js', '--forceExit', '--selectProjects', 'code'));
await step('browser tests', ...tool('@playwright/test/cli.js', 'test'));

await finish();

async function finish() {
  await database.stop();
  times.push(`all: ${Math.round((Date.now() - begun.at) / 1000)} s${sharesSince(begun.machine)}`);
  process.stdout.write(`\n${times.map((each) => `  ${each}\n`).join('')}`);
  process.stdout.write(`\nsteps: ${done - failed.length} passed, ${failed.length} failed\n`);
  if (failed.length > 0) stopWith(`Failed: ${failed.join(', ')}`);
  process.exit(0);
}
