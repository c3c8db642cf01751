import type { CSeq, SipMessage } from './message';
import { parseNameAddr, parseUri, parseVia } from './uri';

/** What a message may have at most; beyond it, it is refused without being looked at further. */
export const LIMITS = { messageBytes: 65_535, headerFields: 128, headerBytes: 8192 } as const;

/** Why a message is none, with the answer that a request deserves (RFC 3261, section 21). */
export interface SipFault {
  readonly code:
    | 'too-large'
    | 'start-line'
    | 'version'
    | 'method'
    | 'uri'
    | 'header'
    | 'too-many-headers'
    | 'missing'
    | 'via'
    | 'address'
    | 'cseq'
    | 'length'
    | 'cut-off';
  /** The header or part that is wrong. */
  readonly at: string;
  readonly status: 400 | 413 | 416 | 505;
  readonly text: string;
}

export type Parsed =
  | { readonly ok: true; readonly message: SipMessage }
  | { readonly ok: false; readonly fault: SipFault };

const fault = (
  code: SipFault['code'],
  at: string,
  text: string,
  status: SipFault['status'] = 400,
): { readonly ok: false; readonly fault: SipFault } => ({ ok: false, fault: { code, at, status, text } });

/** The compact forms of RFC 3261 (section 7.3.3) and its extensions. */
const COMPACT: Readonly<Record<string, string>> = {
  i: 'Call-ID',
  m: 'Contact',
  e: 'Content-Encoding',
  l: 'Content-Length',
  c: 'Content-Type',
  f: 'From',
  s: 'Subject',
  k: 'Supported',
  t: 'To',
  v: 'Via',
  o: 'Event',
  r: 'Refer-To',
  b: 'Referred-By',
  x: 'Session-Expires',
};

const WRITTEN = [
  'Accept',
  'Allow',
  'Authorization',
  'Call-ID',
  'Contact',
  'Content-Length',
  'Content-Type',
  'CSeq',
  'Expires',
  'From',
  'Max-Forwards',
  'Min-Expires',
  'Proxy-Authenticate',
  'Proxy-Authorization',
  'Reason',
  'Record-Route',
  'Require',
  'Route',
  'Server',
  'Supported',
  'To',
  'Unsupported',
  'User-Agent',
  'Via',
  'Warning',
  'WWW-Authenticate',
];
const NAMES: ReadonlyMap<string, string> = new Map([
  ...Object.entries(COMPACT),
  ...WRITTEN.flatMap((name) => [[name, name] as const, [name.toLowerCase(), name] as const]),
]);

const NAME = /^[A-Za-z0-9\-.!%*_+`'~]+$/;

/** The usual names by their first letter and length: found without copying anything out of the message. */
const USUAL: readonly (readonly string[] | undefined)[] = (() => {
  const table: string[][] = [];
  for (const name of WRITTEN) (table[name.charCodeAt(0) * 32 + name.length] ??= []).push(name);
  return table;
})();

/** The name of the header in `bytes` from `at` up to `end`, in this project's spelling; null where it is none. */
function nameIn(bytes: string, at: number, end: number): string | null {
  for (const name of USUAL[bytes.charCodeAt(at) * 32 + end - at] ?? [])
    if (bytes.startsWith(name, at)) return name;
  const given = bytes.slice(at, end).trimEnd();
  const known = NAMES.get(given) ?? NAMES.get(given.toLowerCase());
  if (known !== undefined) return known;
  if (!NAME.test(given)) return null;
  return given.toLowerCase().replace(/(^|-)[a-z]/g, (each) => each.toUpperCase());
}

/** The headers that hold lists, whose fields may be joined by commas. */
const LISTS: ReadonlySet<string> = new Set(['Via', 'Contact', 'Route', 'Record-Route']);

/** Splits a list at its commas outside quotes and angle brackets. */
export function splitList(value: string): readonly string[] {
  if (!value.includes(',')) return [value];
  const parts: string[] = [];
  let from = 0;
  let quoted = false;
  let inBrackets = false;
  for (let at = 0; at < value.length; at += 1) {
    const code = value.charCodeAt(at);
    if (quoted) {
      if (code === 92) at += 1;
      else if (code === 34) quoted = false;
    } else if (code === 34) quoted = true;
    else if (code === 60) inBrackets = true;
    else if (code === 62) inBrackets = false;
    else if (code === 44 && !inBrackets) {
      parts.push(value.slice(from, at).trim());
      from = at + 1;
    }
  }
  parts.push(value.slice(from).trim());
  return parts;
}

/** Where a message's head ends: the index of its empty line, and how long that is; null if it has none. */
export function headEnd(bytes: string, from = 0): { readonly at: number; readonly length: number } | null {
  const crlf = bytes.indexOf('\r\n\r\n', from);
  return crlf < 0 ? null : { at: crlf, length: 4 };
}

const CSEQ = /^(\d{1,10})\s+([A-Za-z0-9\-.!%*_+`'~]+)$/;
function parseCSeq(value: string): CSeq | null {
  const match = CSEQ.exec(value.trim());
  const seq = Number(match?.[1]);
  return match && seq < 2 ** 31 ? { seq, method: match[2]! } : null;
}

/** The fields that every message needs to be understood. */
interface Needed {
  via: string | undefined;
  callId: string | undefined;
  from: string | undefined;
  to: string | undefined;
  cseq: string | undefined;
  length: string | undefined;
}

/** Keeps a field that may stand once only. @returns false if it stood there before with another value */
function keepOnce(needed: Needed, name: string, value: string): boolean {
  switch (name) {
    case 'Via':
      needed.via ??= value;
      return true;
    case 'Call-ID':
      return (needed.callId ??= value) === value;
    case 'From':
      return (needed.from ??= value) === value;
    case 'To':
      return (needed.to ??= value) === value;
    case 'CSeq':
      return (needed.cseq ??= value) === value;
    case 'Content-Length':
      return (needed.length ??= value) === value;
    default:
      return true;
  }
}

/** Reads the header fields from `at` to `close` into `headers` and `needed`. */
function readHeaders(
  bytes: string,
  from: number,
  close: number,
  headers: (readonly [string, string])[],
  needed: Needed,
): { readonly ok: false; readonly fault: SipFault } | null {
  for (let at = from; at < close;) {
    let end = bytes.indexOf('\r\n', at);
    let folded = false;
    // A line that begins with white space goes on with the one before it (section 7.3.1).
    while (end < close && (bytes.charCodeAt(end + 2) === 32 || bytes.charCodeAt(end + 2) === 9)) {
      folded = true;
      end = bytes.indexOf('\r\n', end + 2);
    }
    if (end - at > LIMITS.headerBytes) return fault('too-large', 'header', 'A header is too long.', 413);
    const colon = bytes.indexOf(':', at);
    const name = colon < 0 || colon > end ? null : nameIn(bytes, at, colon);
    if (name === null) return fault('header', 'header', 'A header has no name.');
    // One space after the colon is usual, and copied past without a second look.
    const begin = bytes.charCodeAt(colon + 1) === 32 ? colon + 2 : colon + 1;
    let value = bytes.slice(begin, end);
    if (folded) value = value.replace(/\r\n[ \t]+/g, ' ');
    value = value.trim();
    // Half a line end could be taken for a whole one by whoever gets the message next.
    if (value.includes('\n') || value.includes('\r'))
      return fault('header', name, `${name} holds a line end that does not end it.`);
    if (!keepOnce(needed, name, value))
      return fault('header', name, `${name} stands twice, with different values.`);
    if (value.includes(',') && LISTS.has(name)) {
      const values = splitList(value);
      if (name === 'Via' && needed.via === value) needed.via = values[0];
      for (const each of values) headers.push([name, each]);
    } else headers.push([name, value]);
    if (headers.length > LIMITS.headerFields)
      return fault('too-many-headers', 'header', `More than ${LIMITS.headerFields} headers.`, 413);
    at = end + 2;
  }
  return null;
}

const REQUEST = /^([A-Za-z0-9\-.!%*_+`'~]{1,64}) (\S+) SIP\/(\d+\.\d+)$/i;
const RESPONSE = /^SIP\/(\d+\.\d+) (\d{3})(?: (.*))?$/i;
const MAX_SEQ_TEXT = 'CSeq must be a number below 2^31 and a method.';

/**
 * Reads one SIP message (RFC 3261), whole, as it came in one datagram or was cut from a stream.
 * @param bytes a byte string; empty lines before the message are passed over
 */
export function parseSip(bytes: string): Parsed {
  if (bytes.length > LIMITS.messageBytes)
    return fault('too-large', 'message', 'The message is larger than is taken.', 413);
  let from = 0;
  while (bytes.charCodeAt(from) === 13 && bytes.charCodeAt(from + 1) === 10) from += 2;
  const end = headEnd(bytes, from);
  if (!end) return fault('cut-off', 'message', 'The empty line that ends the headers is missing.');
  const headers: (readonly [string, string])[] = [];
  const needed: Needed = {
    via: undefined,
    callId: undefined,
    from: undefined,
    to: undefined,
    cseq: undefined,
    length: undefined,
  };
  const lineEnd = bytes.indexOf('\r\n', from);
  const start = bytes.slice(from, lineEnd);
  const wrong = readHeaders(bytes, lineEnd + 2, end.at, headers, needed);
  if (wrong) return wrong;
  const asked = REQUEST.exec(start);
  const answered = asked ? null : RESPONSE.exec(start);
  if (!asked && !answered) return fault('start-line', 'start line', 'This is no SIP request or response.');
  if ((asked ? asked[3] : answered![1]) !== '2.0')
    return fault('version', 'start line', 'Only SIP/2.0 is spoken here.', 505);
  const via = needed.via === undefined ? null : parseVia(needed.via);
  if (!via) return fault('via', 'Via', needed.via === undefined ? 'Via is missing.' : 'Via cannot be read.');
  const callId = needed.callId;
  if (callId === undefined || callId === '') return fault('missing', 'Call-ID', 'Call-ID is missing.');
  const fromValue = needed.from;
  const fromAddress = fromValue === undefined ? null : parseNameAddr(fromValue);
  if (!fromAddress) return fault('address', 'From', 'From is missing or cannot be read.');
  const toValue = needed.to;
  const toAddress = toValue === undefined ? null : parseNameAddr(toValue);
  if (!toAddress) return fault('address', 'To', 'To is missing or cannot be read.');
  const seqValue = needed.cseq;
  const cseq = seqValue === undefined ? null : parseCSeq(seqValue);
  if (!cseq) return fault('cseq', 'CSeq', seqValue === undefined ? 'CSeq is missing.' : MAX_SEQ_TEXT);
  const after = end.at + end.length;
  const given = needed.length;
  let length = bytes.length - after;
  if (given !== undefined) {
    if (!/^\d{1,8}$/.test(given)) return fault('length', 'Content-Length', 'Content-Length is no number.');
    if (Number(given) > length)
      return fault('length', 'Content-Length', 'The body is shorter than Content-Length says.');
    length = Number(given);
  }
  const body = length === 0 ? '' : bytes.slice(after, after + length);
  if (!asked) {
    const status = Number(answered![2]);
    if (status < 100 || status > 699)
      return fault('start-line', 'start line', 'The status is not from 100 to 699.');
    return {
      ok: true,
      message: {
        kind: 'response',
        status,
        reason: answered![3] ?? '',
        headers,
        body,
        via,
        from: fromAddress,
        to: toAddress,
        callId,
        cseq,
      },
    };
  }
  const method = asked[1]!;
  const uri = asked[2]!;
  const scheme = /^[A-Za-z][A-Za-z0-9+.-]*:/.exec(uri);
  if (!scheme) return fault('uri', 'request line', 'The request line has no URI.');
  if (parseUri(uri) === null)
    return /^(sips?|tel):/i.test(scheme[0])
      ? fault('uri', 'request line', 'The URI of the request line cannot be read.')
      : fault('uri', 'request line', 'URIs of this kind are not served here.', 416);
  if (cseq.method !== method)
    return fault('cseq', 'CSeq', 'The method of CSeq is not that of the request line.');
  // Written out: copying a common part into both costs more than all of a header.
  return {
    ok: true,
    message: {
      kind: 'request',
      method,
      uri,
      headers,
      body,
      via,
      from: fromAddress,
      to: toAddress,
      callId,
      cseq,
    },
  };
}

/**
 * Cuts messages from a stream (TCP, TLS; RFC 3261, section 18.3), each by its Content-Length, which must be there.
 * @param buffered what has come and is not used yet, a byte string
 * @returns the whole messages, what is left of the buffer, and a fault after which the stream is of no more use
 */
export function cutStream(buffered: string): {
  readonly messages: readonly string[];
  readonly rest: string;
  readonly pings: number;
  readonly fault: SipFault | null;
} {
  const messages: string[] = [];
  let at = 0;
  let pings = 0;
  const done = (fault: SipFault | null) => ({ messages, rest: buffered.slice(at), pings, fault });
  for (;;) {
    // Two line ends between messages are a keep-alive (RFC 5626, section 3.5.1).
    let lines = 0;
    while (buffered.charCodeAt(at) === 13 && buffered.charCodeAt(at + 1) === 10) {
      at += 2;
      lines += 1;
    }
    pings += lines >> 1;
    const end = headEnd(buffered, at);
    if (!end) {
      return buffered.length - at > LIMITS.messageBytes
        ? done(fault('too-large', 'message', 'The headers do not end.', 413).fault)
        : done(null);
    }
    const match = /\r\n(?:content-length|l)[ \t]*:[ \t]*(\d{1,8})[ \t]*(?:\r\n|$)/i.exec(
      buffered.slice(at, end.at),
    );
    if (!match) return done(fault('length', 'Content-Length', 'Content-Length is needed on a stream.').fault);
    const total = end.at + end.length - at + Number(match[1]);
    if (total > LIMITS.messageBytes)
      return done(fault('too-large', 'message', 'The message is larger than is taken.', 413).fault);
    if (buffered.length - at < total) return done(null);
    messages.push(buffered.slice(at, at + total));
    at += total;
  }
}
