import { createHash, createHmac } from 'node:crypto';

/** The key of long-term credentials (RFC 8489, section 9.2.2), in octets. */
export const longTermKey = (user: string, realm: string, password: string): Uint8Array =>
  createHash('md5').update(`${user}:${realm}:${password}`).digest();
export const hmacSha1 = (key: Uint8Array, bytes: Uint8Array): Uint8Array =>
  createHmac('sha1', key).update(bytes).digest();

/** What lets somebody use the relay for a while. */
export interface ShortLived {
  readonly username: string;
  readonly password: string;
}

const passwordFor = (username: string, secret: string) =>
  createHmac('sha1', secret).update(username).digest('base64');

/** Credentials that run out: the name says when, and the password proves that it was given out here. @param untilMs since 1970 */
export function shortLived(name: string, untilMs: number, secret: string): ShortLived {
  const username = `${Math.floor(untilMs / 1000)}:${name}`;
  return { username, password: passwordFor(username, secret) };
}

/** The password of a name that was given out and has not run out; null of any other. */
export function passwordOfShortLived(username: string, secret: string, nowMs: number): string | null {
  const until = /^(\d{1,12}):/.exec(username)?.[1];
  return until !== undefined && Number(until) * 1000 > nowMs ? passwordFor(username, secret) : null;
}
