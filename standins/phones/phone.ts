import {
  answerChallenge,
  header,
  DIGEST_ALGORITHMS,
  headersOf,
  parseChallenge,
  parseMessageSummary,
  parseNameAddr,
  type Headers,
  type MessagesWaiting,
  type SipResponse,
} from '../../core/wire/sip';
import type { Clock } from '../sip/clock';
import { hexHash } from '../sip/hash';
import { openNode, type Asked, type SipNode } from '../sip/node';
import { newToken } from '../sip/token';
import { mayUse } from '../sip/reachable';
import type { Peer, TransportName } from '../sip/transport';
import { openMedia } from '../media/port';
import type { OpenMedia } from './open-media';
import type { Socket } from '../../core/estate';
import { learns, ownContact } from '../../core/network';
import type { StunClient } from '../turn';
import { takeAtPhone, type Manner, type TakenCall } from './answering';
import { openSound, stunOver, type PhoneWay } from './way';

/** A stand-in phone, softphone, or the carrier with all its mobiles: a user agent on a loopback address of its own. */
export interface PhoneOptions {
  readonly address: string;
  readonly clock: Clock;
  readonly transport?: TransportName;
  /** How it gets out of the network that it stands in; left out: it stands at the machine. */
  readonly way?: PhoneWay;
  /** How it takes a call to a user of it; null: there is nobody by that name. */
  readonly manner: (user: string, asked: Asked) => Manner | null;
  readonly userAgent?: string;
  readonly onHeard?: (user: string, text: string) => void;
  /** Told that its settings have changed (RFC 6080). */
  readonly onProfile?: () => void;
  /** Told of messages that wait, so that it lights its lamp (RFC 3842). */
  readonly onMessages?: (waiting: MessagesWaiting) => void;
}

export type RegisterResult =
  | { readonly ok: true; readonly expiresS: number }
  | { readonly ok: false; readonly status: number };

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
  /** What it says of its signalling socket. */
  readonly contact: (transport: TransportName) => Socket;
  /** Whether it may send there. */
  readonly reaches: (host: string) => boolean;
  readonly openMedia: OpenMedia;
  /** Keeps its way open once; where its socket looks otherwise from outside than before it registers anew. */
  readonly keepAlive: () => Promise<void>;
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

/** Keeps a way through a router open, and asks for nothing (RFC 5626, section 3.5.1). */
const KEEP_ALIVE = Buffer.from('\r\n\r\n', 'latin1');
/** A phone that is put off comes again after no longer than this, in s. */
const MOST_PUT_OFF_S = 60;

/** Opens a stand-in phone. @throws where its address cannot be had */
export async function openPhone(options: PhoneOptions): Promise<Phone> {
  const { address, clock, way } = options;
  const transport = way?.settings.transport ?? options.transport ?? 'udp';
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
  let isRegistered = false;
  let registering = 0;
  /** Called once what keeps a connection open was answered, or the connection opened anew. */
  let kept: () => void = () => undefined;
  let stun: StunClient | null = null;
  /** What its signalling socket looks like from outside; null: it knows nothing else than its own. */
  let learned: Socket | null = null;
  const contact = (over: TransportName): Socket => {
    const { host, port } = node.transport.local[over];
    return way ? ((over === 'udp' ? learned : null) ?? ownContact(way.settings)) : { address: host, port };
  };
  const openSoundOf: OpenMedia = async (more, places = true) =>
    openMedia({ address, ...more, ...(way ? { socket: await openSound(way, places) } : {}) });

  const node = await openNode({
    address,
    port: way?.settings.signalPort ?? 0,
    transports: way || transport === 'udp' ? ['udp'] : ['udp', 'tcp'],
    now: clock.now,
    advertised: contact,
    ...(way
      ? {
          ground: way.ground,
          rport: way.settings.rport,
          onOther: (bytes: Buffer) => stun?.receive(bytes) ?? false,
          // A connection that had carried a registration is opened anew, once.
          onStreamClosed: () => {
            const was = isRegistered;
            isRegistered = false;
            // A registration that was under way tries once more by itself.
            if (registering > 0) return;
            if (was) void again().then(() => kept());
            else kept();
          },
          onPong: () => kept(),
        }
      : {}),
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
            openMedia: openSoundOf,
            contact,
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
          const event = (header(request, 'Event') ?? '').split(';')[0]?.trim().toLowerCase();
          const waiting = event === 'message-summary' ? parseMessageSummary(request.body) : null;
          const does =
            event === 'ua-profile'
              ? options.onProfile
              : waiting && options.onMessages && (() => options.onMessages?.(waiting));
          if (!does) return asked.respond(489);
          asked.respond(200);
          return does();
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
    const local = contact(server.transport);
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
              `<sip:${account.user}@${local.address}:${local.port};transport=${server.transport}${push}>`,
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
    await learn();
    const request = { method: 'REGISTER', uri: `sip:${server.host}` };
    registering += 1;
    let answer = await send(account, server, expiresS, pushId, []);
    // A connection that is dead is opened anew.
    if (answer.status === 408 && server.transport !== 'udp' && !closed)
      answer = await send(account, server, expiresS, pushId, []);
    registering -= 1;
    const credentials = signed(answer, account, request);
    if (credentials) answer = await send(account, server, expiresS, pushId, credentials);
    const again = (afterMs: number) => {
      if (expiresS === 0 || closed) return;
      refresh = setTimeout(() => void register(account, server, how), afterMs);
    };
    // Put off, it is to come again later (RFC 3261, section 20.33).
    if (answer.status === 503)
      again(Math.min(Number(header(answer, 'Retry-After') ?? '10') || 10, MOST_PUT_OFF_S) * 1000);
    isRegistered = answer.status === 200;
    if (!isRegistered) return { ok: false, status: answer.status };
    again(lateByMs === undefined ? expiresS * 500 : expiresS * 1000 + lateByMs);
    return { ok: true, expiresS };
  }

  /** Asks what its signalling socket looks like from outside. @returns whether it looks otherwise than before */
  async function learn(): Promise<boolean> {
    if (!way?.stun || transport !== 'udp' || !learns(way.settings)) return false;
    const { stun: at } = way;
    stun ??= stunOver((bytes, lost) => node.transport.sendOther(bytes, at, lost));
    const before = learned;
    learned = await stun.mapped();
    return before?.address !== learned?.address || before?.port !== learned?.port;
  }
  async function again(): Promise<void> {
    if (last && !closed) await register(last.account, last.server, last.how);
  }

  return {
    node,
    address,
    contact,
    reaches: way?.ground.mayUse ?? mayUse,
    openMedia: openSoundOf,
    keepAlive: async () => {
      if (!last || closed) return;
      const { server } = last;
      const looksOther = await learn();
      if (server.transport === 'udp')
        node.transport.sendOther(KEEP_ALIVE, { address: server.host, port: server.port });
      else
        await new Promise<void>((resolve) => {
          kept = resolve;
          node.transport.send(KEEP_ALIVE.toString('latin1'), server);
        });
      if (looksOther) await again();
    },
    own: (id, call) => {
      calls.set(id, call);
      return () => calls.delete(id);
    },
    register: (account, server, more) => register(account, { ...server, transport }, more),
    refresh: again,
    unregister: async () => {
      if (last) await register(last.account, last.server, { expiresS: 0 });
    },
    close: async () => {
      closed = true;
      if (refresh) clearTimeout(refresh);
      stun?.close();
      for (const call of [...calls.values()]) call.close();
      await node.close();
    },
  };
}
