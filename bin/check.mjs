// npm run check [-- COMMIT]: the checks that what was changed since a commit (left out: the last one) can fail, quickly.
import { spawnSync } from 'node:child_process';
import { existsSync } from 'node:fs';
import { dirname } from 'node:path';
import {
  bundleScripts,
  capture,
  checkNode,
  ensureDebian,
  ensurePackages,
  importsOfAll,
  root,
  say,
  stopWith,
  TEST_SCRIPTS,
  TOOLS,
} from './steps.mjs';

checkNode();
ensurePackages();
ensureDebian('/usr/sbin/mariadbd', 'mariadb-server');

/** So many imports away from what was changed a test is run; those further off are left to `npm test`. */
const NEAR = 2;
/** Tests that take longer than all others together: only where they, or what stands beside them, was changed. */
const LONG = /attack|whole\.test|killed\.test|upgrade\.test|stage\.test|soak\.test/;

const since = process.argv[2] ?? 'HEAD';
const lines = (text) => text.split('\n').filter(Boolean);
const changed = [
  ...lines(capture('git', ['diff', '--name-only', '--diff-filter=d', since])),
  ...lines(capture('git', ['ls-files', '--others', '--exclude-standard'])),
].filter((file) => existsSync(`${root}/${file}`));
if (changed.length === 0) {
  say(`nothing has changed since ${since}`);
  process.exit(0);
}
say(`${changed.length} files changed since ${since}`);

const failed = [];
function step(name, path, args, env = process.env) {
  const began = Date.now();
  const { status } = spawnSync(process.execPath, [`${root}/node_modules/${path}`, ...args], {
    cwd: root,
    stdio: 'inherit',
    env,
  });
  if (status !== 0) failed.push(name);
  say(`${name}: ${status === 0 ? 'passed' : 'FAILED'} in ${Math.round((Date.now() - began) / 1000)} s`);
}

const code = changed.filter((file) => /\.(?:[cm]?js|tsx?)$/.test(file));
step('types', TOOLS.types, ['--noEmit']);
step('format', TOOLS.format, ['--check', '--no-error-on-unmatched-pattern', ...changed]);
/** All imports, looked at once. */
const cruised = code.length > 0 ? importsOfAll() : { files: [], wrong: [] };
if (code.length > 0) {
  step('lint', TOOLS.lint, ['--max-warnings', '0', ...code]);
  for (const each of cruised.wrong) say(`an import that no rule allows: ${each}`);
  if (cruised.wrong.length > 0) failed.push('imports');
}

/** Test files near to what was changed, and those that are left out for being long. */
function testsNear() {
  const importers = new Map();
  for (const { file, imports } of cruised.files)
    for (const imported of imports) importers.set(imported, [...(importers.get(imported) ?? []), file]);
  const near = new Set(code);
  let edge = [...near];
  for (let away = 0; away < NEAR; away += 1) {
    edge = edge.flatMap((file) => importers.get(file) ?? []).filter((file) => !near.has(file));
    for (const file of edge) near.add(file);
  }
  const tests = [...near].filter((file) => /\.test\.tsx?$/.test(file));
  const folders = new Set(code.map(dirname));
  const isLeft = (file) => LONG.test(file) && !folders.has(dirname(file));
  return { run: tests.filter((file) => !isLeft(file)), left: tests.filter(isLeft) };
}

const { run, left } = testsNear();
if (run.length > 0) {
  const { databaseEnv, startDatabase } = await import('./database.mjs');
  const needs = run.some((file) => /^(server|standins|cli|demo)\//.test(file));
  const database = needs
    ? await startDatabase('test-database', { inMemory: true }).catch((error) => stopWith(error.message))
    : null;
  const env = {
    ...process.env,
    ...(database ? databaseEnv(database.config) : {}),
    HOSTLER_SCRIPTS: await bundleScripts(TEST_SCRIPTS),
  };
  step(`${run.length} test files`, 'jest/bin/jest.js', ['--runTestsByPath', ...run], env);
  await database?.stop();
}
for (const file of left) say(`left to npm test, for its length: ${file}`);
if (failed.length > 0) stopWith(`Failed: ${failed.join(', ')}`);
say('all that was checked is well; npm test checks the rest, and the browser');
