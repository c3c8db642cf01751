import type { RowDataPacket } from 'mysql2/promise';
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
  return new Map(rows.map((row) => [row.about.slice(head.length), keyring.open(sealedOf(row), row.about)]));
}

export async function removeSecret(db: Queryable, about: string): Promise<void> {
  await db.execute('DELETE FROM secret WHERE about = ?', [about]);
}

/** Seals all of them again with the key that is current. @returns how many there are */
export async function sealAgain(db: Queryable, keyring: Keyring): Promise<number> {
  const [rows] = await db.query<SecretRow[]>('SELECT * FROM secret FOR UPDATE');
  for (const row of rows) await putSecret(db, keyring, row.about, keyring.open(sealedOf(row), row.about));
  return rows.length;
}

/** The keys that secrets are sealed with. */
export async function keysInUse(db: Queryable): Promise<readonly string[]> {
  const [rows] = await db.query<RowDataPacket[]>('SELECT DISTINCT key_id FROM secret');
  return rows.map((row) => String(row.key_id));
}
