/**
 * SIP messages as RFC 3261 has them. Text is kept as byte strings: one character for each byte of the message, so
 * that lengths are lengths in bytes and nothing is lost on the way through; `shownText` turns UTF-8 into words.
 */

/** Headers in their order, names as this project writes them ("Call-ID"), values unfolded, one field a row. */
export type Headers = readonly (readonly [name: string, value: string])[];

export interface SipUri {
  readonly scheme: 'sip' | 'sips' | 'tel';
  /** Percent-decoded; empty where there is none. In a tel URI the number. */
  readonly user: string;
  readonly host: string;
  readonly port: number | null;
  /** Names in small letters; a parameter without a value has "". */
  readonly params: Readonly<Record<string, string>>;
}

/** A From, To, Contact or Route value (RFC 3261, section 20.10). */
export interface NameAddr {
  readonly display: string;
  readonly uri: SipUri;
  readonly params: Readonly<Record<string, string>>;
}

export interface Via {
  readonly transport: string;
  readonly host: string;
  readonly port: number | null;
  readonly params: Readonly<Record<string, string>>;
}

export interface CSeq {
  readonly seq: number;
  readonly method: string;
}

interface Common {
  readonly headers: Headers;
  /** A byte string. */
  readonly body: string;
  /** The topmost Via. */
  readonly via: Via;
  readonly from: NameAddr;
  readonly to: NameAddr;
  readonly callId: string;
  readonly cseq: CSeq;
}

export interface SipRequest extends Common {
  readonly kind: 'request';
  readonly method: string;
  /** As it stands in the request line. */
  readonly uri: string;
}

export interface SipResponse extends Common {
  readonly kind: 'response';
  readonly status: number;
  readonly reason: string;
}

export type SipMessage = SipRequest | SipResponse;

/** What a message needs to be written: its start line, headers and body; Content-Length is put in by the writer. */
export type Draft =
  | {
      readonly method: string;
      readonly uri: string;
      readonly headers: Headers;
      readonly body?: string;
    }
  | {
      readonly status: number;
      readonly reason?: string;
      readonly headers: Headers;
      readonly body?: string;
    };

/** The first value of a header, by its full name in this project's spelling. */
export function header(message: { readonly headers: Headers }, name: string): string | undefined {
  for (const [each, value] of message.headers) if (each === name) return value;
  return undefined;
}

/** All values of a header, one for each field. */
export const headersOf = (message: { readonly headers: Headers }, name: string): string[] =>
  message.headers.filter(([each]) => each === name).map(([, value]) => value);

/** UTF-8 bytes of a byte string as text; bytes that are no UTF-8 stand as U+FFFD. */
export function shownText(bytes: string): string {
  // Most messages are plain ASCII, and then there is nothing to do.
  if (!/[\u0080-\u00ff]/.test(bytes)) return bytes;
  return new TextDecoder().decode(Uint8Array.from(bytes, (each) => each.charCodeAt(0)));
}

/** Text as the byte string of its UTF-8. */
export function byteText(text: string): string {
  if (!/[\u0080-\uffff]/.test(text)) return text;
  let bytes = '';
  for (const byte of new TextEncoder().encode(text)) bytes += String.fromCharCode(byte);
  return bytes;
}
