import type { ResultSetHeader, RowDataPacket } from 'mysql2/promise';
import type { Queryable } from '../db';
import type { Keyring, Sealed } from './keyring';

interface SecretRow extends RowDataPacket {
  about: string;
  key_id: string;
  nonce: Buffer;
  cipher: Buffer;
}
const sealedOf = (row: SecretRow): Sealed => ({ keyId: row.key_id, nonce: row.nonce, cipher: row.cipher });

/** Keeps a secret under what it belongs to, in the place of the one before. */
export async function putSecret(db: Queryable, keyring: Keyring, about: string, text: string): Promise<void> {
  const { keyId, nonce, cipher } = keyring.seal(text, about);
  await db.execute(
    `INSERT INTO secret (about, key_id, nonce, cipher) VALUES (?, ?, ?, ?)
     ON DUPLICATE KEY UPDATE key_id = VALUES(key_id), nonce = VALUES(nonce), cipher = VALUES(cipher)`,
    [about, keyId, nonce, cipher],
  );
}

/** Keeps a secret where there is none yet: of two servers at once the first one's stays. */
export async function putSecretOnce(
  db: Queryable,
  keyring: Keyring,
  about: string,
  text: string,
): Promise<void> {
  const { keyId, nonce, cipher } = keyring.seal(text, about);
  await db.execute('INSERT IGNORE INTO secret (about, key_id, nonce, cipher) VALUES (?, ?, ?, ?)', [
    about,
    keyId,
    nonce,
    cipher,
  ]);
}

/** A secret by what it belongs to; null if there is none. */
export async function readSecret(db: Queryable, keyring: Keyring, about: string): Promise<string | null> {
  const [[row]] = await db.execute<SecretRow[]>('SELECT * FROM secret WHERE about = ?', [about]);
  return row ? keyring.open(sealedOf(row), about) : null;
}

/** All secrets whose names begin alike, by the rest of their names. */
export async function readSecrets(
  db: Queryable,
  keyring: Keyring,
  head: string,
): Promise<ReadonlyMap<string, string>> {
  const [rows] = await db.execute<SecretRow[]>('SELECT * FROM secret WHERE LEFT(about, ?) = ?', [
    head.length,
    head,
  ]);
  // One that cannot be opened concerns what it belongs to, and nothing else.
  return new Map(
    rows
      .filter((row) => keyring.has(row.key_id))
      .map((row) => [row.about.slice(head.length), keyring.open(sealedOf(row), row.about)]),
  );
}

export async function removeSecret(db: Queryable, about: string): Promise<void> {
  await db.execute('DELETE FROM secret WHERE about = ?', [about]);
}

/** Seals all of them again with the key that is current. @returns how many there are */
export async function sealAgain(db: Queryable, keyring: Keyring): Promise<number> {
  const [rows] = await db.query<SecretRow[]>('SELECT * FROM secret FOR UPDATE');
  const own = rows.filter((row) => keyring.has(row.key_id));
  for (const row of own) await putSecret(db, keyring, row.about, keyring.open(sealedOf(row), row.about));
  return own.length;
}

/** The keys that secrets are sealed with. */
export async function keysInUse(db: Queryable): Promise<readonly string[]> {
  const [rows] = await db.query<RowDataPacket[]>('SELECT DISTINCT key_id FROM secret');
  return rows.map((row) => String(row.key_id));
}

const CHECK = 'keyring';

/**
 * Makes sure that this server's keys are those of the database: another server's would seal what the first cannot
 * open. The first server to come leaves a secret that all others must be able to open.
 * @throws where they are not, in words for whoever starts it
 */
export async function mustOpenSecrets(db: Queryable, keyring: Keyring): Promise<void> {
  const [[row]] = await db.execute<SecretRow[]>('SELECT * FROM secret WHERE about = ?', [CHECK]);
  const used = row ? [row.key_id] : await allKeysInUse(db);
  if (used.length > 0 && !used.some((id) => keyring.has(id)))
    throw new Error(
      `The keys in ${keyring.file} are not those that this database's passwords are sealed with. Copy the key file of ` +
        'the server that made them there, or name it by HOSTLER_KEY_FILE. If it is lost: hostler rotate-key --forget-lost',
    );
  if (!row) await putSecret(db, keyring, CHECK, 'these keys are the right ones');
}

/** The keys that secrets and accounts are sealed with. */
async function allKeysInUse(db: Queryable): Promise<readonly string[]> {
  const [rows] = await db.query<RowDataPacket[]>(
    'SELECT key_id FROM secret UNION SELECT key_id FROM sip_account',
  );
  return rows.map((row) => String(row.key_id));
}

/** Removes what is sealed with keys that are lost: phones get new passwords, second factors are to be set up anew. */
export async function forgetLost(db: Queryable, keyring: Keyring): Promise<number> {
  const lost = (await allKeysInUse(db)).filter((id) => !keyring.has(id));
  if (lost.length === 0) return 0;
  let count = 0;
  await db.query(
    `UPDATE account SET totp_since = NULL, totp_step = NULL
     WHERE CONCAT('totp/', id) IN (SELECT about FROM secret WHERE key_id IN (?))`,
    [lost],
  );
  for (const table of ['secret', 'sip_account'] as const) {
    const [{ affectedRows }] = await db.query<ResultSetHeader>(`DELETE FROM ${table} WHERE key_id IN (?)`, [
      lost,
    ]);
    count += affectedRows;
  }
  return count;
}
