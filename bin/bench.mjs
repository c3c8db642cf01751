// npm run bench: figures of speed, all measured in one run on this machine, with 5,000 people. npm run bench -- scale
// [PEOPLE …]: what a server does with 5,000 and with 50,000, and how each figure grows.
import { bundleScripts, ensureBuild, ensureDebian, ensurePackages, root, say } from './steps.mjs';
import { spawnSync } from 'node:child_process';
import { join } from 'node:path';

ensurePackages();
ensureDebian('/usr/sbin/mariadbd', 'mariadb-server');
ensureDebian('/usr/bin/chromium', 'chromium');
ensureBuild();
const { databaseEnv, startDatabase } = await import('./database.mjs');
const database = await startDatabase('bench-database');
const { config } = database;
say('measuring (a few minutes)');
// Everything is measured as `npm start` runs it.
const isScale = process.argv[2] === 'scale';
const scripts = await bundleScripts(
  isScale ? ['bench/scale.bench.ts'] : ['bench/all.bench.ts', 'bench/wire.server.ts', 'bench/wire.sender.ts'],
);
const own = { ...process.env, HOSTLER_SCRIPTS: scripts };
const env = { ...own, ...databaseEnv(config) };
const args = isScale
  ? [join(scripts, 'bench-scale.bench.js'), ...process.argv.slice(3)]
  : [join(scripts, 'bench-all.bench.js')];
const { status } = spawnSync(process.execPath, args, {
  cwd: root,
  stdio: 'inherit',
  env,
});
await database.stop();
process.exit(status ?? 1);
