import {
  answerHeaders,
  buildSip,
  header,
  parseSip,
  sameBranch,
  type Draft,
  type Headers,
  type SipRequest,
  type SipResponse,
} from '../../core/wire/sip';
import type { Timer } from './clock';
import { puttingOff } from './put-off';
import { GIVE_UP_MS, noAnswer, resending, T2 } from './resending';
import { newToken } from './token';
import { answerPeer, COOKIE, serverKey, withSource } from './via';
import type { Socket as Place } from '../../core/estate';
import {
  openTransport,
  peerKey,
  type Peer,
  type Transport,
  type TransportName,
  type TransportOptions,
} from './transport';

/** Transactions that one node keeps at most; beyond it the oldest are forgotten. */
const MOST_TRANSACTIONS = 20_000;

/** One message as it went over the wire. */
export interface Carried {
  readonly atMs: number;
  readonly from: Peer;
  readonly to: Peer;
  readonly bytes: string;
}

export interface Answer {
  readonly reason?: string;
  readonly headers?: Headers;
  readonly body?: string;
}

/** A request that came in, and the means to answer it. */
export interface Asked {
  readonly request: SipRequest;
  readonly from: Peer;
  /** The tag that answers to it put on To. */
  readonly tag: string;
  /** Whether whoever asks has shown to be where they say: only to them is an answer sent more than once. */
  proven: boolean;
  readonly respond: (status: number, answer?: Answer) => void;
  /** Sends an answer that is written already; for methods without a transaction. */
  readonly send: (bytes: string) => void;
  /** Called if the request, an INVITE, is cancelled before its final answer. */
  onCancel: () => void;
  /** Called when the 2xx answer to an INVITE is acknowledged, and when it never was. */
  onAck: (ack: SipRequest) => void;
  onNoAck: () => void;
}

/** A request on its way out. */
export interface Sent {
  readonly request: SipRequest;
  readonly to: Peer;
  /** Withdraws an INVITE that has no final answer yet. */
  readonly cancel: () => void;
}

export interface NodeOptions extends Omit<TransportOptions, 'onMessage' | 'onRefused'> {
  readonly onRequest: (asked: Asked) => void;
  /** What it says of its own socket in Via; left out: where it listens. */
  readonly advertised?: (transport: TransportName) => Place;
  /** Whether it asks for answers to come back the way its requests went (RFC 3581); left out: yes. */
  readonly rport?: boolean;
  /** Whether it answers where a request came from, whatever the request says of that: always, or to some. */
  readonly answersToSource?: boolean | ((from: Peer) => boolean);
  /** Each message, sent or received, for a capture. */
  readonly onCarried?: (carried: Carried) => void;
  readonly log?: (line: string) => void;
  /** The time that captures are stamped with. */
  readonly now: () => number;
  /** Methods answered without a transaction: their handler tells repetitions itself. */
  readonly stateless?: readonly string[];
  /** Answers to an INVITE are sent again only to who is `proven`: others must ask again themselves. */
  readonly onlyProven?: boolean;
  /** Told how many requests were put off (503) since the last time, for more came than could be answered in time. */
  readonly onShed?: (times: number) => void;
  /** Requests in progress and kept answers, at most. */
  readonly mostTransactions?: number;
}

/** One SIP user agent's or server's sockets and transactions. */
export interface SipNode {
  readonly transport: Transport;
  /** Sends a request outside or inside a dialog; a Via is put on top. @param onAnswer each answer, 408 if none came */
  readonly request: (
    draft: RequestDraft,
    to: Peer,
    onAnswer: (answer: SipResponse, sent: Sent) => void,
  ) => Sent;
  /** Sends the ACK of a 2xx answer, which is a request of its own, and again whenever that answer comes again. */
  readonly acknowledge: (draft: RequestDraft, to: Peer, answered: Sent) => void;
  readonly transactions: () => number;
  readonly close: () => Promise<void>;
}

type RequestDraft = Extract<Draft, { readonly method: string }>;

interface ServerTransaction {
  readonly asked: Asked;
  last: string | null;
  final: boolean;
  stopResending: (() => void) | null;
}

interface ClientTransaction {
  readonly sent: Sent;
  readonly bytes: string;
  readonly onAnswer: (answer: SipResponse, sent: Sent) => void;
  provisional: boolean;
  final: boolean;
  wantsCancel: boolean;
  /** What acknowledges its final answer, and where that goes. */
  ack: { readonly bytes: string; readonly to: Peer } | null;
  stop: () => void;
  /** Ends it as one to which no answer came. */
  readonly fail: () => void;
}

/** Opens a node: its sockets, and the transactions of RFC 3261, section 17, over them. */
export async function openNode(options: NodeOptions): Promise<SipNode> {
  const { onRequest, onCarried, log = () => undefined, now, answersToSource = false } = options;
  const stateless = new Set(options.stateless);
  const most = options.mostTransactions ?? MOST_TRANSACTIONS;
  const servers = new Map<string, ServerTransaction>();
  const clients = new Map<string, ClientTransaction>();
  /** 2xx answers to INVITEs that wait for their ACK, by dialog. */
  const unacknowledged = new Map<string, ServerTransaction>();
  const timers = new Set<Timer>();
  let closed = false;
  const later = (ms: number, act: () => void) => {
    if (closed) return;
    const timer = setTimeout(() => {
      timers.delete(timer);
      act();
    }, ms);
    timers.add(timer);
  };

  /** A node that is closed repeats nothing. */
  const repeating: typeof resending = (...of) => (closed ? () => undefined : resending(...of));

  const transport = await openTransport({
    ...options,
    tellsLate: options.onShed !== undefined,
    onMessage: receive,
    onStreamClosed: (to) => {
      // What was asked over it is answered by nobody any more (RFC 3261, section 8.1.3.1).
      for (const each of [...clients.values()]) if (peerKey(each.sent.to) === peerKey(to)) each.fail();
      options.onStreamClosed?.(to);
    },
    onRefused: (why, from) => log(`${from.transport} ${from.host}:${from.port}: ${why}`),
  });
  const send = (bytes: string, to: Peer) => {
    onCarried?.({ atMs: now(), from: transport.local[to.transport], to, bytes });
    transport.send(bytes, to);
  };

  const answerTo = (request: SipRequest, from: Peer): Peer =>
    (typeof answersToSource === 'function' ? answersToSource(from) : answersToSource)
      ? from
      : answerPeer(request, from);
  const withVia = (draft: RequestDraft, to: Peer): RequestDraft => {
    const local = transport.local[to.transport];
    const { address, port } = options.advertised?.(to.transport) ?? { address: local.host, port: local.port };
    const rport = options.rport === false ? '' : ';rport';
    const via = `SIP/2.0/${local.transport.toUpperCase()} ${address}:${port};branch=${COOKIE}${newToken()}${rport}`;
    return { ...draft, headers: [['Via', via], ...draft.headers] };
  };

  const putOff = puttingOff({ later, onShed: options.onShed, send });

  function receive(bytes: string, from: Peer, late = false): void {
    onCarried?.({ atMs: now(), from, to: transport.local[from.transport], bytes });
    const parsed = parseSip(bytes);
    if (!parsed.ok) {
      log(`${from.transport} ${from.host}:${from.port}: ${parsed.fault.at}: ${parsed.fault.text}`);
      return;
    }
    const { message } = parsed;
    if (message.kind === 'response') receiveAnswer(message);
    else if (late && (message.method === 'REGISTER' || message.method === 'INVITE'))
      putOff(withSource(message, from), from);
    else receiveRequest(withSource(message, from), from);
  }

  function answered(request: SipRequest, from: Peer): ServerTransaction {
    const tag = newToken(6);
    const transaction: ServerTransaction = {
      asked: {
        request,
        from,
        tag,
        proven: options.onlyProven !== true,
        respond: (status, answer = {}) => respond(transaction, status, answer),
        send: (bytes) => send(bytes, answerTo(request, from)),
        onCancel: () => undefined,
        onAck: () => undefined,
        onNoAck: () => undefined,
      },
      last: null,
      final: false,
      stopResending: null,
    };
    return transaction;
  }

  function receiveRequest(request: SipRequest, from: Peer): void {
    const { method } = request;
    if (method === 'ACK') return receiveAck(request);
    if (stateless.has(method)) return onRequest(answered(request, from).asked);
    const key = serverKey(request, method);
    const before = servers.get(key);
    if (before) {
      if (before.last !== null) send(before.last, answerTo(request, from));
      return;
    }
    const transaction = answered(request, from);
    if (servers.size >= most) {
      const [oldest] = servers;
      if (oldest) {
        // Forgotten, it is not sent again either.
        oldest[1].stopResending?.();
        servers.delete(oldest[0]);
      }
    }
    servers.set(key, transaction);
    later(GIVE_UP_MS + (method === 'INVITE' ? 180_000 : 0), () => servers.delete(key));
    if (method === 'CANCEL') {
      const invite = servers.get(serverKey(request, 'INVITE'));
      transaction.asked.respond(invite ? 200 : 481);
      if (invite && !invite.final) invite.asked.onCancel();
      return;
    }
    onRequest(transaction.asked);
  }

  const dialogKey = (request: SipRequest, tag: string) => `${request.callId}|${request.cseq.seq}|${tag}`;

  function receiveAck(ack: SipRequest): void {
    const failed = servers.get(serverKey(ack, 'INVITE'));
    failed?.stopResending?.();
    const key = dialogKey(ack, ack.to.params.tag ?? '');
    const accepted = unacknowledged.get(key);
    if (!accepted) return;
    unacknowledged.delete(key);
    accepted.stopResending?.();
    accepted.asked.onAck(ack);
  }

  function respond(transaction: ServerTransaction, status: number, answer: Answer): void {
    if (transaction.final) return;
    const { request, from, tag } = transaction.asked;
    const headers = answerHeaders(request, status === 100 ? null : tag, answer.headers);
    const bytes = buildSip({
      status,
      headers,
      body: answer.body ?? '',
      ...(answer.reason ? { reason: answer.reason } : {}),
    });
    transaction.last = bytes;
    transaction.final = status >= 200;
    const to = answerTo(request, from);
    send(bytes, to);
    if (!transaction.final || request.method !== 'INVITE') return;
    if (!transaction.asked.proven) return;
    const ok = status < 300;
    const key = dialogKey(request, request.to.params.tag ?? tag);
    if (ok) unacknowledged.set(key, transaction);
    if (to.transport !== 'udp' && !ok) return;
    transaction.stopResending = repeating(
      () => {
        if (to.transport === 'udp') send(bytes, to);
      },
      T2,
      () => {
        unacknowledged.delete(key);
        if (ok) transaction.asked.onNoAck();
      },
    );
  }

  function receiveAnswer(answer: SipResponse): void {
    const transaction = clients.get(`${answer.via.params.branch ?? ''}|${answer.cseq.method}`);
    if (!transaction) return;
    const { sent } = transaction;
    const isInvite = sent.request.method === 'INVITE';
    if (answer.status < 200) {
      if (transaction.final) return;
      transaction.provisional = true;
      if (isInvite) transaction.stop();
      if (transaction.wantsCancel) {
        transaction.wantsCancel = false;
        sendCancel(sent);
      }
      transaction.onAnswer(answer, sent);
      return;
    }
    if (isInvite && answer.status >= 300) {
      const bytes = transaction.ack?.bytes ?? buildSip(sameBranch(sent.request, 'ACK', header(answer, 'To')));
      transaction.ack = { bytes, to: sent.to };
      send(bytes, sent.to);
    } else if (transaction.final && transaction.ack !== null) send(transaction.ack.bytes, transaction.ack.to);
    if (transaction.final) return;
    transaction.final = true;
    transaction.stop();
    // Late repetitions of the answer are taken in silence for a while.
    const key = `${sent.request.via.params.branch ?? ''}|${sent.request.method}`;
    if (isInvite) later(GIVE_UP_MS, () => clients.delete(key));
    else clients.delete(key);
    transaction.onAnswer(answer, sent);
  }

  function sendCancel(sent: Sent): void {
    const { request, to } = sent;
    // One that is on its way is not begun again: it would take the place of the first, which then nobody stops.
    if (clients.has(`${request.via.params.branch ?? ''}|CANCEL`)) return;
    begin(buildSip(sameBranch(request, 'CANCEL')), to, () => undefined);
  }

  /** Sends a request that has its Via already. */
  function begin(bytes: string, to: Peer, onAnswer: (answer: SipResponse, sent: Sent) => void): Sent {
    const parsed = parseSip(bytes);
    if (!parsed.ok || parsed.message.kind !== 'request') throw new Error('a request of ours cannot be read');
    const request = parsed.message;
    const key = `${request.via.params.branch ?? ''}|${request.method}`;
    const sent: Sent = {
      request,
      to,
      cancel: () => {
        if (transaction.final) return;
        // Before any provisional answer there is nothing to cancel yet (section 9.1).
        if (transaction.provisional) sendCancel(sent);
        else transaction.wantsCancel = true;
      },
    };
    const transaction: ClientTransaction = {
      sent,
      bytes,
      onAnswer,
      provisional: false,
      final: false,
      wantsCancel: false,
      ack: null,
      stop: () => undefined,
      fail: () => {
        if (transaction.final) return;
        transaction.final = true;
        transaction.stop();
        clients.delete(key);
        onAnswer(noAnswer(request), sent);
      },
    };
    clients.set(key, transaction);
    transaction.stop = repeating(
      () => {
        if (to.transport === 'udp') send(bytes, to);
      },
      request.method === 'INVITE' ? GIVE_UP_MS : T2,
      () => {
        if (!transaction.provisional || request.method !== 'INVITE') transaction.fail();
      },
    );
    send(bytes, to);
    return sent;
  }

  return {
    transport,
    request: (draft, to, onAnswer) => begin(buildSip(withVia(draft, to)), to, onAnswer),
    acknowledge: (draft, to, answered) => {
      const bytes = buildSip(withVia(draft, to));
      const transaction = clients.get(`${answered.request.via.params.branch ?? ''}|INVITE`);
      if (transaction) transaction.ack = { bytes, to };
      send(bytes, to);
    },
    transactions: () => servers.size + clients.size,
    close: async () => {
      closed = true;
      for (const timer of timers) clearTimeout(timer);
      for (const { stopResending } of servers.values()) stopResending?.();
      for (const { stop } of clients.values()) stop();
      await transport.close();
    },
  };
}
