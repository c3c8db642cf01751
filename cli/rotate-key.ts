import { rotateKey } from '../server/switchboard';
import { openKeyring, forgetLost } from '../server/secrets';
import { withDb } from './estate';
import { fail, options } from './io';

/**
 * `rotate-key [--forget-old] [--forget-lost]`: seals every secret of the database with a new key. The old keys stay in
 * their file, for backups, unless they are to be forgotten; what is sealed with keys that are lost can be removed.
 */
export async function rotate(args: string[]): Promise<number> {
  const given = options(args, { 'forget-old': { type: 'boolean' }, 'forget-lost': { type: 'boolean' } });
  if (!given.ok) return fail(given.message);
  return withDb(async (db) => {
    const keyring = openKeyring();
    if (given.value['forget-lost'] === true) {
      const lost = await forgetLost(db, keyring);
      process.stdout.write(
        `${lost} ${lost === 1 ? 'secret was' : 'secrets were'} sealed with lost keys and removed.\n`,
      );
    }
    const forgetOld = given.value['forget-old'] === true;
    const count = await rotateKey(db, keyring, forgetOld);
    process.stdout.write(
      `${count} ${count === 1 ? 'secret is' : 'secrets are'} sealed with a new key. ` +
        (forgetOld
          ? 'The old keys are forgotten: older backups cannot be opened.\n'
          : 'The old keys stay for older backups; --forget-old forgets them.\n'),
    );
    return 0;
  });
}
