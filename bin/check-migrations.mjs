// Migrations never change once they have landed: compares each with the list kept beside them and with the history.
import { spawnSync } from 'node:child_process';
import { createHash } from 'node:crypto';
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { root } from './steps.mjs';

const FOLDER = 'server/db/migrations';
const sha = (text) => createHash('sha256').update(text).digest('hex');
const landed = JSON.parse(readFileSync(join(root, 'server/db/landed.json'), 'utf8'));
const wrong = [];
for (const [name, checksum] of Object.entries(landed)) {
  let now = '';
  try {
    now = sha(readFileSync(join(root, FOLDER, name), 'utf8'));
  } catch {
    // It is gone, which is told below.
  }
  if (now !== checksum) wrong.push(`${name} is not as it landed`);
}
// The list itself only grows.
const before = spawnSync('git', ['log', '--format=%H', '--', 'server/db/landed.json'], {
  cwd: root,
  encoding: 'utf8',
});
for (const commit of before.status === 0 ? before.stdout.trim().split('\n').filter(Boolean) : []) {
  const then = spawnSync('git', ['show', `${commit}:server/db/landed.json`], { cwd: root, encoding: 'utf8' });
  if (then.status !== 0) continue;
  for (const [name, checksum] of Object.entries(JSON.parse(then.stdout)))
    if (landed[name] !== checksum) wrong.push(`${name} was another one in ${commit.slice(0, 8)}`);
}
if (wrong.length > 0) {
  process.stderr.write(
    `Migrations that have landed were changed:\n${[...new Set(wrong)].map((each) => `  ${each}\n`).join('')}`,
  );
  process.exit(1);
}
process.stdout.write(`migrations: ${Object.keys(landed).length} have landed and are unchanged\n`);
