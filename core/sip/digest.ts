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

/** The parameters of a `Digest …` value, names in small letters; null where it is none. */
function digestParams(value: string): Map<string, string> | null {
  if (!/^digest\s/i.test(value)) return null;
  const params = new Map<string, string>();
  let at = 7;
  while (at < value.length) {
    const equals = value.indexOf('=', at);
    if (equals < 0 || params.size > 20) return value.slice(at).trim() === '' ? params : null;
    const name = value.slice(at, equals).trim().toLowerCase();
    let from = equals + 1;
    while (value.charCodeAt(from) === 32 || value.charCodeAt(from) === 9) from += 1;
    let text: string;
    let end: number;
    if (value.charCodeAt(from) === 34) {
      end = from + 1;
      while (end < value.length && value.charCodeAt(end) !== 34) end += value.charCodeAt(end) === 92 ? 2 : 1;
      if (end >= value.length) return null;
      text = value.slice(from + 1, end);
      if (text.includes('\\')) text = text.replace(/\\(.)/gs, '$1');
      end += 1;
    } else {
      end = value.indexOf(',', from);
      if (end < 0) end = value.length;
      text = value.slice(from, end).trimEnd();
      if (/[\s"]/.test(text)) return null;
    }
    if (!/^[a-z0-9_-]{1,32}$/.test(name) || params.has(name)) return null;
    params.set(name, text);
    while (value.charCodeAt(end) === 32 || value.charCodeAt(end) === 9) end += 1;
    if (end < value.length && value.charCodeAt(end) !== 44) return null;
    at = end + 1;
  }
  return params;
}

const algorithmOf = (text: string | undefined): DigestAlgorithm | null => {
  const wanted = (text ?? 'MD5').toUpperCase();
  return DIGEST_ALGORITHMS.find((each) => each === wanted) ?? null;
};

/** Reads an Authorization value; null where it cannot be read or asks for what is not spoken here. */
export function parseCredentials(value: string): Credentials | null {
  const params = digestParams(value);
  if (!params) return null;
  const algorithm = algorithmOf(params.get('algorithm'));
  const qop = params.get('qop');
  const ncText = params.get('nc') ?? '';
  if (!algorithm || (qop !== undefined && qop !== 'auth')) return null;
  if (qop === 'auth' && !/^[0-9a-f]{8}$/i.test(ncText)) return null;
  const username = params.get('username');
  const realm = params.get('realm');
  const nonce = params.get('nonce');
  const uri = params.get('uri');
  const response = params.get('response');
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
    cnonce: params.get('cnonce') ?? '',
  };
}

/** Reads a WWW-Authenticate or Proxy-Authenticate value; null where it cannot be read or answered here. */
export function parseChallenge(value: string): Challenge | null {
  const params = digestParams(value);
  const algorithm = params && algorithmOf(params.get('algorithm'));
  const realm = params?.get('realm');
  const nonce = params?.get('nonce');
  if (!params || !algorithm || realm === undefined || nonce === undefined) return null;
  return { realm, nonce, algorithm, stale: params.get('stale')?.toLowerCase() === 'true' };
}

/** H(A1) of an account (RFC 7616, section 3.4.2): all that a registrar needs of a password. */
export const accountHash = (
  hash: HexHash,
  algorithm: DigestAlgorithm,
  username: string,
  realm: string,
  password: string,
): string => hash(algorithm, `${username}:${realm}:${password}`);

/**
 * The response that right credentials have (section 3.4.1).
 * @param ha1 of `accountHash`, with the same algorithm
 */
export function digestResponse(
  hash: HexHash,
  given: Pick<Credentials, 'algorithm' | 'nonce' | 'uri' | 'qop' | 'ncText' | 'cnonce'>,
  method: string,
  ha1: string,
): string {
  const ha2 = hash(given.algorithm, `${method}:${given.uri}`);
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
  const response = digestResponse(hash, given, request.method, ha1);
  return (
    `Digest username=${quoted(account.username)},realm=${quoted(realm)},nonce=${quoted(nonce)},` +
    `uri=${quoted(request.uri)},response="${response}",algorithm=${algorithm},qop=auth,nc=${ncText},cnonce=${quoted(count.cnonce)}`
  );
}
