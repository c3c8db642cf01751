import { header, type Draft, type Headers, type SipRequest } from './message';

/** The words of the answers that this project gives (RFC 3261, section 21, and its extensions). */
const REASONS: Readonly<Record<number, string>> = {
  100: 'Trying',
  180: 'Ringing',
  181: 'Call Is Being Forwarded',
  182: 'Queued',
  183: 'Session Progress',
  200: 'OK',
  202: 'Accepted',
  400: 'Bad Request',
  401: 'Unauthorized',
  403: 'Forbidden',
  404: 'Not Found',
  405: 'Method Not Allowed',
  408: 'Request Timeout',
  413: 'Request Entity Too Large',
  416: 'Unsupported URI Scheme',
  420: 'Bad Extension',
  423: 'Interval Too Brief',
  480: 'Temporarily Unavailable',
  481: 'Call/Transaction Does Not Exist',
  482: 'Loop Detected',
  483: 'Too Many Hops',
  484: 'Address Incomplete',
  486: 'Busy Here',
  487: 'Request Terminated',
  488: 'Not Acceptable Here',
  491: 'Request Pending',
  500: 'Server Internal Error',
  501: 'Not Implemented',
  503: 'Service Unavailable',
  505: 'Version Not Supported',
  513: 'Message Too Large',
  600: 'Busy Everywhere',
  603: 'Decline',
};

export const reasonOf = (status: number): string => REASONS[status] ?? '';

/** Line ends inside a value would begin another header: they are never written. */
const clean = (value: string): string =>
  value.includes('\n') || value.includes('\r') ? value.replace(/[\r\n]+/g, ' ') : value;

/** A message as it goes over the wire, a byte string, its Content-Length put in. */
export function buildSip(draft: Draft): string {
  let text =
    'method' in draft
      ? `${draft.method} ${clean(draft.uri)} SIP/2.0\r\n`
      : `SIP/2.0 ${draft.status} ${clean(draft.reason ?? reasonOf(draft.status))}\r\n`;
  for (const [name, value] of draft.headers)
    if (name !== 'Content-Length') text += `${name}: ${clean(value)}\r\n`;
  const body = draft.body ?? '';
  return `${text}Content-Length: ${body.length}\r\n\r\n${body}`;
}

/**
 * The headers of an answer to a request (RFC 3261, section 8.2.6.2): its Vias, From, To with a tag, Call-ID, CSeq and
 * Record-Routes, then what is given.
 * @param toTag put on To where it has none; null: never (100 Trying)
 */
export function answerHeaders(request: SipRequest, toTag: string | null, more: Headers = []): Headers {
  const kept: (readonly [string, string])[] = [];
  for (const field of request.headers) {
    const [name] = field;
    if (name === 'Via' || name === 'From' || name === 'Call-ID' || name === 'CSeq' || name === 'Record-Route')
      kept.push(field);
    else if (name === 'To')
      kept.push(
        toTag === null || request.to.params.tag !== undefined ? field : ['To', `${field[1]};tag=${toTag}`],
      );
  }
  return [...kept, ...more];
}

/**
 * The ACK for a final answer other than 2xx, and the CANCEL, of an INVITE: same branch, same URI (sections 17.1.1.3
 * and 9.1).
 * @param to the To of the answer, for an ACK; left out for a CANCEL
 */
export function sameBranch(invite: SipRequest, method: 'ACK' | 'CANCEL', to?: string): Draft {
  const headers: (readonly [string, string])[] = [];
  let hasVia = false;
  for (const field of invite.headers) {
    const [name] = field;
    if (name === 'Via' && !hasVia) {
      headers.push(field);
      hasVia = true;
    } else if (name === 'From' || name === 'Call-ID' || name === 'Route') headers.push(field);
    else if (name === 'To') headers.push(['To', to ?? field[1]]);
  }
  return {
    method,
    uri: invite.uri,
    headers: [
      ...headers,
      ['CSeq', `${invite.cseq.seq} ${method}`],
      ['Max-Forwards', header(invite, 'Max-Forwards') ?? '70'],
    ],
  };
}
