import type { NameAddr, SipUri, Via } from './message';

const NONE: Readonly<Record<string, string>> = Object.freeze({});

/** Percent-decoded; what is no escape stands as it is. The result is a byte string. */
const decoded = (text: string): string =>
  text.includes('%')
    ? text.replace(/%([0-9a-f]{2})/gi, (_, hex: string) => String.fromCharCode(Number.parseInt(hex, 16)))
    : text;

const ESCAPED = /[^A-Za-z0-9\-_.!~*'()&=+$,;?/]/g;
const encoded = (text: string): string =>
  text.replace(ESCAPED, (each) => `%${each.charCodeAt(0).toString(16).padStart(2, '0').toUpperCase()}`);

const MAX_PARAMS = 40;

/**
 * Parameters after a first `;`: `;name`, `;name=value`, `;name="quoted"`. Names in small letters.
 * @returns null where it is none, or there are too many
 */
export function parseParams(text: string): Readonly<Record<string, string>> | null {
  let at = 0;
  const end = text.length;
  while (at < end && isSpace(text.charCodeAt(at))) at += 1;
  if (at === end) return NONE;
  const params: Record<string, string> = {};
  const hasQuotes = text.includes('"');
  for (let count = 0; at < end; count += 1) {
    if (text.charCodeAt(at) !== SEMICOLON || count >= MAX_PARAMS) return null;
    let close = hasQuotes ? endOfPart(text, at + 1) : text.indexOf(';', at + 1);
    if (close < 0 && hasQuotes) return null;
    if (close < 0) close = end;
    const equals = text.indexOf('=', at);
    const nameEnd = equals < 0 || equals > close ? close : equals;
    const name = lower(text.slice(at + 1, nameEnd).trim());
    const value = nameEnd === close ? '' : text.slice(equals + 1, close).trim();
    if (!isToken(name) || name === '__proto__') return null;
    if (!Object.hasOwn(params, name)) params[name] = value.charCodeAt(0) === 34 ? unquoted(value) : value;
    at = close;
  }
  return params;
}

const SEMICOLON = 59;
const isSpace = (code: number): boolean => code === 32 || code === 9;
/** Which characters a name of a parameter may have: RFC 3261's token, and in a URI also `[`, `]`, `/`, `:`, `&`, `$`. */
const TOKEN = Uint8Array.from({ length: 128 }, (_, code) =>
  /[A-Za-z0-9\-.!%*_+`'~[\]/:&$]/.test(String.fromCharCode(code)) ? 1 : 0,
);
function isToken(text: string): boolean {
  for (let at = 0; at < text.length; at += 1) if (TOKEN[text.charCodeAt(at)] !== 1) return false;
  return text.length > 0;
}

/** In small letters; most are already, and then nothing is copied. */
function lower(text: string): string {
  for (let at = 0; at < text.length; at += 1) {
    const code = text.charCodeAt(at);
    if ((code > 64 && code < 91) || code > 127) return text.toLowerCase();
  }
  return text;
}

/** Where the part that begins at `from` ends: the next `;` outside quotes; -1 if a quote is left open. */
function endOfPart(text: string, from: number): number {
  let quoted = false;
  for (let at = from; at < text.length; at += 1) {
    const code = text.charCodeAt(at);
    if (quoted && code === 92) at += 1;
    else if (code === 34) quoted = !quoted;
    else if (code === SEMICOLON && !quoted) return at;
  }
  return quoted ? -1 : text.length;
}

const unquoted = (text: string): string =>
  text.startsWith('"') ? text.slice(1, text.endsWith('"') ? -1 : undefined).replace(/\\(.)/gs, '$1') : text;

interface HostPort {
  readonly host: string;
  readonly port: number | null;
}

const HOST = /^(?:\[[0-9A-Fa-f:.]+\]|[A-Za-z0-9](?:[A-Za-z0-9.\-_]*[A-Za-z0-9.])?)$/;

/** `host`, `host:port`, `[v6]:port`; null where it is none. */
export function parseHostPort(text: string): HostPort | null {
  const bracket = text.startsWith('[') ? text.indexOf(']') : 0;
  if (bracket < 0) return null;
  const colon = text.indexOf(':', bracket);
  const host = lower((colon < 0 ? text : text.slice(0, colon)).trim());
  if (host.length > 255 || !HOST.test(host)) return null;
  if (colon < 0) return { host, port: null };
  const digits = text.slice(colon + 1).trim();
  let port = 0;
  for (let at = 0; at < digits.length; at += 1) {
    const digit = digits.charCodeAt(at) - 48;
    if (digit < 0 || digit > 9 || at > 4) return null;
    port = port * 10 + digit;
  }
  return port > 0 && port < 65_536 ? { host, port } : null;
}

/** What stands in no URI: white space, other controls, quotes and brackets. */
// eslint-disable-next-line no-control-regex
const NEVER = /[\u0000-\u0020"<>]/;

/** A SIP, SIPS (RFC 3261, section 19.1) or tel URI (RFC 3966); null where it is none. */
export function parseUri(text: string): SipUri | null {
  const colon = text.indexOf(':');
  const scheme = lower(text.slice(0, Math.max(colon, 0)));
  if (scheme !== 'sip' && scheme !== 'sips' && scheme !== 'tel') return null;
  if (NEVER.test(text)) return null;
  let rest = text.slice(colon + 1);
  if (scheme === 'tel') {
    const semicolon = rest.indexOf(';');
    const number = semicolon < 0 ? rest : rest.slice(0, semicolon);
    const params = semicolon < 0 ? NONE : parseParams(rest.slice(semicolon));
    return params && /^\+?[0-9A-Da-d*#.()-]+$/.test(number)
      ? { scheme, user: number.replace(/[.()-]/g, ''), host: '', port: null, params }
      : null;
  }
  let user = '';
  const at = rest.lastIndexOf('@');
  if (at >= 0) {
    // A password in a URI is never wanted, and left out where one stands.
    const colonInUser = rest.lastIndexOf(':', at);
    user = decoded(rest.slice(0, colonInUser >= 0 ? colonInUser : at));
    rest = rest.slice(at + 1);
    if (user === '') return null;
  }
  const question = rest.indexOf('?');
  if (question >= 0) rest = rest.slice(0, question);
  const semicolon = rest.indexOf(';');
  const where = parseHostPort(semicolon < 0 ? rest : rest.slice(0, semicolon));
  const params = semicolon < 0 ? NONE : parseParams(rest.slice(semicolon));
  return where && params ? { scheme, user, host: where.host, port: where.port, params } : null;
}

const DISPLAY = /^[A-Za-z0-9\-.!%*_+`'~ \t\u0080-\u00ff]*$/;

const writtenParams = (params: Readonly<Record<string, string>>): string => {
  let text = '';
  for (const name in params) {
    const value = params[name]!;
    text += value === '' ? `;${name}` : `;${name}=${PLAIN.test(value) ? value : quoted(value)}`;
  }
  return text;
};
const PLAIN = /^[A-Za-z0-9\-.!%*_+`'~[\]/:&$@]+$/;
const quoted = (text: string): string => `"${text.replace(/[\\"]/g, '\\$&').replace(/[\r\n]/g, ' ')}"`;

/** A URI as it is written. */
export function writeUri(uri: SipUri): string {
  if (uri.scheme === 'tel') return `tel:${uri.user}${writtenParams(uri.params)}`;
  const user = uri.user === '' ? '' : `${encoded(uri.user)}@`;
  return `${uri.scheme}:${user}${uri.host}${uri.port === null ? '' : `:${uri.port}`}${writtenParams(uri.params)}`;
}

/** A SIP URI from its parts. */
export const sipUri = (
  user: string,
  host: string,
  port: number | null = null,
  params: Readonly<Record<string, string>> = NONE,
): SipUri => ({ scheme: 'sip', user, host, port, params });

/** A From, To, Contact or Route value: `"Name" <uri>;params` or `uri;params`; null where it is none. */
export function parseNameAddr(text: string): NameAddr | null {
  const value = text.trim();
  let display = '';
  let open: number;
  if (value.startsWith('"')) {
    let close = 1;
    while (close < value.length && value.charCodeAt(close) !== 34)
      close += value.charCodeAt(close) === 92 ? 2 : 1;
    if (close >= value.length) return null;
    display = unquoted(value.slice(0, close + 1));
    open = close + 1;
    while (open < value.length && isSpace(value.charCodeAt(open))) open += 1;
    if (value.charCodeAt(open) !== 60) return null;
  } else {
    open = value.indexOf('<');
    if (open > 0) {
      display = value.slice(0, open).trim();
      if (!DISPLAY.test(display)) return null;
    }
  }
  if (open < 0) {
    // Without brackets every parameter is the header's, not the URI's (section 20.10).
    const semicolon = value.indexOf(';');
    const uri = parseUri((semicolon < 0 ? value : value.slice(0, semicolon)).trimEnd());
    const params = semicolon < 0 ? NONE : parseParams(value.slice(semicolon));
    return uri && params ? { display, uri, params } : null;
  }
  const close = value.indexOf('>', open);
  if (close < 0) return null;
  const uri = parseUri(value.slice(open + 1, close));
  const params = parseParams(value.slice(close + 1));
  return uri && params ? { display, uri, params } : null;
}

/** A From, To, Contact or Route value as it is written. */
export const writeNameAddr = ({ display, uri, params }: NameAddr): string =>
  `${display === '' ? '' : `${quoted(display)} `}<${writeUri(uri)}>${writtenParams(params)}`;

const VIA = /^\s*SIP\s*\/\s*2\.0\s*\/\s*([A-Za-z0-9-]{1,20})\s+/i;

/** A Via value (RFC 3261, section 20.42); null where it is none. */
export function parseVia(text: string): Via | null {
  // As everybody writes it, before the form with spaces that the grammar also allows.
  const usual = text.startsWith('SIP/2.0/') ? text.indexOf(' ') : -1;
  const match = usual > 8 && usual < 14 ? null : VIA.exec(text);
  if (usual < 0 && !match) return null;
  const transport = match ? match[1]! : text.slice(8, usual);
  if (!/^[A-Za-z0-9-]+$/.test(transport)) return null;
  const rest = text.slice(match ? match[0].length : usual + 1);
  const semicolon = rest.indexOf(';');
  const where = parseHostPort((semicolon < 0 ? rest : rest.slice(0, semicolon)).trim());
  const params = semicolon < 0 ? NONE : parseParams(rest.slice(semicolon));
  return where && params
    ? { transport: transport.toUpperCase(), host: where.host, port: where.port, params }
    : null;
}

export const writeVia = ({ transport, host, port, params }: Via): string =>
  `SIP/2.0/${transport} ${host}${port === null ? '' : `:${port}`}${writtenParams(params)}`;
