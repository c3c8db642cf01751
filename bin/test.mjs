// npm test: does all the set-up that is missing, then runs every check: types, lint, unit, server, browser.
import { spawnSync } from 'node:child_process';
import {
  bundleScripts,
  checkNode,
  ensureBuild,
  ensureDebian,
  ensurePackages,
  root,
  say,
  stopWith,
} from './steps.mjs';

checkNode();
ensurePackages();
ensureDebian('/usr/sbin/mariadbd', 'mariadb-server');
ensureDebian('/usr/bin/chromium', 'chromium');

const { databaseEnv, startDatabase } = await import('./database.mjs');
const database = await startDatabase('test-database').catch((error) => stopWith(error.message));
const { config } = database;
const env = {
  ...process.env,
  ...databaseEnv(config),
};

const failed = [];
const times = [];
let done = 0;
function step(name, command, args) {
  say(name);
  const began = Date.now();
  const result = spawnSync(command, args, { cwd: root, stdio: 'inherit', env });
  done += 1;
  if (result.status !== 0) failed.push(name);
  times.push(`${name}: ${Math.round((Date.now() - began) / 1000)} s`);
  say(
    `${name}: ${result.status === 0 ? 'passed' : 'FAILED'} in ${Math.round((Date.now() - began) / 1000)} s`,
  );
}
const tool = (path, ...args) => [process.execPath, [`${root}/node_modules/${path}`, ...args]];

// `npm run attack`: what somebody may try against it, and what may fail under it.
if (process.argv[2] === 'attack') {
  step('attacks', ...tool('jest/bin/jest.js', '--testPathPattern', 'attack|upgrade|killed|privacy'));
  await finish();
}

step('types', ...tool('typescript/bin/tsc', '--noEmit'));
step('lint', ...tool('eslint/bin/eslint.js', '.', '--max-warnings', '0'));
step('format', ...tool('prettier/bin/prettier.cjs', '--check', '--log-level', 'warn', '.'));
step(
  'imports',
  ...tool(
    'dependency-cruiser/bin/dependency-cruise.mjs',
    '--config',
    '.dependency-cruiser.cjs',
    'core',
    'server',
    'standins',
    'ui',
    'app',
    'cli',
    'demo',
  ),
);
step('unit and server tests', ...tool('jest/bin/jest.js'));
ensureBuild();
// The browser tests run what `npm start` runs.
env.HOSTLER_SCRIPTS = await bundleScripts();
step('browser tests', ...tool('@playwright/test/cli.js', 'test'));

await finish();

async function finish() {
  await database.stop();
  process.stdout.write(`\n${times.map((each) => `  ${each}\n`).join('')}`);
  process.stdout.write(`\nsteps: ${done - failed.length} passed, ${failed.length} failed\n`);
  if (failed.length > 0) stopWith(`Failed: ${failed.join(', ')}`);
  process.exit(0);
}
