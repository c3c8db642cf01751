import { createHash, randomBytes } from 'node:crypto';
import type { RowDataPacket } from 'mysql2/promise';
import { isNumberKind, type Estate } from '../../core/estate';
import { deskEndpoint } from '../../core/desks';
import { inTransaction, type Db, type Queryable } from '../db';
import { type Keyring, type Sealed, keysInUse, sealAgain } from '../secrets';

/** An account by which a phone registers, or over which calls from outside come. */
export interface SipAccount {
  readonly user: string;
  readonly endpoint: string | null;
  readonly password: string;
}

/** The account of the stand-in carrier. */
export const TRUNK_USER = 'trunk';

const about = (user: string) => `sip-account/${user}`;
/** The user name of an endpoint's account: its id where that can stand in a SIP URI as it is. */
export const userFor = (endpoint: string): string =>
  /^[A-Za-z0-9_.~-]{1,64}$/.test(endpoint) && endpoint !== TRUNK_USER
    ? endpoint
    : `phone-${createHash('sha256').update(endpoint).digest('hex').slice(0, 16)}`;

/** 144 bits, in letters and digits that can be read aloud and typed. */
export const newPassword = (): string => randomBytes(18).toString('base64url').replace(/[-_]/g, 'k');

interface AccountRow extends RowDataPacket {
  user: string;
  endpoint: string | null;
  key_id: string;
  nonce: Buffer;
  cipher: Buffer;
}
const sealedOf = (row: AccountRow): Sealed => ({ keyId: row.key_id, nonce: row.nonce, cipher: row.cipher });

async function put(db: Queryable, keyring: Keyring, account: SipAccount, at: Date): Promise<void> {
  const { keyId, nonce, cipher } = keyring.seal(account.password, about(account.user));
  await db.execute(
    `INSERT INTO sip_account (user, endpoint, key_id, nonce, cipher, made_at) VALUES (?, ?, ?, ?, ?, ?)
     ON DUPLICATE KEY UPDATE key_id = VALUES(key_id), nonce = VALUES(nonce), cipher = VALUES(cipher), made_at = VALUES(made_at)`,
    [account.user, account.endpoint, keyId, nonce, cipher, at],
  );
}

/** All accounts, with their passwords; one that is sealed with a key that is not here concerns that phone alone. */
export async function readAccounts(
  db: Queryable,
  keyring: Keyring,
  onLost: (user: string) => void = () => undefined,
): Promise<readonly SipAccount[]> {
  const [rows] = await db.query<AccountRow[]>(
    'SELECT user, endpoint, key_id, nonce, cipher FROM sip_account',
  );
  const own = rows.filter(({ key_id: id, user }) => {
    if (!keyring.has(id)) onLost(user);
    return keyring.has(id);
  });
  return own.map((row) => ({
    user: row.user,
    endpoint: row.endpoint,
    password: keyring.open(sealedOf(row), about(row.user)),
  }));
}

/** Changes whenever an account or its password does, on whichever server. */
export async function accountsStamp(db: Queryable): Promise<string> {
  const [[row]] = await db.query<RowDataPacket[]>(
    'SELECT COUNT(*) AS n, MAX(made_at) AS newest, SUM(CRC32(HEX(nonce))) AS mark FROM sip_account',
  );
  return `${String(row?.n)} ${String(row?.newest)} ${String(row?.mark)}`;
}

/** The account of an endpoint; null if it has none. */
export async function readAccount(
  db: Queryable,
  keyring: Keyring,
  endpoint: string,
): Promise<SipAccount | null> {
  const [[row]] = await db.execute<AccountRow[]>(
    'SELECT user, endpoint, key_id, nonce, cipher FROM sip_account WHERE endpoint = ?',
    [endpoint],
  );
  return row && keyring.has(row.key_id)
    ? { user: row.user, endpoint: row.endpoint, password: keyring.open(sealedOf(row), about(row.user)) }
    : null;
}

/** Gives an account a new password. @returns the account; null if the endpoint has none */
export async function renewPassword(
  db: Queryable,
  keyring: Keyring,
  endpoint: string,
  at: Date,
): Promise<SipAccount | null> {
  const account = await readAccount(db, keyring, endpoint);
  if (!account) return null;
  const renewed = { ...account, password: newPassword() };
  await put(db, keyring, renewed, at);
  return renewed;
}

/** The endpoints that register with the phone system, and `desk/ID` for each shared desk. */
export const registeringIn = (estate: Estate): readonly string[] => [
  ...estate.people.flatMap(({ endpoints }) =>
    // A shared phone registers with the desk’s account, whoever is signed on there.
    endpoints.flatMap(({ id, kind }) => (isNumberKind(kind) || kind === 'hot-desk' ? [] : [id])),
  ),
  ...(estate.desks ?? []).map(({ id }) => deskEndpoint(id)),
];

/**
 * Makes an account for every endpoint that registers and has none, and takes away those of endpoints that are gone.
 * @returns whether anything was changed
 */
export async function matchAccounts(db: Db, keyring: Keyring, estate: Estate, at: Date): Promise<boolean> {
  const wanted = new Set(registeringIn(estate));
  return inTransaction(db, async (connection) => {
    const [rows] = await connection.query<AccountRow[]>('SELECT user, endpoint FROM sip_account FOR UPDATE');
    const there = new Set(rows.map(({ user, endpoint }) => endpoint ?? user));
    const gone = rows.filter(({ endpoint }) => endpoint !== null && !wanted.has(endpoint));
    for (const { user } of gone) await connection.execute('DELETE FROM sip_account WHERE user = ?', [user]);
    const missing = [
      ...(there.has(TRUNK_USER) ? [] : [{ user: TRUNK_USER, endpoint: null }]),
      ...[...wanted]
        .filter((endpoint) => !there.has(endpoint))
        .map((endpoint) => ({ user: userFor(endpoint), endpoint })),
    ];
    for (const each of missing) await put(connection, keyring, { ...each, password: newPassword() }, at);
    return gone.length + missing.length > 0;
  });
}

/**
 * Seals every secret with a new key, in one transaction. The old keys stay, so that a backup of before can still be
 * opened, unless they are to be forgotten.
 * @returns how many secrets there were
 */
export async function rotateKey(db: Db, keyring: Keyring, forgetOld = false): Promise<number> {
  keyring.addKey();
  const count = await inTransaction(db, async (tx) => {
    const [rows] = await tx.query<AccountRow[]>(
      'SELECT user, endpoint, key_id, nonce, cipher FROM sip_account FOR UPDATE',
    );
    const own = rows.filter((row) => keyring.has(row.key_id));
    for (const row of own) {
      const password = keyring.open(sealedOf(row), about(row.user));
      const { keyId, nonce, cipher } = keyring.seal(password, about(row.user));
      await tx.execute('UPDATE sip_account SET key_id = ?, nonce = ?, cipher = ? WHERE user = ?', [
        keyId,
        nonce,
        cipher,
        row.user,
      ]);
    }
    return own.length + (await sealAgain(tx, keyring));
  });
  if (forgetOld) {
    const [used] = await db.query<AccountRow[]>('SELECT DISTINCT key_id FROM sip_account');
    keyring.keepOnly([...used.map((row) => row.key_id), ...(await keysInUse(db))]);
  }
  return count;
}
