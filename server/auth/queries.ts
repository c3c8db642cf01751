import { createHash, randomBytes } from 'node:crypto';
import type { ResultSetHeader, RowDataPacket } from 'mysql2/promise';
import type { Queryable } from '../db';
import type { Account, Role } from '../http/routes';

/** A session ends this long after it was last used, and this long after it began, in seconds. */
export const IDLE_SECONDS = 8 * 3600;
export const LONGEST_SECONDS = 24 * 3600;
/** Failed sign-ins that an account, and an address, may have in the last quarter of an hour. */
export const FAILURES_PER_ACCOUNT = 5;
export const FAILURES_PER_ADDRESS = 30;
export const FAILURE_WINDOW_SECONDS = 900;

const tokenHash = (token: string) => createHash('sha256').update(token).digest();

interface AccountRow extends RowDataPacket {
  id: number;
  name: string;
  role: Role;
  person_id: string | null;
  password_hash: string;
}

export async function findAccount(db: Queryable, name: string): Promise<(Account & { hash: string }) | null> {
  const [[row]] = await db.execute<AccountRow[]>(
    'SELECT id, name, role, person_id, password_hash FROM account WHERE name = ?',
    [name],
  );
  return row
    ? { id: row.id, name: row.name, role: row.role, person: row.person_id, hash: row.password_hash }
    : null;
}

/** Makes an account, or gives one that is there a new password and role. */
export async function putAccount(
  db: Queryable,
  name: string,
  role: Role,
  passwordHash: string,
  person: string | null = null,
): Promise<void> {
  await db.execute(
    `INSERT INTO account (name, role, password_hash, person_id) VALUES (?, ?, ?, ?)
     ON DUPLICATE KEY UPDATE role = VALUES(role), password_hash = VALUES(password_hash), person_id = VALUES(person_id)`,
    [name, role, passwordHash, person],
  );
}

/** Begins a session. @returns the token for the cookie; only its hash is kept. */
export async function beginSession(db: Queryable, accountId: number): Promise<string> {
  const token = randomBytes(32).toString('base64url');
  await db.execute(
    'INSERT INTO session (token_hash, account_id, created_at, seen_at) VALUES (?, ?, UTC_TIMESTAMP(3), UTC_TIMESTAMP(3))',
    [tokenHash(token), accountId],
  );
  await db.execute('DELETE FROM session WHERE seen_at < UTC_TIMESTAMP(3) - INTERVAL ? SECOND', [
    LONGEST_SECONDS,
  ]);
  return token;
}

export async function endSession(db: Queryable, token: string): Promise<void> {
  await db.execute('DELETE FROM session WHERE token_hash = ?', [tokenHash(token)]);
}

/** Whose session this is, if it has not expired; notes that it was used, at most once a minute. */
export async function accountOfSession(db: Queryable, token: string): Promise<Account | null> {
  const key = tokenHash(token);
  const [[row]] = await db.execute<(AccountRow & { stale: number })[]>(
    `SELECT account.id, account.name, account.role, account.person_id, session.seen_at < UTC_TIMESTAMP(3) - INTERVAL 60 SECOND AS stale
     FROM session JOIN account ON account.id = session.account_id
     WHERE token_hash = ? AND session.seen_at > UTC_TIMESTAMP(3) - INTERVAL ? SECOND
       AND session.created_at > UTC_TIMESTAMP(3) - INTERVAL ? SECOND`,
    [key, IDLE_SECONDS, LONGEST_SECONDS],
  );
  if (!row) return null;
  if (row.stale)
    await db.execute('UPDATE session SET seen_at = UTC_TIMESTAMP(3) WHERE token_hash = ?', [key]);
  return { id: row.id, name: row.name, role: row.role, person: row.person_id };
}

/** How many sign-ins failed of late for a subject (`name:…` or `address:…`). */
export async function recentFailures(db: Queryable, subject: string): Promise<number> {
  const [[row]] = await db.execute<RowDataPacket[]>(
    'SELECT COUNT(*) AS n FROM sign_in_failure WHERE subject = ? AND at > UTC_TIMESTAMP(3) - INTERVAL ? SECOND',
    [subject, FAILURE_WINDOW_SECONDS],
  );
  return Number(row?.n ?? 0);
}

export async function noteFailure(db: Queryable, subjects: readonly string[]): Promise<void> {
  for (const subject of subjects)
    await db.execute('INSERT INTO sign_in_failure (subject, at) VALUES (?, UTC_TIMESTAMP(3))', [subject]);
  await db.execute<ResultSetHeader>(
    'DELETE FROM sign_in_failure WHERE at < UTC_TIMESTAMP(3) - INTERVAL ? SECOND',
    [FAILURE_WINDOW_SECONDS],
  );
}

export async function forgetFailures(db: Queryable, subject: string): Promise<void> {
  await db.execute('DELETE FROM sign_in_failure WHERE subject = ?', [subject]);
}
