import { hash, verify } from '@node-rs/argon2';

/** argon2id with the library's defaults, which follow RFC 9106's second recommended option in memory terms. */
export const hashPassword = (password: string): Promise<string> => hash(password);

export const passwordMatches = (stored: string, password: string): Promise<boolean> =>
  verify(stored, password);
