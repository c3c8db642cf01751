import type { Socket } from '../../core/estate';
import type { Advertised } from '../../core/network';
import { header, parseNameAddr, parseSdp, parseSip, type SipMessage } from '../../core/wire/sip';

const NOTHING: Advertised = { contact: null, media: null };
const USUAL_PORT = 5060;

function contactOf(message: SipMessage): Socket | null {
  const uri = parseNameAddr(header(message, 'Contact') ?? '')?.uri;
  return uri && /^\d{1,3}(\.\d{1,3}){3}$/.test(uri.host)
    ? { address: uri.host, port: uri.port ?? USUAL_PORT }
    : null;
}

/** What a packet says of its sender's sockets, where it is SIP that a box can read. */
export function advertisedIn(text: string): Advertised {
  const parsed = parseSip(text);
  if (!parsed.ok) return NOTHING;
  const sound = parsed.message.body === '' ? null : parseSdp(parsed.message.body);
  return {
    contact: contactOf(parsed.message),
    media: sound && { address: sound.address, port: sound.port },
  };
}

const isOther = (a: Socket | null, b: Socket | null): b is Socket =>
  b !== null && (a?.address !== b.address || a.port !== b.port);

/** A SIP message in which a box has written other sockets, its length said anew. */
export function rewritten(text: string, before: Advertised, after: Advertised): string {
  const end = text.indexOf('\r\n\r\n');
  if (end < 0) return text;
  let head = text.slice(0, end);
  let body = text.slice(end + 4);
  const { contact, media } = after;
  if (isOther(before.contact, contact))
    head = head.replace(
      /^(Contact|m)(\s*:.*?sips?:(?:[^@>;\r\n]*@)?)[\d.]+(?::\d+)?/im,
      (_all, name: string, start: string) => `${name}${start}${contact.address}:${contact.port}`,
    );
  if (isOther(before.media, media))
    body = body
      .replace(/^c=IN IP4 [\d.]+/gm, `c=IN IP4 ${media.address}`)
      .replace(/^m=audio \d+/m, `m=audio ${media.port}`);
  head = head.replace(/^(Content-Length|l)(\s*:\s*)\d+/im, `$1$2${Buffer.byteLength(body, 'latin1')}`);
  return `${head}\r\n\r\n${body}`;
}
