import { buildSync } from 'esbuild';
import { spawnSync } from 'node:child_process';
import { rmSync } from 'node:fs';
import { join } from 'node:path';
import { threadId } from 'node:worker_threads';
import { scriptAt } from '../../server/base';

const root = join(__dirname, '../..');
const folder = join(root, 'var', `command-line-${process.pid}-${threadId}`);
const given = scriptAt('cli/hostler.ts');
const isBundled = given.execArgv.length === 0;
const program = isBundled ? given.file : join(folder, 'hostler.cjs');

/**
 * The command line in one file, which starts at once: what the run of all tests has bundled, else built before the
 * tests of a file and taken away after them.
 */
export function buildCommandLine(): void {
  if (isBundled) return;
  beforeAll(() =>
    buildSync({
      absWorkingDir: root,
      entryPoints: ['cli/hostler.ts'],
      outfile: program,
      bundle: true,
      platform: 'node',
      packages: 'external',
    }),
  );
  afterAll(() => rmSync(folder, { recursive: true, force: true }));
}

/** An estate that stays as it is, from the root of the project. */
export const ESTATE = 'core/golden/estate.json';

/** What a command prints and its exit code, with `input` on its standard input. */
export function hostler(args: string[], input = ''): { code: number | null; out: string; err: string } {
  const run = spawnSync(process.execPath, [program, ...args], { cwd: root, input, encoding: 'utf8' });
  return { code: run.status, out: run.stdout, err: run.stderr };
}
