import { writeVia, type SipRequest } from '../../core/wire/sip';
import type { Peer } from './transport';

/** With which every branch of ours begins (RFC 3261, section 8.1.1.7). */
export const COOKIE = 'z9hG4bK';

/** Where an answer goes (RFC 3261, section 18.2.2; RFC 3581): the way the request came, or the port it names. */
export function answerPeer(request: SipRequest, from: Peer): Peer {
  if (from.transport !== 'udp' || request.via.params.rport !== undefined) return from;
  return { ...from, port: request.via.port ?? 5060 };
}

/** A request with its source written into its topmost Via (RFC 3581, section 4). */
export function withSource(request: SipRequest, from: Peer): SipRequest {
  const { via } = request;
  const { rport, received } = via.params;
  if (rport === undefined && via.host === from.host) return request;
  const params: Record<string, string> = { ...via.params, received: from.host };
  if (rport !== undefined) params.rport = String(from.port);
  const stamped = { ...via, params };
  const at = request.headers.findIndex(([name]) => name === 'Via');
  const [, written] = request.headers[at]!;
  // As it is usually written, the two values are put in where they belong; else the whole is written anew.
  const isUsual = rport === '' && received === undefined && written.endsWith(';rport');
  const headers = request.headers.with(at, [
    'Via',
    isUsual ? `${written}=${from.port};received=${from.host}` : writeVia(stamped),
  ]);
  return { ...request, via: stamped, headers };
}

/** Matches a request to the transaction it repeats, acknowledges or cancels (RFC 3261, section 17.2.3). */
export function serverKey(request: SipRequest, method: string): string {
  const { via, callId, cseq, from } = request;
  const { branch } = via.params;
  const own = branch?.startsWith(COOKIE) ? branch : `${callId}|${cseq.seq}|${from.params.tag ?? ''}`;
  return `${own}|${via.host}:${via.port ?? ''}|${method}`;
}
