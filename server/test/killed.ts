import { fork } from 'node:child_process';
import { scriptAt } from '../base';
import { dbEnv, type DbConfig } from '../db';
import { NOW } from '.';

/** Does a piece of work (`killed-work.ts`) in a process of its own, which is ended before one of its statements. */
export async function workKilledAt(
  config: DbConfig,
  work: readonly string[],
  diesAt: number,
  now: Date = new Date(NOW),
): Promise<void> {
  const { file, execArgv } = scriptAt('server/test/killed-work.ts');
  const child = fork(file, [...work], {
    execArgv: [...execArgv],
    env: { ...process.env, ...dbEnv(config), HOSTLER_NOW: now.toISOString() },
  });
  child.on('message', (message: { asked?: number }) => {
    // Two statements can be asked at once: what was asked beside the one it died at gets no answer any more.
    if (message.asked === undefined || child.killed) return;
    if (message.asked === diesAt) child.kill('SIGKILL');
    else child.send('go on', () => undefined);
  });
  await new Promise<void>((done) => child.once('exit', () => done()));
}
