import {
  answerChallenge,
  header,
  DIGEST_ALGORITHMS,
  headersOf,
  parseChallenge,
  parseNameAddr,
  type Headers,
  type SipResponse,
} from '../../core/wire/sip';
import type { Clock } from '../sip/clock';
import { hexHash } from '../sip/hash';
import { openNode, type Asked, type SipNode } from '../sip/node';
import { newToken } from '../sip/token';
import type { Peer, TransportName } from '../sip/transport';
import { takeAtPhone, type Manner, type TakenCall } from './answering';

/** A stand-in phone, softphone, or the carrier with all its mobiles: a user agent on a loopback address of its own. */
export interface PhoneOptions {
  readonly address: string;
  readonly clock: Clock;
  readonly transport?: TransportName;
  /** How it takes a call to a user of it; null: there is nobody by that name. */
  readonly manner: (user: string, asked: Asked) => Manner | null;
  readonly userAgent?: string;
  readonly onHeard?: (user: string, text: string) => void;
  /** Told that its settings have changed (RFC 6080). */
  readonly onProfile?: () => void;
}

export type RegisterResult =
  { readonly ok: true; readonly expiresS: number } | { readonly ok: false; readonly status: number };

export interface RegisterOptions {
  readonly expiresS?: number;
  readonly pushId?: string | null;
  /** It registers again only so long after its registration ran out, as old firmware does; left out: in good time. */
  readonly lateByMs?: number;
}

export interface Phone {
  readonly node: SipNode;
  /** Gives a call that was placed here its BYE. @returns a function that lets go of it */
  readonly own: (callId: string, call: TakenCall) => () => void;
  readonly address: string;
  /** Registers, and again before it runs out, until told otherwise. @param pushId by which it can be woken */
  readonly register: (
    account: { readonly user: string; readonly password: string },
    server: Peer,
    options?: RegisterOptions,
  ) => Promise<RegisterResult>;
  /** Registers again at once as it last did, as a phone does that has taken up new settings. */
  readonly refresh: () => Promise<void>;
  readonly unregister: () => Promise<void>;
  /** Stops as a phone does whose plug is pulled: nothing is said to anybody. */
  readonly close: () => Promise<void>;
}

/** Signs a request again with what its challenge asks for; null where it cannot be answered. */
export function signed(
  answer: SipResponse,
  account: { readonly user: string; readonly password: string },
  request: { readonly method: string; readonly uri: string },
): Headers | null {
  if (answer.status !== 401 && answer.status !== 407) return null;
  const name = answer.status === 401 ? 'WWW-Authenticate' : 'Proxy-Authenticate';
  const offered = headersOf(answer, name).flatMap((value) => parseChallenge(value) ?? []);
  // The strongest that is offered, wherever it stands.
  for (const algorithm of DIGEST_ALGORITHMS) {
    const challenge = offered.find((each) => each.algorithm === algorithm);
    if (!challenge) continue;
    const credentials = answerChallenge(
      hexHash,
      challenge,
      { username: account.user, password: account.password },
      request,
      { nc: 1, cnonce: newToken(6) },
    );
    return [[answer.status === 401 ? 'Authorization' : 'Proxy-Authorization', credentials]];
  }
  return null;
}

/** A phone that is put off comes again after no longer than this, in s. */
const MOST_PUT_OFF_S = 60;

/** Opens a stand-in phone. @throws where its address cannot be had */
export async function openPhone(options: PhoneOptions): Promise<Phone> {
  const { address, clock, transport = 'udp' } = options;
  const calls = new Map<string, TakenCall>();
  const callId = newToken(12);
  let seq = 0;
  let last: {
    readonly account: { readonly user: string; readonly password: string };
    readonly server: Peer;
    readonly how: RegisterOptions;
  } | null = null;
  let refresh: ReturnType<typeof setTimeout> | null = null;
  let closed = false;

  const node = await openNode({
    address,
    port: 0,
    transports: transport === 'udp' ? ['udp'] : ['udp', 'tcp'],
    now: clock.now,
    onRequest: (asked) => {
      const { request } = asked;
      switch (request.method) {
        case 'INVITE': {
          if (request.to.params.tag !== undefined) return asked.respond(488);
          const user = parseNameAddr(`<${request.uri}>`)?.uri.user ?? '';
          const manner = options.manner(user, asked);
          if (!manner) return asked.respond(404);
          const taken = takeAtPhone(asked, manner, {
            node,
            address,
            clock,
            onHeard: (text) => options.onHeard?.(user, text),
            onGone: () => calls.delete(request.callId),
          });
          calls.set(request.callId, taken);
          return;
        }
        case 'BYE': {
          const taken = calls.get(request.callId)?.bye(request, asked.from) ?? false;
          return asked.respond(taken ? 200 : 481);
        }
        case 'OPTIONS':
          return asked.respond(200, { headers: [['Allow', 'INVITE, ACK, BYE, CANCEL, OPTIONS']] });
        case 'NOTIFY': {
          const isProfile = /^ua-profile\b/i.test(header(request, 'Event') ?? '');
          if (!isProfile || !options.onProfile) return asked.respond(489);
          asked.respond(200);
          return options.onProfile();
        }
        default:
          return asked.respond(501);
      }
    },
  });

  function send(
    account: { readonly user: string; readonly password: string },
    server: Peer,
    expiresS: number,
    pushId: string | null,
    credentials: Headers,
  ): Promise<SipResponse> {
    seq += 1;
    const aor = `<sip:${account.user}@${server.host}>`;
    const local = node.transport.local[server.transport];
    const push = pushId === null ? '' : `;pn-provider=standin;pn-prid=${pushId}`;
    return new Promise((resolve) => {
      node.request(
        {
          method: 'REGISTER',
          uri: `sip:${server.host}`,
          headers: [
            ['Max-Forwards', '70'],
            ['From', `${aor};tag=${newToken(6)}`],
            ['To', aor],
            ['Call-ID', callId],
            ['CSeq', `${seq} REGISTER`],
            [
              'Contact',
              `<sip:${account.user}@${local.host}:${local.port};transport=${server.transport}${push}>`,
            ],
            ['Expires', String(expiresS)],
            ['User-Agent', options.userAgent ?? 'stand-in phone'],
            ...credentials,
          ],
        },
        server,
        (answer) => {
          if (answer.status >= 200) resolve(answer);
        },
      );
    });
  }

  async function register(
    account: { readonly user: string; readonly password: string },
    server: Peer,
    how: RegisterOptions = {},
  ): Promise<RegisterResult> {
    const { expiresS = 300, pushId = null, lateByMs } = how;
    if (refresh) clearTimeout(refresh);
    last = { account, server, how };
    const request = { method: 'REGISTER', uri: `sip:${server.host}` };
    let answer = await send(account, server, expiresS, pushId, []);
    const credentials = signed(answer, account, request);
    if (credentials) answer = await send(account, server, expiresS, pushId, credentials);
    const again = (afterMs: number) => {
      if (expiresS === 0 || closed) return;
      refresh = setTimeout(() => void register(account, server, how), afterMs);
    };
    // Put off, it is to come again later (RFC 3261, section 20.33).
    if (answer.status === 503)
      again(Math.min(Number(header(answer, 'Retry-After') ?? '10') || 10, MOST_PUT_OFF_S) * 1000);
    if (answer.status !== 200) return { ok: false, status: answer.status };
    again(lateByMs === undefined ? expiresS * 500 : expiresS * 1000 + lateByMs);
    return { ok: true, expiresS };
  }

  return {
    node,
    address,
    own: (id, call) => {
      calls.set(id, call);
      return () => calls.delete(id);
    },
    register: (account, server, more) => register(account, { ...server, transport }, more),
    refresh: async () => {
      if (last) await register(last.account, last.server, last.how);
    },
    unregister: async () => {
      if (last) await register(last.account, last.server, { expiresS: 0 });
    },
    close: async () => {
      closed = true;
      if (refresh) clearTimeout(refresh);
      for (const call of [...calls.values()]) call.close();
      await node.close();
    },
  };
}
