import { existsSync } from 'node:fs';
import { join, resolve } from 'node:path';

/** What runs in a process or thread of its own: `bin/steps.mjs` bundles the same. */
export type Script =
  | 'server/main.ts'
  | 'server/setup.ts'
  | 'server/test/killed-work.ts'
  | 'cli/hostler.ts'
  | 'standins/main.ts'
  | 'server/calls/worker.ts'
  | 'server/calls/import-worker.ts'
  | 'server/desks/worker.ts'
  | 'server/findings/worker.ts'
  | 'server/promises/worker.ts'
  | 'server/reading/worker.ts'
  | 'server/routing/worker.ts'
  | 'server/slates/impact-worker.ts';

/** Where a script is and what Node needs to run it: bundled in the folder `HOSTLER_SCRIPTS`, else its TypeScript. */
export function scriptAt(script: Script): { readonly file: string; readonly execArgv: readonly string[] } {
  const folder = process.env.HOSTLER_SCRIPTS;
  const bundled =
    folder === undefined ? null : join(folder, script.replaceAll('/', '-').replace(/ts$/, 'js'));
  return bundled !== null && existsSync(bundled)
    ? { file: bundled, execArgv: [] }
    : { file: resolve(__dirname, '../..', script), execArgv: ['--import', 'tsx'] };
}
