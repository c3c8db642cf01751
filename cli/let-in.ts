import { randomBytes } from 'node:crypto';
import { hashPassword, dropSecondFactor, findAccount, setPassword } from '../server/auth';
import { letIn } from '../server/account';
import { inTransaction } from '../server/db';
import { addRecord } from '../server/record';
import { withDb } from './estate';
import { fail, options } from './io';

/**
 * `let-in --account NAME [--from ADDRESS] [--new-password] [--without-second-factor]`: lets somebody sign in again who
 * was locked out, by what was counted against them or by what they have lost.
 */
export async function letSomebodyIn(args: string[]): Promise<number> {
  const given = options(args, {
    account: { type: 'string' },
    from: { type: 'string' },
    'new-password': { type: 'boolean' },
    'without-second-factor': { type: 'boolean' },
  });
  if (!given.ok) return fail(given.message);
  const { account: name, from } = given.value;
  if (typeof name !== 'string') return fail('--account NAME is needed');
  return withDb(async (db) => {
    const account = await findAccount(db, name);
    if (!account) return fail(`There is no account "${name}".`);
    await letIn(db, name, ['127.0.0.1', '::1', ...(typeof from === 'string' ? [from] : [])]);
    const password = given.value['new-password'] === true ? randomBytes(12).toString('base64url') : null;
    const hash = password === null ? null : await hashPassword(password);
    const without = given.value['without-second-factor'] === true;
    await inTransaction(db, async (tx) => {
      if (hash !== null) await setPassword(tx, account.id, hash);
      if (without) await dropSecondFactor(tx, account.id);
      await addRecord(tx, {
        who: 'command line',
        kind: 'let-in',
        subject: name,
        detail: [
          ...(hash === null ? [] : ['with a new password']),
          ...(without ? ['without the second factor'] : []),
        ].join(', '),
      });
    });
    process.stdout.write(`${name} may sign in again.\n`);
    if (password !== null) process.stdout.write(`The new password, told this once: ${password}\n`);
    return 0;
  });
}
