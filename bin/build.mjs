// Builds the browser application into dist/: fonts beside the page, then every file compressed once.
import { copyFileSync, mkdirSync, readdirSync, readFileSync, rmSync, statSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { brotliCompressSync, constants, gzipSync } from 'node:zlib';
import { buildSync } from 'esbuild';
import { root, run, stopWith } from './steps.mjs';

const FONTS = {
  'atkinson-400.ttf': 'atkinson-hyperlegible/400Regular/AtkinsonHyperlegible_400Regular.ttf',
  'atkinson-700.ttf': 'atkinson-hyperlegible/700Bold/AtkinsonHyperlegible_700Bold.ttf',
  'mono-400.ttf': 'jetbrains-mono/400Regular/JetBrainsMono_400Regular.ttf',
};
const dist = join(root, 'dist');

function* filesBelow(folder) {
  for (const entry of readdirSync(folder)) {
    const path = join(folder, entry);
    if (statSync(path).isDirectory()) yield* filesBelow(path);
    else yield path;
  }
}

rmSync(dist, { recursive: true, force: true });
run(
  process.execPath,
  [join(root, 'node_modules/expo/bin/cli'), 'export', '-p', 'web', '--output-dir', dist],
  'expo export',
  {
    env: { ...process.env, CI: '1', EXPO_OFFLINE: '1', EXPO_NO_TELEMETRY: '1', NODE_ENV: 'production' },
  },
);
// A worker that works beside a page compiles all of its script each time it starts: here without what it does not use.
const workers = [...filesBelow(dist)].filter((path) => /\/reach-[0-9a-f]+\.js$/.test(path));
if (workers.length !== 1) stopWith(`The build has ${workers.length} scripts of the worker “reach”.`);
buildSync({
  absWorkingDir: root,
  entryPoints: ['ui/data/reach.worker.ts'],
  outfile: workers[0],
  allowOverwrite: true,
  bundle: true,
  minify: true,
  platform: 'browser',
  target: 'es2022',
  define: { 'process.env.NODE_ENV': '"production"' },
  logLevel: 'warning',
});
mkdirSync(join(dist, 'fonts'), { recursive: true });
for (const [name, from] of Object.entries(FONTS))
  copyFileSync(join(root, 'node_modules/@expo-google-fonts', from), join(dist, 'fonts', name));
for (const file of [...filesBelow(dist)]) {
  if (!/\.(js|css|html|svg|json|ttf)$/.test(file)) continue;
  const bytes = readFileSync(file);
  if (bytes.length < 1024) continue;
  writeFileSync(`${file}.gz`, gzipSync(bytes, { level: 9 }));
  writeFileSync(
    `${file}.br`,
    brotliCompressSync(bytes, {
      params: { [constants.BROTLI_PARAM_QUALITY]: 10, [constants.BROTLI_PARAM_SIZE_HINT]: bytes.length },
    }),
  );
}
