import { createCipheriv, createDecipheriv, randomBytes } from 'node:crypto';
import { existsSync, mkdirSync, readFileSync, renameSync, writeFileSync } from 'node:fs';
import { dirname, resolve } from 'node:path';

/** A secret as the database holds it: AES-256-GCM (NIST SP 800-38D), the tag after the text. */
export interface Sealed {
  readonly keyId: string;
  readonly nonce: Buffer;
  readonly cipher: Buffer;
}

/** The keys of secrets, kept in a file outside the database. */
export interface Keyring {
  /** @param about what the secret belongs to: it opens only for the same */
  readonly seal: (text: string, about: string) => Sealed;
  /** @throws where the key is not there, or the secret was not sealed for this */
  readonly open: (sealed: Sealed, about: string) => string;
  readonly currentId: () => string;
  /** Whether the key of this name is there. */
  readonly has: (id: string) => boolean;
  /** Where the keys lie. */
  readonly file: string;
  /** Makes a new key, which seals from now on; the old ones still open. */
  readonly addKey: () => void;
  /** Forgets the keys that nothing is sealed by any more. */
  readonly keepOnly: (used: readonly string[]) => void;
}

interface KeyFile {
  readonly current: string;
  readonly keys: Readonly<Record<string, string>>;
}

const NONCE_BYTES = 12;
const TAG_BYTES = 16;
const KEY_BYTES = 32;

/** Where the keys lie unless the environment names another place. */
export const keyFile = (): string =>
  process.env.HOSTLER_KEY_FILE ?? resolve(__dirname, '../../var/secret-keys.json');

const newKey = (): KeyFile => {
  const id = `k${Date.now().toString(36)}${randomBytes(3).toString('hex')}`;
  return { current: id, keys: { [id]: randomBytes(KEY_BYTES).toString('base64') } };
};

/** Writes the file whole or not at all, readable by its owner only. */
function write(file: string, keys: KeyFile): void {
  mkdirSync(dirname(file), { recursive: true });
  const beside = `${file}.${process.pid}.new`;
  writeFileSync(beside, JSON.stringify(keys), { mode: 0o600 });
  renameSync(beside, file);
}

function read(file: string): KeyFile {
  const keys = JSON.parse(readFileSync(file, 'utf8')) as KeyFile;
  for (const [id, key] of Object.entries(keys.keys))
    if (Buffer.from(key, 'base64').length !== KEY_BYTES)
      throw new Error(`${file}: key ${id} is not of 256 bits`);
  if (keys.keys[keys.current] === undefined) throw new Error(`${file}: the current key is not there`);
  return keys;
}

/** Opens the keys, making a first one where there is no file yet. */
export function openKeyring(file = keyFile()): Keyring {
  if (!existsSync(file)) write(file, newKey());
  let keys = read(file);
  const keyOf = (id: string): Buffer => {
    // Another process may have added a key since.
    if (keys.keys[id] === undefined) keys = read(file);
    const key = keys.keys[id];
    if (key === undefined) throw new Error(`the key ${id} that a secret was sealed with is not in ${file}`);
    return Buffer.from(key, 'base64');
  };
  return {
    seal: (text, about) => {
      // Another process may have changed the keys: what is sealed by one that was dropped could never be opened.
      keys = read(file);
      const nonce = randomBytes(NONCE_BYTES);
      const cipher = createCipheriv('aes-256-gcm', keyOf(keys.current), nonce);
      cipher.setAAD(Buffer.from(about, 'utf8'));
      const bytes = Buffer.concat([cipher.update(text, 'utf8'), cipher.final(), cipher.getAuthTag()]);
      return { keyId: keys.current, nonce, cipher: bytes };
    },
    open: ({ keyId, nonce, cipher }, about) => {
      const decipher = createDecipheriv('aes-256-gcm', keyOf(keyId), nonce);
      decipher.setAAD(Buffer.from(about, 'utf8'));
      decipher.setAuthTag(cipher.subarray(cipher.length - TAG_BYTES));
      return (
        decipher.update(cipher.subarray(0, cipher.length - TAG_BYTES), undefined, 'utf8') +
        decipher.final('utf8')
      );
    },
    file,
    has: (id) => {
      if (keys.keys[id] === undefined) keys = read(file);
      return keys.keys[id] !== undefined;
    },
    currentId: () => keys.current,
    addKey: () => {
      const added = newKey();
      keys = { current: added.current, keys: { ...read(file).keys, ...added.keys } };
      write(file, keys);
    },
    keepOnly: (used) => {
      const before = read(file);
      const kept = Object.entries(before.keys).filter(([id]) => id === before.current || used.includes(id));
      keys = { current: before.current, keys: Object.fromEntries(kept) };
      write(file, keys);
    },
  };
}
