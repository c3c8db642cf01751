import { createHash, randomBytes } from 'node:crypto';
import type { ResultSetHeader, RowDataPacket } from 'mysql2/promise';
import type { Queryable } from '../db';
import type { Account, Role } from '../base';

/** A session ends this long after it was last used, and this long after it began, in seconds. */
export const IDLE_SECONDS = 8 * 3600;
export const LONGEST_SECONDS = 24 * 3600;
/** Sessions and known browsers of one account; beyond it the oldest end. */
const MOST_SESSIONS = 20;
const MOST_DEVICES = 20;
/** How long a browser that signed in is known, in seconds. */
export const DEVICE_SECONDS = 180 * 86_400;

const tokenHash = (token: string) => createHash('sha256').update(token).digest();
const newToken = () => randomBytes(32).toString('base64url');

interface AccountRow extends RowDataPacket {
  id: number;
  name: string;
  role: Role;
  person_id: string | null;
  password_hash: string;
  epoch: number;
  totp_since: Date | null;
}

/** An account with what is needed to judge a sign-in. */
export interface StoredAccount extends Omit<Account, 'session'> {
  readonly hash: string;
  /** Counts changes of password, role and person: sessions of an earlier one are over. */
  readonly epoch: number;
  readonly hasSecondFactor: boolean;
}

const storedOf = (row: AccountRow): StoredAccount => ({
  id: row.id,
  name: row.name,
  role: row.role,
  person: row.person_id,
  hash: row.password_hash,
  epoch: row.epoch,
  hasSecondFactor: row.totp_since !== null,
});

export async function findAccount(db: Queryable, name: string, lock = false): Promise<StoredAccount | null> {
  const [[row]] = await db.execute<AccountRow[]>(
    `SELECT id, name, role, person_id, password_hash, epoch, totp_since FROM account WHERE name = ?${lock ? ' FOR UPDATE' : ''}`,
    [name],
  );
  return row ? storedOf(row) : null;
}

/**
 * Makes an account, or gives one that is there a new password and role. Sessions of before are over; where it goes to
 * another person, so are the browsers known and the second factor of the one before.
 */
export async function putAccount(
  db: Queryable,
  name: string,
  role: Role,
  passwordHash: string,
  person: string | null = null,
): Promise<void> {
  const before = await findAccount(db, name);
  if (before && before.person !== person) {
    await db.execute('DELETE FROM known_device WHERE account_id = ?', [before.id]);
    await dropSecondFactor(db, before.id);
  }
  await db.execute(
    `INSERT INTO account (name, role, password_hash, person_id) VALUES (?, ?, ?, ?)
     ON DUPLICATE KEY UPDATE role = VALUES(role), password_hash = VALUES(password_hash),
       person_id = VALUES(person_id), epoch = epoch + 1`,
    [name, role, passwordHash, person],
  );
  if (before) await endSessions(db, before.id);
}

/** Gives an account a new password, which ends all its sessions. */
export async function setPassword(db: Queryable, account: number, passwordHash: string): Promise<void> {
  await db.execute('UPDATE account SET password_hash = ?, epoch = epoch + 1 WHERE id = ?', [
    passwordHash,
    account,
  ]);
  await endSessions(db, account);
}

/** Begins a session. @returns the token for the cookie; only its hash is kept */
export async function beginSession(
  db: Queryable,
  account: Pick<StoredAccount, 'id'>,
  from: string,
  agent: string,
): Promise<string> {
  const token = newToken();
  await db.execute(
    `INSERT INTO session (token_hash, account_id, epoch, from_address, agent, created_at, seen_at)
     SELECT ?, id, epoch, ?, ?, UTC_TIMESTAMP(3), UTC_TIMESTAMP(3) FROM account WHERE id = ?`,
    [tokenHash(token), from.slice(0, 60), agent.slice(0, 200), account.id],
  );
  await db.execute('DELETE FROM session WHERE created_at < UTC_TIMESTAMP(3) - INTERVAL ? SECOND', [
    LONGEST_SECONDS,
  ]);
  await keepNewest(db, 'session', 'created_at', account.id, MOST_SESSIONS);
  return token;
}

async function keepNewest(
  db: Queryable,
  table: 'session' | 'known_device',
  by: 'created_at' | 'seen_at',
  account: number,
  most: number,
): Promise<void> {
  const [rows] = await db.execute<RowDataPacket[]>(
    `SELECT token_hash FROM ${table} WHERE account_id = ? ORDER BY ${by} DESC LIMIT 1000`,
    [account],
  );
  const old = rows.slice(most).map((row) => row.token_hash as Buffer);
  if (old.length > 0) await db.query(`DELETE FROM ${table} WHERE token_hash IN (?)`, [old]);
}

export async function endSession(db: Queryable, token: string): Promise<void> {
  await db.execute('DELETE FROM session WHERE token_hash = ?', [tokenHash(token)]);
}

/** Ends one session of an account. @returns false if it has no such */
export async function endSessionById(db: Queryable, account: number, id: number): Promise<boolean> {
  const [result] = await db.execute<ResultSetHeader>('DELETE FROM session WHERE account_id = ? AND id = ?', [
    account,
    id,
  ]);
  return result.affectedRows > 0;
}

/** Ends all sessions of an account. */
export async function endSessions(db: Queryable, account: number): Promise<void> {
  await db.execute('DELETE FROM session WHERE account_id = ?', [account]);
}

/** Somebody's session, as they are shown it. Times ISO 8601, UTC. */
export interface SessionShown {
  readonly id: number;
  readonly beganAt: string;
  readonly seenAt: string;
  readonly from: string;
  readonly agent: string;
}

const GOOD = `session.epoch = account.epoch
  AND session.seen_at > UTC_TIMESTAMP(3) - INTERVAL ${IDLE_SECONDS} SECOND
  AND session.created_at > UTC_TIMESTAMP(3) - INTERVAL ${LONGEST_SECONDS} SECOND`;

export async function sessionsOf(db: Queryable, account: number): Promise<readonly SessionShown[]> {
  const [rows] = await db.execute<RowDataPacket[]>(
    `SELECT session.id, session.created_at, session.seen_at, session.from_address, session.agent
     FROM session JOIN account ON account.id = session.account_id
     WHERE account.id = ? AND ${GOOD} ORDER BY session.seen_at DESC`,
    [account],
  );
  return rows.map((row) => ({
    id: Number(row.id),
    beganAt: (row.created_at as Date).toISOString(),
    seenAt: (row.seen_at as Date).toISOString(),
    from: String(row.from_address),
    agent: String(row.agent),
  }));
}

/** Whose session this is, if it is not over; notes that it was used, at most once a minute. */
export async function accountOfSession(db: Queryable, token: string): Promise<Account | null> {
  const key = tokenHash(token);
  const [[row]] = await db.execute<(AccountRow & { stale: number; session: number })[]>(
    `SELECT account.id, account.name, account.role, account.person_id, session.id AS session,
       session.seen_at < UTC_TIMESTAMP(3) - INTERVAL 60 SECOND AS stale
     FROM session JOIN account ON account.id = session.account_id
     WHERE token_hash = ? AND ${GOOD}`,
    [key],
  );
  if (!row) return null;
  if (row.stale)
    await db.execute('UPDATE session SET seen_at = UTC_TIMESTAMP(3) WHERE token_hash = ?', [key]);
  return { id: row.id, name: row.name, role: row.role, person: row.person_id, session: Number(row.session) };
}

/** Notes the browser that an account has signed in from. @returns the token for its cookie */
export async function noteDevice(db: Queryable, account: number): Promise<string> {
  const token = newToken();
  await db.execute(
    'INSERT INTO known_device (token_hash, account_id, seen_at) VALUES (?, ?, UTC_TIMESTAMP(3))',
    [tokenHash(token), account],
  );
  await keepNewest(db, 'known_device', 'seen_at', account, MOST_DEVICES);
  return token;
}

/** Whether an account has signed in from the browser before. */
export async function isKnownDevice(db: Queryable, account: number, token: string): Promise<boolean> {
  const [rows] = await db.execute<RowDataPacket[]>(
    `SELECT 1 FROM known_device WHERE token_hash = ? AND account_id = ?
       AND seen_at > UTC_TIMESTAMP(3) - INTERVAL ? SECOND`,
    [tokenHash(token), account, DEVICE_SECONDS],
  );
  return rows.length > 0;
}

/** Takes a second factor away, with its codes. */
export async function dropSecondFactor(db: Queryable, account: number): Promise<void> {
  await db.execute('UPDATE account SET totp_since = NULL, totp_step = NULL WHERE id = ?', [account]);
  await db.execute('DELETE FROM recovery_code WHERE account_id = ?', [account]);
  await db.execute('DELETE FROM secret WHERE about IN (?, ?)', [`totp/${account}`, `totp-new/${account}`]);
}
