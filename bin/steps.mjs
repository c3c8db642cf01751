// What the start and test scripts have in common: saying what is done, and getting what is missing.
import { execFileSync, spawnSync } from 'node:child_process';
import { createHash } from 'node:crypto';
import { existsSync, mkdirSync, readdirSync, readFileSync, statSync, writeFileSync } from 'node:fs';
import { dirname, join, resolve } from 'node:path';
import { fileURLToPath } from 'node:url';

export const root = resolve(dirname(fileURLToPath(import.meta.url)), '..');
export const varFolder = join(root, 'var');
mkdirSync(varFolder, { recursive: true });

/** What checks the code, each by its path in node_modules. */
export const TOOLS = {
  types: 'typescript-native/bin/tsc',
  lint: 'oxlint/bin/oxlint',
  format: 'oxfmt/bin/oxfmt',
};

const FOLDERS = ['core', 'api', 'server', 'standins', 'ui', 'app', 'cli', 'demo'];

/** Every import of the project, each file with the files that it imports; and those that no rule allows. */
export function importsOfAll() {
  const { modules, summary } = JSON.parse(
    capture(process.execPath, [
      join(root, 'node_modules/dependency-cruiser/bin/dependency-cruise.mjs'),
      ...['--config', '.dependency-cruiser.cjs', '--output-type', 'json'],
      ...FOLDERS,
    ]),
  );
  return {
    files: modules.map(({ source, dependencies }) => ({
      file: source,
      imports: dependencies.map(({ resolved }) => resolved),
    })),
    wrong: summary.violations.map(({ rule, from, to }) => `${rule.name}: ${from} imports ${to}`),
  };
}

export const say = (text) => process.stdout.write(`- ${text}\n`);

/** Ends the script with one clear line. */
export function stopWith(text) {
  process.stderr.write(`\n${text}\n`);
  process.exit(1);
}

/** Runs a command to its end, its output shown; ends the script with `what` if it fails. */
export function run(command, args, what, options = {}) {
  const result = spawnSync(command, args, { cwd: root, stdio: 'inherit', ...options });
  if (result.status !== 0) stopWith(`${what} failed (${command} ${args.join(' ')}).`);
}

export function checkNode() {
  const major = Number(process.versions.node.split('.')[0]);
  if (major < 20) stopWith(`Node 20 is needed; this is ${process.version}.`);
}

const sha = (text) => createHash('sha256').update(text).digest('hex');
const stamp = (name) => join(varFolder, `${name}.stamp`);
const isStamped = (name, value) => existsSync(stamp(name)) && readFileSync(stamp(name), 'utf8') === value;
const setStamp = (name, value) => writeFileSync(stamp(name), value);

export function ensurePackages() {
  const wanted = sha(readFileSync(join(root, 'package-lock.json')));
  if (existsSync(join(root, 'node_modules', 'tsx')) && isStamped('packages', wanted)) return;
  say('packages: npm ci (a minute or two the first time)');
  // Packages come without running scripts of theirs; none of those that are used needs one.
  run(
    'npm',
    ['ci', '--ignore-scripts', '--no-audit', '--no-fund', '--loglevel=error'],
    'Installing the packages',
  );
  setStamp('packages', wanted);
}

const has = (path) => existsSync(path);
let updated = false;

/** Gets a Debian package if its program is not there. */
export function ensureDebian(program, packageName) {
  if (has(program)) return;
  const isRoot = process.getuid?.() === 0;
  const sudo = isRoot ? [] : ['sudo', '-n'];
  if (!has('/usr/bin/apt-get'))
    stopWith(
      `${program} is missing and there is no apt-get to install ${packageName} with. Install it and start again.`,
    );
  if (!isRoot && spawnSync('sudo', ['-n', 'true'], { stdio: 'ignore' }).status !== 0)
    stopWith(
      `${program} is missing. Install it with: sudo apt-get install --no-install-recommends ${packageName}`,
    );
  say(`${packageName}: apt-get install`);
  const apt = (...args) =>
    spawnSync([...sudo, 'apt-get', ...args][0], [...sudo, 'apt-get', ...args].slice(1), {
      stdio: ['ignore', 'ignore', 'inherit'],
      env: { ...process.env, DEBIAN_FRONTEND: 'noninteractive' },
    }).status;
  if (!updated) apt('update');
  updated = true;
  apt('install', '-y', '--no-install-recommends', packageName);
  if (!has(program)) stopWith(`${packageName} could not be installed: ${program} is still missing.`);
}

/** Gets a Debian package that some tests do without, if it can be had here: those tests say that they are skipped. */
export function offerDebian(program, packageName, otherwise = 'the tests that want it are skipped') {
  if (has(program) || process.getuid?.() !== 0 || !has('/usr/bin/apt-get')) return;
  say(`${packageName}: apt-get install`);
  const apt = (...args) =>
    spawnSync('apt-get', args, {
      stdio: 'ignore',
      env: { ...process.env, DEBIAN_FRONTEND: 'noninteractive' },
    });
  if (!updated) apt('update');
  updated = true;
  apt('install', '-y', '--no-install-recommends', packageName);
  if (!has(program)) say(`${packageName} could not be installed: ${otherwise}`);
}

function* filesBelow(path) {
  if (!existsSync(path)) return;
  if (statSync(path).isFile()) return void (yield path);
  for (const entry of readdirSync(path).sort()) yield* filesBelow(join(path, entry));
}

/** One hash over all that the browser application is built from. */
function sourcesHash() {
  const hash = createHash('sha256');
  const parts = [
    'app',
    'ui',
    'api',
    'core',
    'public',
    'app.json',
    'metro.config.js',
    'babel.config.js',
    'bin/build.mjs',
    'package-lock.json',
  ];
  for (const part of parts)
    for (const file of filesBelow(join(root, part))) {
      if (/\.test\.tsx?$/.test(file)) continue;
      hash.update(file.slice(root.length)).update(readFileSync(file));
    }
  return hash.digest('hex');
}

export function ensureBuild() {
  const wanted = sourcesHash();
  if (existsSync(join(root, 'dist', 'index.html')) && isStamped('build', wanted)) return;
  say('browser application: building (about a minute)');
  run(process.execPath, [join(root, 'bin', 'build.mjs')], 'Building the browser application');
  setStamp('build', wanted);
}

export const capture = (command, args) =>
  execFileSync(command, args, { cwd: root, encoding: 'utf8', maxBuffer: 1 << 28 });

/** What runs in a process or thread of its own; `server/base/scripts.ts` has the same. */
const SCRIPTS = [
  'server/main.ts',
  'server/setup.ts',
  'standins/main.ts',
  'server/calls/worker.ts',
  'server/calls/import-worker.ts',
  'server/desks/worker.ts',
  'server/findings/worker.ts',
  'server/promises/worker.ts',
  'server/reading/worker.ts',
  'server/routing/worker.ts',
  'server/slates/impact-worker.ts',
];

/** What the tests start besides: through the loader each start takes some seconds. */
export const TEST_SCRIPTS = ['server/test/killed-work.ts', 'cli/hostler.ts'];

const plainName = (path) => path.replaceAll('/', '-').replace(/\.ts$/, '');
/** Where a bundled script is. @param folder as `bundleScripts` gave it */
export const bundled = (folder, path) => join(folder, `${plainName(path)}.js`);

/** In a bundle `__dirname` stays the folder of the source that asks for it. */
export const ownFolders = {
  name: 'own folders',
  setup: (build) =>
    build.onLoad({ filter: /\.ts$/ }, ({ path }) => {
      const text = readFileSync(path, 'utf8');
      return text.includes('__dirname')
        ? { contents: text.replaceAll('__dirname', JSON.stringify(dirname(path))), loader: 'ts' }
        : undefined;
    }),
};

/**
 * Bundles each script with all that it imports into one plain file: it starts and runs quicker than through the loader.
 * Done anew each time, which takes a fraction of a second.
 * @returns their folder, for `HOSTLER_SCRIPTS`
 */
export async function bundleScripts(more = []) {
  const { build } = await import('esbuild');
  const outdir = join(varFolder, 'scripts');
  await build({
    absWorkingDir: root,
    entryPoints: [...SCRIPTS, ...more].map((path) => ({ in: path, out: plainName(path) })),
    outdir,
    bundle: true,
    platform: 'node',
    target: 'node20',
    // What is no plain code, or looks for files beside itself.
    external: ['@node-rs/argon2', 'pino', 'piscina', 'pdfkit', '@expo-google-fonts/*'],
    logLevel: 'warning',
    plugins: [ownFolders],
  });
  return outdir;
}
