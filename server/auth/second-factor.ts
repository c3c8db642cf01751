import { createHash, randomBytes } from 'node:crypto';
import type { ResultSetHeader, RowDataPacket } from 'mysql2/promise';
import { Secret, TOTP } from 'otpauth';
import type { Queryable } from '../db';
import { type Keyring, putSecret, readSecret, removeSecret } from '../secrets';

/** A second factor by time (RFC 6238): SHA-1, six digits, 30 s, as every authenticator app has it. */
const PERIOD_S = 30;
/** Steps before and after that are taken too: clocks differ. */
const WINDOW = 1;
const RECOVERY_CODES = 8;

const totpOf = (base32: string, label: string) =>
  new TOTP({
    issuer: 'Hostler',
    label,
    algorithm: 'SHA1',
    digits: 6,
    period: PERIOD_S,
    secret: Secret.fromBase32(base32),
  });

/** The time step whose code this is, as far as clocks may differ; null: of none. */
function stepOf(base32: string, token: string, now: Date): number | null {
  const delta = totpOf(base32, '').validate({ token, timestamp: now.getTime(), window: WINDOW });
  return delta === null ? null : Math.floor(now.getTime() / 1000 / PERIOD_S) + delta;
}

const codeHash = (code: string) =>
  createHash('sha256')
    .update(code.toLowerCase().replace(/[^a-z0-9]/g, ''))
    .digest();

/** Begins to set one up. @returns the secret, and the address by which an app takes it (shown as a code) */
export async function proposeSecondFactor(
  db: Queryable,
  keyring: Keyring,
  account: { readonly id: number; readonly name: string },
): Promise<{ readonly secret: string; readonly uri: string }> {
  const secret = new Secret({ size: 20 }).base32;
  await putSecret(db, keyring, `totp-new/${account.id}`, secret);
  return { secret, uri: totpOf(secret, account.name).toString() };
}

/**
 * Takes the proposed one into use, if the app shows the right code for it.
 * @returns codes that stand in for it, told this once; null: the code is wrong, or none was proposed
 */
export async function takeSecondFactor(
  db: Queryable,
  keyring: Keyring,
  account: number,
  code: string,
  now: Date,
): Promise<readonly string[] | null> {
  const seed = await readSecret(db, keyring, `totp-new/${account}`);
  if (seed === null) return null;
  const step = stepOf(seed, code, now);
  if (step === null) return null;
  await putSecret(db, keyring, `totp/${account}`, seed);
  await removeSecret(db, `totp-new/${account}`);
  await db.execute('UPDATE account SET totp_since = ?, totp_step = ? WHERE id = ?', [now, step, account]);
  await db.execute('DELETE FROM recovery_code WHERE account_id = ?', [account]);
  const codes = Array.from({ length: RECOVERY_CODES }, () =>
    (randomBytes(10).toString('hex').match(/.{5}/g) ?? []).join('-'),
  );
  await db.query('INSERT INTO recovery_code (account_id, code_hash) VALUES ?', [
    codes.map((each) => [account, codeHash(each)]),
  ]);
  return codes;
}

/** Whether a code of the app, or one of those that stand in for it, is right; each serves once. */
export async function secondFactorMatches(
  db: Queryable,
  keyring: Keyring,
  account: number,
  code: string,
  now: Date,
): Promise<boolean> {
  if (/^\d{6}$/.test(code.trim())) {
    const seed = await readSecret(db, keyring, `totp/${account}`);
    if (seed === null) return false;
    const step = stepOf(seed, code.trim(), now);
    if (step === null) return false;
    const [used] = await db.execute<ResultSetHeader>(
      'UPDATE account SET totp_step = ? WHERE id = ? AND (totp_step IS NULL OR totp_step < ?)',
      [step, account, step],
    );
    return used.affectedRows === 1;
  }
  const [used] = await db.execute<ResultSetHeader>(
    'DELETE FROM recovery_code WHERE account_id = ? AND code_hash = ?',
    [account, codeHash(code)],
  );
  return used.affectedRows === 1;
}

/** Since when an account has one, ISO 8601, and how many codes that stand in for it are left; null: it has none. */
export async function secondFactorOf(
  db: Queryable,
  account: number,
): Promise<{ readonly since: string; readonly codesLeft: number } | null> {
  const [[row]] = await db.execute<RowDataPacket[]>(
    `SELECT totp_since, (SELECT COUNT(*) FROM recovery_code WHERE account_id = account.id) AS left_over
     FROM account WHERE id = ? AND totp_since IS NOT NULL`,
    [account],
  );
  return row ? { since: (row.totp_since as Date).toISOString(), codesLeft: Number(row.left_over) } : null;
}
