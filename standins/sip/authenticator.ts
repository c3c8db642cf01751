import { randomBytes } from 'node:crypto';
import {
  accountHash,
  DIGEST_ALGORITHMS,
  digestResponse,
  header,
  parseCredentials,
  parseUri,
  requestHash,
  writeChallenge,
  type Credentials,
  type DigestAlgorithm,
  type Headers,
  type SipRequest,
} from '../../core/wire/sip';
import { hexHash } from './hash';
import { isSameText as same, sealedWith } from './seal';

/** How long a nonce may be used, in ms. */
const NONCE_MS = 300_000;
/** Nonces whose counts are kept; beyond it the oldest are taken for too old. */
const MOST_NONCES = 50_000;

/** An account that may register or call, with what digest authentication needs of its password. */
export interface Account {
  readonly user: string;
  readonly password: string;
}

interface Served {
  readonly madeMs: number;
  nc: number;
}

/** H(A1) of an account by algorithm, made when first asked for. */
interface Hashes extends Record<DigestAlgorithm, string | null> {
  readonly password: string;
}

export type Verdict =
  | { readonly ok: true; readonly user: string }
  /** To be asked for credentials, with these headers. */
  | { readonly ok: false; readonly challenge: Headers; readonly why: 'asked' | 'stale' }
  | { readonly ok: false; readonly challenge: null; readonly why: 'wrong' | 'replayed' | 'unknown' };

/** Asks for digest credentials and judges them (RFC 3261, section 22; RFC 7616; RFC 8760). */
export interface Authenticator {
  readonly judge: (request: SipRequest) => Verdict;
}

/** @param now ms; @param passwordOf the password of an account, null if there is none by that name */
export function digestAuthenticator(
  realm: string,
  passwordOf: (user: string) => string | null,
  now: () => number = Date.now,
): Authenticator {
  const secret = randomBytes(32);
  /** Nonces that served: when they were made, and how often they were used. */
  const nonces = new Map<string, Served>();
  const accounts = new Map<string, Hashes>();
  /** H(A2) of the request last judged: nearly all ask for the same. */
  let asked = { algorithm: '', method: '', uri: '', ha2: '' };
  /** Nonces made before this are no longer known well enough to tell a replay. */
  let floorMs = 0;
  let made = 0;

  // A nonce carries its time and proves itself, so that asking costs no memory however often it is done.
  const seal = sealedWith(secret);
  const newNonce = () => {
    made += 1;
    const text = `${Math.floor(now()).toString(36)}.${made.toString(36)}`;
    return `${text}.${seal(text)}`;
  };
  const madeAt = (nonce: string): number | null => {
    const end = nonce.lastIndexOf('.');
    const text = nonce.slice(0, Math.max(end, 0));
    if (end < 0 || !same(seal(text), nonce.slice(end + 1))) return null;
    return Number.parseInt(text, 36);
  };
  const challenge = (stale: boolean): Headers => {
    const nonce = newNonce();
    // The weaker stands first, although RFC 8760 asks for the order of preference: user agents and test tools that
    // know MD5 only are found to look at the first alone, while those that know more look for it.
    return [...DIGEST_ALGORITHMS]
      .reverse()
      .map((algorithm) => [
        'WWW-Authenticate',
        writeChallenge({ realm, nonce, algorithm, ...(stale ? { stale } : {}) }),
      ]);
  };
  function ha1Of(algorithm: DigestAlgorithm, user: string, password: string): string {
    let kept = accounts.get(user);
    if (kept?.password !== password) {
      kept = { password, MD5: null, 'SHA-256': null };
      accounts.set(user, kept);
    }
    return (kept[algorithm] ??= accountHash(hexHash, algorithm, user, realm, password));
  }
  function ha2Of(given: Credentials, method: string): string {
    const { algorithm, uri } = given;
    if (asked.uri !== uri || asked.method !== method || asked.algorithm !== algorithm)
      asked = { algorithm, method, uri, ha2: requestHash(hexHash, given, method) };
    return asked.ha2;
  }

  /** Notes that a nonce was used for the nth time. @returns false if it was used so often before */
  function isNew(nonce: string, nc: number, madeMs: number, served: Served | undefined): boolean {
    if (served) {
      if (nc <= served.nc) return false;
      served.nc = nc;
      return true;
    }
    if (nonces.size >= MOST_NONCES) {
      const [oldest] = nonces;
      floorMs = Math.max(floorMs, oldest![1].madeMs);
      nonces.delete(oldest![0]);
    }
    nonces.set(nonce, { madeMs, nc });
    return madeMs > floorMs;
  }

  return {
    judge: (request) => {
      const value = header(request, 'Authorization') ?? header(request, 'Proxy-Authorization');
      const given = value === undefined ? null : parseCredentials(value);
      if (!given || given.realm !== realm) return { ok: false, challenge: challenge(false), why: 'asked' };
      // One that was used before has proved itself already.
      const served = nonces.get(given.nonce);
      const madeMs = served ? served.madeMs : madeAt(given.nonce);
      if (madeMs === null || now() - madeMs > NONCE_MS || madeMs <= floorMs)
        return { ok: false, challenge: challenge(true), why: 'stale' };
      const password = passwordOf(given.username);
      if (password === null) return { ok: false, challenge: null, why: 'unknown' };
      const ha1 = ha1Of(given.algorithm, given.username, password);
      if (
        !same(digestResponse(hexHash, given, ha1, ha2Of(given, request.method)), given.response) ||
        !isAddressed(request, given.uri)
      )
        return { ok: false, challenge: null, why: 'wrong' };
      // Without a count each nonce serves once.
      if (!isNew(given.nonce, given.qop ? given.nc : 1, madeMs, served))
        return given.qop
          ? { ok: false, challenge: challenge(true), why: 'stale' }
          : { ok: false, challenge: null, why: 'replayed' };
      return { ok: true, user: given.username };
    },
  };
}

/** The URI in the credentials must be the request's; some user agents leave out its user or its parameters. */
function isAddressed(request: SipRequest, uri: string): boolean {
  if (uri === request.uri) return true;
  const [given, wanted] = [parseUri(uri), parseUri(request.uri)];
  return (
    given !== null &&
    wanted !== null &&
    given.host === wanted.host &&
    (given.user === wanted.user || given.user === '')
  );
}
