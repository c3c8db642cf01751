import { dbConfig, type DbConfig } from '../server/db';
import { examine } from '../server/watch';
import { fail, options } from './io';

const MARKS = { ok: 'ok   ', risk: 'risk ', fault: 'FAULT' } as const;

/** `doctor [--json]`: looks at all that a server needs, and changes nothing. Exit code 1: something is a fault. */
export async function doctor(args: string[]): Promise<number> {
  const given = options(args, { json: { type: 'boolean' } });
  if (!given.ok) return fail(given.message);
  let config: DbConfig;
  try {
    config = dbConfig();
  } catch (error) {
    return fail((error as Error).message);
  }
  const found = await examine(config);
  process.stdout.write(
    given.value.json === true
      ? `${JSON.stringify(found, null, 1)}\n`
      : found.map(({ what, state, says }) => `${MARKS[state]} ${what}: ${says}\n`).join(''),
  );
  return found.some(({ state }) => state === 'fault') ? 1 : 0;
}
