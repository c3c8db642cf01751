import { writeVia, type SipRequest } from '../../core/sip';
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
  const params: Record<string, string> = { ...via.params };
  if (params.rport !== undefined) params.rport = String(from.port);
  if (params.rport !== undefined || via.host !== from.host) params.received = from.host;
  const stamped = { ...via, params };
  const headers = [...request.headers];
  const at = headers.findIndex(([name]) => name === 'Via');
  const [, written] = headers[at]!;
  // As it is usually written, the two values are put in where they belong; else the whole is written anew.
  const isUsual = via.params.rport === '' && via.params.received === undefined && written.endsWith(';rport');
  headers[at] = ['Via', isUsual ? `${written}=${from.port};received=${from.host}` : writeVia(stamped)];
  return { ...request, via: stamped, headers };
}

/** Matches a request to the transaction it repeats, acknowledges or cancels (RFC 3261, section 17.2.3). */
export function serverKey(request: SipRequest, method: string): string {
  const { via, callId, cseq, from } = request;
  const { branch } = via.params;
  const own = branch?.startsWith(COOKIE) ? branch : `${callId}|${cseq.seq}|${from.params.tag ?? ''}`;
  return `${own}|${via.host}:${via.port ?? ''}|${method}`;
}
