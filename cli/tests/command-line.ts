import { spawnSync } from 'node:child_process';
import { join } from 'node:path';
import { scriptAt } from '../../server/base';

const root = join(__dirname, '../..');

/** An estate that stays as it is, from the root of the project. */
export const ESTATE = 'core/golden/estate.json';

/** What a command prints and its exit code, with `input` on its standard input. */
export function hostler(args: string[], input = ''): { code: number | null; out: string; err: string } {
  const { file, execArgv } = scriptAt('cli/hostler.ts');
  const run = spawnSync(process.execPath, [...execArgv, file, ...args], {
    cwd: root,
    input,
    encoding: 'utf8',
  });
  return { code: run.status, out: run.stdout, err: run.stderr };
}
