import {
  header,
  headersOf,
  parseNameAddr,
  parseUri,
  writeUri,
  type Headers,
  type SipRequest,
  type SipResponse,
} from '../../core/wire/sip';
import { newToken } from './token';
import { mayUse } from './reachable';
import { type Peer } from './transport';

/** A call between two user agents once both have a tag on it (RFC 3261, section 12). */
export interface Dialog {
  readonly callId: string;
  /** From and To as this side writes them. */
  readonly local: string;
  readonly remote: string;
  readonly target: string;
  readonly routes: readonly string[];
  /** The way there: where the far end's messages come from. */
  readonly to: Peer;
  /** Where its first message of the far end came from. */
  readonly from: Peer;
  seq: number;
}

/** Where a contact's URI leads, if that can be reached from here; else the way the message came. */
export function peerOf(uri: string, from: Peer, reaches = mayUse): Peer {
  const parsed = parseUri(uri);
  if (!parsed || from.transport !== 'udp' || !reaches(parsed.host)) return from;
  return { transport: 'udp', host: parsed.host, port: parsed.port ?? 5060 };
}

const contactOf = (message: SipRequest | SipResponse): string | null => {
  const contact = header(message, 'Contact');
  const parsed = contact === undefined ? null : parseNameAddr(contact);
  return parsed && writeUri(parsed.uri);
};

/** The dialog that an INVITE from outside begins here. @param tag the tag this side put on To */
export function dialogOfInvite(request: SipRequest, tag: string, from: Peer, reaches = mayUse): Dialog {
  const to = header(request, 'To') ?? '';
  const target = contactOf(request) ?? writeUri(request.from.uri);
  return {
    callId: request.callId,
    local: request.to.params.tag === undefined ? `${to};tag=${tag}` : to,
    remote: header(request, 'From') ?? '',
    target,
    routes: headersOf(request, 'Record-Route'),
    to: peerOf(target, from, reaches),
    from,
    seq: 1,
  };
}

/** The dialog that an answer to an INVITE of this side makes. */
export function dialogOfAnswer(invite: SipRequest, answer: SipResponse, to: Peer, reaches = mayUse): Dialog {
  const target = contactOf(answer) ?? invite.uri;
  return {
    callId: invite.callId,
    local: header(invite, 'From') ?? '',
    remote: header(answer, 'To') ?? '',
    target,
    routes: headersOf(answer, 'Record-Route').reverse(),
    to: peerOf(target, to, reaches),
    from: to,
    seq: invite.cseq.seq,
  };
}

const tagIn = (value: string): string | undefined => parseNameAddr(value)?.params.tag;

/**
 * Whether a request belongs to a dialog (RFC 3261, section 12.2.2): its Call-ID and both tags, and that it comes from
 * the far end. The Call-ID alone is in every message of the call, and anybody who has seen one could end it.
 */
export const isWithin = (dialog: Dialog, request: SipRequest, from: Peer): boolean =>
  request.callId === dialog.callId &&
  request.from.params.tag !== undefined &&
  request.from.params.tag === tagIn(dialog.remote) &&
  request.to.params.tag === tagIn(dialog.local) &&
  (from.host === dialog.to.host || from.host === dialog.from.host);

/** A request within a dialog. @param seq of an ACK, the number of its INVITE; else left out */
export function inDialog(dialog: Dialog, method: string, more: Headers = [], seq?: number) {
  if (seq === undefined) dialog.seq += 1;
  return {
    method,
    uri: dialog.target,
    headers: [
      ['Max-Forwards', '70'],
      ...dialog.routes.map((route) => ['Route', route] as const),
      ['From', dialog.local],
      ['To', dialog.remote],
      ['Call-ID', dialog.callId],
      ['CSeq', `${seq ?? dialog.seq} ${method}`],
      ...more,
    ] as Headers,
  };
}

/** The headers with which a call begins. */
export const outsideDialog = (
  method: string,
  from: string,
  to: string,
  more: Headers = [],
  seq = 1,
  callId = newToken(12),
): Headers => [
  ['Max-Forwards', '70'],
  ['From', `${from};tag=${newToken(6)}`],
  ['To', to],
  ['Call-ID', callId],
  ['CSeq', `${seq} ${method}`],
  ...more,
];
