// Runs tests in plain Node: bundled with what they import, in threads that keep what they have loaded, and not each file
// in a world of its own that loads everything anew and in which whatever is global is slow to reach.
import { rmSync } from 'node:fs';
import { createRequire } from 'node:module';
import { join, relative } from 'node:path';
import { build } from 'esbuild';
import { createRunner } from 'jest-light-runner';
import { ownFolders, root, varFolder } from './steps.mjs';

const require = createRequire(import.meta.url);

/** What is JSON in a package comes along: Node's modules import none without saying so. */
const jsonOfPackages = {
  name: 'JSON of packages',
  setup: (build) =>
    build.onResolve({ filter: /^[^./].*\.json$/ }, ({ path }) => ({ path: require.resolve(path) })),
};

const outdir = join(varFolder, 'tests', String(process.pid));

/**
 * Bundles tests; what several import is a file by itself, so that a thread loads it once.
 * @returns where each is then, by the path of its source
 */
async function bundled(tests) {
  await build({
    absWorkingDir: root,
    entryPoints: tests,
    outdir,
    outbase: root,
    outExtension: { '.js': '.mjs' },
    bundle: true,
    splitting: true,
    format: 'esm',
    platform: 'node',
    target: 'node20',
    packages: 'external',
    sourcemap: true,
    sourcesContent: false,
    banner: {
      js: "import { createRequire as requireOf } from 'node:module'; const require = requireOf(import.meta.url);",
    },
    logLevel: 'warning',
    plugins: [ownFolders, jsonOfPackages],
  });
  return (path) => join(outdir, relative(root, path).replace(/\.tsx?$/, '.mjs'));
}

const Threads = createRunner({ runtime: 'worker_threads' });

export default class PlainRunner extends Threads {
  async runTests(tests, watcher, onStart, onResult, onFailure) {
    const builtOf = await bundled(tests.map(({ path }) => path));
    const sourceOf = new Map(tests.map((test) => [builtOf(test.path), test]));
    try {
      await super.runTests(
        tests.map((test) => ({ ...test, path: builtOf(test.path) })),
        watcher,
        ({ path }) => onStart(sourceOf.get(path)),
        ({ path }, result) => {
          const source = sourceOf.get(path);
          return onResult(source, { ...result, testFilePath: source.path });
        },
        ({ path }, error) => onFailure(sourceOf.get(path), error),
      );
    } finally {
      rmSync(outdir, { recursive: true, force: true });
    }
  }
}
