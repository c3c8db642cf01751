import { rotateKey } from '../server/phones/accounts';
import { openKeyring } from '../server/secrets/keyring';
import { withDb } from './estate';
import { fail, options } from './io';

/** `rotate-key`: seals every secret of the database with a new key, and drops the old keys. */
export async function rotate(args: string[]): Promise<number> {
  const given = options(args, {});
  if (!given.ok) return fail(given.message);
  return withDb(async (db) => {
    const count = await rotateKey(db, openKeyring());
    process.stdout.write(`${count} ${count === 1 ? 'secret is' : 'secrets are'} sealed with a new key.\n`);
    return 0;
  });
}
