import { randomBytes } from 'node:crypto';
import {
  buildStun,
  hasOwnFingerprint,
  looksLikeStun,
  numberOf,
  parseStun,
  readError,
  socketOf,
  attribute,
  text,
  textOf,
  uint32,
  xorAddress,
  type AttributeName,
  type StunMessage,
  type StunMethod,
  type StunSocket,
} from '../../core/wire/stun';
import { hmacSha1, longTermKey } from './credentials';

/** RFC 8489, section 6.2.1: the first pause before a request is sent again, and how often it is sent, at most. */
const FIRST_PAUSE_MS = 500;
const TIMES = 7;

export interface StunClientOptions {
  /** Sends bytes to the server from the socket in question. @param lost called where it is known that they get nowhere */
  readonly send: (bytes: Uint8Array, lost: () => void) => void;
  readonly credentials?: { readonly username: string; readonly password: string };
  readonly firstPauseMs?: number;
  readonly times?: number;
  /** What comes to the relayed socket. */
  readonly onData?: (data: Uint8Array, peer: StunSocket) => void;
}

/** A relayed socket that was got. */
export interface RelayedPort {
  readonly relayed: StunSocket;
  readonly mapped: StunSocket | null;
  readonly lifetimeS: number;
}

export type Asked<T> =
  | { readonly ok: true; readonly value: T }
  | { readonly ok: false; readonly code: number | null };

/** One end of STUN and TURN from a socket that belongs to somebody else: a phone's signalling or media port. */
export interface StunClient {
  /** Takes what came to the socket, if it is meant for this. @returns whether it was */
  readonly receive: (bytes: Uint8Array) => boolean;
  /** What the server sees the socket as; null: no answer came. */
  readonly mapped: () => Promise<StunSocket | null>;
  readonly allocate: (lifetimeS?: number) => Promise<Asked<RelayedPort>>;
  readonly permit: (peer: StunSocket) => Promise<Asked<null>>;
  readonly refresh: (lifetimeS: number) => Promise<Asked<number>>;
  /** Sends from the relayed socket. */
  readonly sendTo: (peer: StunSocket, data: Uint8Array) => void;
  readonly close: () => void;
}

type Attributes = readonly (readonly [AttributeName, Uint8Array])[];

/** Opens a client. Requests are sent again until they are answered, a bounded number of times. */
export function openStunClient(options: StunClientOptions): StunClient {
  const { send, credentials, firstPauseMs = FIRST_PAUSE_MS, times = TIMES } = options;
  const waiting = new Map<string, (message: StunMessage | null) => void>();
  let realm: string | null = null;
  let nonce: string | null = null;
  let closed = false;

  const nameOf = (transaction: Uint8Array) => Buffer.from(transaction).toString('hex');
  const keyNow = () =>
    credentials && realm !== null ? longTermKey(credentials.username, realm, credentials.password) : null;

  function once(method: StunMethod, attributes: Attributes): Promise<StunMessage | null> {
    const transaction = randomBytes(12);
    const key = keyNow();
    const signing: Attributes =
      key && credentials && realm !== null && nonce !== null
        ? [
            ['username', text(credentials.username)],
            ['realm', text(realm)],
            ['nonce', text(nonce)],
          ]
        : [];
    const bytes = buildStun({
      method,
      kind: 'request',
      transaction,
      attributes: [...attributes, ...signing],
      ...(key ? { integrity: { key, hmac: hmacSha1 } } : {}),
      fingerprint: true,
    });
    return new Promise((resolve) => {
      let sent = 0;
      let timer: ReturnType<typeof setTimeout> | undefined;
      const done = (message: StunMessage | null) => {
        clearTimeout(timer);
        waiting.delete(nameOf(transaction));
        resolve(message);
      };
      const again = () => {
        if (sent >= times || closed) return done(null);
        timer = setTimeout(again, firstPauseMs * 2 ** sent);
        sent += 1;
        send(bytes, () => done(null));
      };
      waiting.set(nameOf(transaction), done);
      again();
    });
  }

  /** Asks; where it is to be signed, or with a newer nonce, once more. */
  async function ask(method: StunMethod, attributes: Attributes): Promise<Asked<StunMessage>> {
    let code: number | null = null;
    for (let tries = 0; tries < 3; tries += 1) {
      const message = await once(method, attributes);
      if (!message) return { ok: false, code: null };
      if (message.kind === 'success') return { ok: true, value: message };
      const before = nonce;
      code = readError(message);
      const isToSign = code === 438 || (code === 401 && keyNow() === null);
      realm = textOf(message, 'realm') ?? realm;
      nonce = textOf(message, 'nonce') ?? nonce;
      if (!credentials || !isToSign || nonce === before) break;
    }
    return { ok: false, code };
  }

  return {
    receive: (bytes) => {
      if (!looksLikeStun(bytes)) return false;
      const message = parseStun(bytes);
      if (!message || !hasOwnFingerprint(message)) return true;
      if (message.kind === 'indication') {
        const peer = socketOf(message, 'xorPeerAddress');
        const data = attribute(message, 'data');
        if (message.method === 'data' && peer && data) options.onData?.(data, peer);
        return true;
      }
      const waits = message.kind === 'request' ? undefined : waiting.get(nameOf(message.transaction));
      waits?.(message);
      return waits !== undefined;
    },
    mapped: async () => {
      const message = await once('binding', []);
      return message?.kind === 'success' ? socketOf(message, 'xorMappedAddress') : null;
    },
    allocate: async (lifetimeS) => {
      const made = await ask('allocate', [
        ['requestedTransport', Uint8Array.of(17, 0, 0, 0)],
        ...(lifetimeS === undefined ? [] : ([['lifetime', uint32(lifetimeS)]] as const)),
      ]);
      if (!made.ok) return made;
      const relayed = socketOf(made.value, 'xorRelayedAddress');
      if (!relayed) return { ok: false, code: null };
      const mapped = socketOf(made.value, 'xorMappedAddress');
      return { ok: true, value: { relayed, mapped, lifetimeS: numberOf(made.value, 'lifetime') ?? 0 } };
    },
    permit: async (peer) => {
      const made = await ask('createPermission', [['xorPeerAddress', xorAddress(peer)]]);
      return made.ok ? { ok: true, value: null } : made;
    },
    refresh: async (lifetimeS) => {
      const made = await ask('refresh', [['lifetime', uint32(lifetimeS)]]);
      return made.ok ? { ok: true, value: numberOf(made.value, 'lifetime') ?? 0 } : made;
    },
    sendTo: (peer, data) =>
      send(
        buildStun({
          method: 'send',
          kind: 'indication',
          transaction: randomBytes(12),
          attributes: [
            ['xorPeerAddress', xorAddress(peer)],
            ['data', data],
          ],
        }),
        () => undefined,
      ),
    close: () => {
      closed = true;
      for (const done of [...waiting.values()]) done(null);
    },
  };
}
