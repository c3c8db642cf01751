/**
 * HTTP digest authentication as SIP uses it: RFC 7616 and RFC 8760, with MD5 and SHA-256, `qop` auth. The hash is
 * given from outside, since each place where this runs has a quick one of its own.
 */
export const DIGEST_ALGORITHMS = ['SHA-256', 'MD5'] as const;
export type DigestAlgorithm = (typeof DIGEST_ALGORITHMS)[number];

/** The hash of a byte string, as small hexadecimal digits. */
export type HexHash = (algorithm: DigestAlgorithm, bytes: string) => string;

export interface Challenge {
  readonly realm: string;
  readonly nonce: string;
  readonly algorithm: DigestAlgorithm;
  /** The answer before was right but for its nonce, which is too old. */
  readonly stale?: boolean;
}

/** What an Authorization header says. */
export interface Credentials {
  readonly username: string;
  readonly realm: string;
  readonly nonce: string;
  readonly uri: string;
  readonly response: string;
  readonly algorithm: DigestAlgorithm;
  /** null: answered the old way, without `qop` (RFC 2069). */
  readonly qop: 'auth' | null;
  readonly nc: number;
  readonly ncText: string;
  readonly cnonce: string;
}

const quoted = (text: string): string => `"${text.replace(/[\\"]/g, '\\$&')}"`;

/** A challenge as a WWW-Authenticate value. */
export const writeChallenge = ({ realm, nonce, algorithm, stale }: Challenge): string =>
  `Digest realm=${quoted(realm)},nonce=${quoted(nonce)},algorithm=${algorithm},qop="auth"${stale ? ',stale=true' : ''}`;

/** What a `Digest …` value says of what is understood here. */
interface DigestValues {
  username: string | undefined;
  realm: string | undefined;
  nonce: string | undefined;
  uri: string | undefined;
  response: string | undefined;
  algorithm: string | undefined;
  qop: string | undefined;
  nc: string | undefined;
  cnonce: string | undefined;
  stale: string | undefined;
}

const NAME = /^[A-Za-z0-9_-]{1,32}$/;
const MOST_PARAMS = 20;

/** Keeps one parameter; others than those that are understood are passed over. @returns false if it stood before */
function keep(said: DigestValues, name: string, text: string): boolean {
  switch (name) {
    case 'username':
    case 'realm':
    case 'nonce':
    case 'uri':
    case 'response':
    case 'algorithm':
    case 'qop':
    case 'nc':
    case 'cnonce':
    case 'stale':
      if (said[name] !== undefined) return false;
      said[name] = text;
      return true;
    default: {
      if (!NAME.test(name)) return false;
      const small = name.toLowerCase();
      return small === name || keep(said, small, text);
    }
  }
}

const isSpace = (code: number): boolean => code === 32 || code === 9;

/** The parameters of a `Digest …` value; null where it is none, or one of them stands twice. */
function digestParams(value: string): DigestValues | null {
  if (!/^digest\s/i.test(value)) return null;
  const said: DigestValues = {
    username: undefined,
    realm: undefined,
    nonce: undefined,
    uri: undefined,
    response: undefined,
    algorithm: undefined,
    qop: undefined,
    nc: undefined,
    cnonce: undefined,
    stale: undefined,
  };
  let at = 7;
  for (let count = 0; at < value.length; count += 1) {
    while (isSpace(value.charCodeAt(at))) at += 1;
    const equals = value.indexOf('=', at);
    if (equals < 0 || count > MOST_PARAMS) return at >= value.length ? said : null;
    const name = value.slice(at, equals).trimEnd();
    let from = equals + 1;
    while (isSpace(value.charCodeAt(from))) from += 1;
    let text: string;
    let end: number;
    if (value.charCodeAt(from) === 34) {
      end = value.indexOf('"', from + 1);
      text = value.slice(from + 1, Math.max(end, 0));
      if (text.includes('\\')) {
        // Quotes may stand in it too: looked at character by character.
        end = from + 1;
        while (end < value.length && value.charCodeAt(end) !== 34)
          end += value.charCodeAt(end) === 92 ? 2 : 1;
        text = value.slice(from + 1, end).replace(/\\(.)/gs, '$1');
      }
      if (end < 0 || end >= value.length) return null;
      end += 1;
    } else {
      end = value.indexOf(',', from);
      if (end < 0) end = value.length;
      text = value.slice(from, end).trimEnd();
      if (/[\s"]/.test(text)) return null;
    }
    if (!keep(said, name, text)) return null;
    while (isSpace(value.charCodeAt(end))) end += 1;
    if (end < value.length && value.charCodeAt(end) !== 44) return null;
    at = end + 1;
  }
  return said;
}

const algorithmOf = (text: string | undefined): DigestAlgorithm | null => {
  if (text === 'MD5' || text === 'SHA-256') return text;
  const wanted = (text ?? 'MD5').toUpperCase();
  return DIGEST_ALGORITHMS.find((each) => each === wanted) ?? null;
};

/** Reads an Authorization value; null where it cannot be read or asks for what is not spoken here. */
export function parseCredentials(value: string): Credentials | null {
  const said = digestParams(value);
  if (!said) return null;
  const { username, realm, nonce, uri, response, qop, nc: ncText = '', cnonce = '' } = said;
  const algorithm = algorithmOf(said.algorithm);
  if (!algorithm || (qop !== undefined && qop !== 'auth')) return null;
  if (qop === 'auth' && !/^[0-9a-f]{8}$/i.test(ncText)) return null;
  if (
    username === undefined ||
    realm === undefined ||
    nonce === undefined ||
    uri === undefined ||
    response === undefined
  )
    return null;
  return {
    username,
    realm,
    nonce,
    uri,
    response: response.toLowerCase(),
    algorithm,
    qop: qop ?? null,
    nc: qop ? Number.parseInt(ncText, 16) : 0,
    ncText,
    cnonce,
  };
}

/** Reads a WWW-Authenticate or Proxy-Authenticate value; null where it cannot be read or answered here. */
export function parseChallenge(value: string): Challenge | null {
  const said = digestParams(value);
  if (!said) return null;
  const { realm, nonce, stale } = said;
  const algorithm = algorithmOf(said.algorithm);
  if (!algorithm || realm === undefined || nonce === undefined) return null;
  return { realm, nonce, algorithm, stale: stale?.toLowerCase() === 'true' };
}

/** H(A1) of an account (RFC 7616, section 3.4.2): all that a registrar needs of a password. */
export const accountHash = (
  hash: HexHash,
  algorithm: DigestAlgorithm,
  username: string,
  realm: string,
  password: string,
): string => hash(algorithm, `${username}:${realm}:${password}`);

/** H(A2) of a request (RFC 7616, section 3.4.3). */
export const requestHash = (
  hash: HexHash,
  { algorithm, uri }: Pick<Credentials, 'algorithm' | 'uri'>,
  method: string,
): string => hash(algorithm, `${method}:${uri}`);

/**
 * The response that right credentials have (section 3.4.1).
 * @param ha1 of `accountHash`, and `ha2` of `requestHash`, with the same algorithm
 */
export function digestResponse(
  hash: HexHash,
  given: Pick<Credentials, 'algorithm' | 'nonce' | 'qop' | 'ncText' | 'cnonce'>,
  ha1: string,
  ha2: string,
): string {
  const middle = given.qop ? `${given.nonce}:${given.ncText}:${given.cnonce}:${given.qop}` : given.nonce;
  return hash(given.algorithm, `${ha1}:${middle}:${ha2}`);
}

/** An Authorization value that answers a challenge. */
export function answerChallenge(
  hash: HexHash,
  challenge: Challenge,
  account: { readonly username: string; readonly password: string },
  request: { readonly method: string; readonly uri: string },
  count: { readonly nc: number; readonly cnonce: string },
): string {
  const { realm, nonce, algorithm } = challenge;
  const ha1 = accountHash(hash, algorithm, account.username, realm, account.password);
  const ncText = count.nc.toString(16).padStart(8, '0');
  const given = { algorithm, nonce, uri: request.uri, qop: 'auth' as const, ncText, cnonce: count.cnonce };
  const response = digestResponse(hash, given, ha1, requestHash(hash, given, request.method));
  return (
    `Digest username=${quoted(account.username)},realm=${quoted(realm)},nonce=${quoted(nonce)},` +
    `uri=${quoted(request.uri)},response="${response}",algorithm=${algorithm},qop=auth,nc=${ncText},cnonce=${quoted(count.cnonce)}`
  );
}
