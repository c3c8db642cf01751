// npm run bench: figures of speed, all measured in one run on this machine, with 5,000 people.
import { bundle, bundleStandins, ensureBuild, ensureDebian, ensurePackages, root, say } from './steps.mjs';
import { spawnSync } from 'node:child_process';
import { dirname, join } from 'node:path';

ensurePackages();
ensureDebian('/usr/sbin/mariadbd', 'mariadb-server');
ensureDebian('/usr/bin/chromium', 'chromium');
ensureBuild();
const { startDatabase } = await import('./database.mjs');
const database = await startDatabase('test-database');
const { config } = database;
say('measuring (a few minutes)');
const standins = await bundleStandins();
for (const script of ['wire.server', 'wire.sender']) await bundle(`bench/${script}.ts`);
const own = { ...process.env, HOSTLER_STANDINS: standins, HOSTLER_BENCH_SCRIPTS: dirname(standins) };
const env = config
  ? {
      ...own,
      HOSTLER_DB_HOST: config.host,
      HOSTLER_DB_PORT: String(config.port),
      HOSTLER_DB_USER: config.user,
      HOSTLER_DB_PASSWORD: config.password,
      HOSTLER_DB_NAME: config.database,
    }
  : own;
const { status } = spawnSync(process.execPath, ['--import', 'tsx', join(root, 'bench', 'all.bench.ts')], {
  cwd: root,
  stdio: 'inherit',
  env,
});
await database.stop();
process.exit(status ?? 1);
