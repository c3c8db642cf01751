import { randomBytes } from 'node:crypto';
import type { Socket } from '../../core/estate';
import { type IceCandidate, type IceOffer, priorityOf, type Sound } from '../../core/wire/sip';
import {
  attribute,
  buildStun,
  isSigned,
  looksLikeStun,
  parseStun,
  text,
  textOf,
  uint32,
  xorAddress,
  type AttributeName,
  type StunMessage,
} from '../../core/wire/stun';
import { hmacSha1 } from '../turn';
import type { Base, SoundSocket } from './socket';

/** A candidate of one's own, and the base that it belongs to. */
export interface OwnCandidate {
  readonly type: IceCandidate['type'];
  readonly socket: Socket;
  readonly base: Base;
}
export interface IceOptions {
  readonly port: number;
  /** The best first. */
  readonly candidates: readonly OwnCandidate[];
  /** Whoever places the call chooses the pair that is used (RFC 8445, section 6.1.1). */
  readonly isControlling: boolean;
  /** What the far end is told where it does not use ICE. */
  readonly written: Socket;
  readonly close: () => void;
}

/** A check is sent so often, so long apart, ms: the ways here are short. */
const TIMES = 4;
const PAUSE_MS = 100;
/** Pairs that are checked at most, and packets of sound that wait for one to be found. */
const MOST_PAIRS = 100;
const MOST_WAITING = 100;

interface Pair {
  readonly base: Base;
  readonly to: Socket;
}
const nameOf = (transaction: Uint8Array) => Buffer.from(transaction).toString('hex');
const token = (bytes: number) => randomBytes(bytes).toString('hex');

/** A socket that finds its way by connectivity checks from all its candidates to all of the far end's (RFC 8445). */
export function overIce(options: IceOptions): SoundSocket {
  const { candidates, isControlling } = options;
  const own: IceOffer = {
    ufrag: token(4),
    password: token(12),
    candidates: candidates.map(({ type, socket }) => ({ type, ...socket, priority: priorityOf(type) })),
  };
  const tieBreaker = randomBytes(8);
  const bases = [...new Set(candidates.map(({ base }) => base))];
  const pairs: Pair[] = [];
  const asked = new Map<string, { readonly pair: Pair; readonly nominates: boolean }>();
  const timers = new Set<ReturnType<typeof setTimeout>>();
  const waiting: Uint8Array[] = [];
  let far: IceOffer | null = null;
  /** Where a far end without ICE hears. */
  let plain: Socket | null = null;
  let chosen: Pair | null = null;
  let nominated = false;
  let closed = false;
  let heard: (bytes: Buffer, from: Socket) => void = () => undefined;

  function choose(pair: Pair): void {
    if (chosen) return;
    chosen = pair;
    for (const bytes of waiting.splice(0)) pair.base.send(bytes, pair.to);
  }

  function check(pair: Pair, nominates = false): void {
    const { ufrag, password } = far!;
    const transaction = randomBytes(12);
    const flag: readonly (readonly [AttributeName, Uint8Array])[] = nominates
      ? [['useCandidate', new Uint8Array(0)]]
      : [];
    const bytes = buildStun({
      method: 'binding',
      kind: 'request',
      transaction,
      attributes: [
        ['username', text(`${ufrag}:${own.ufrag}`)],
        ['priority', uint32(priorityOf('host'))],
        [isControlling ? 'iceControlling' : 'iceControlled', tieBreaker],
        ...flag,
      ],
      integrity: { key: text(password), hmac: hmacSha1 },
      fingerprint: true,
    });
    asked.set(nameOf(transaction), { pair, nominates });
    let sent = 0;
    const again = () => {
      if (closed || sent >= TIMES || !asked.has(nameOf(transaction))) return;
      sent += 1;
      pair.base.send(bytes, pair.to);
      const timer = setTimeout(() => {
        timers.delete(timer);
        again();
      }, PAUSE_MS);
      timers.add(timer);
    };
    again();
  }

  function pairWith(base: Base, to: Socket): void {
    const isKnown = pairs.some(
      (each) => each.base === base && each.to.address === to.address && each.to.port === to.port,
    );
    if (isKnown || pairs.length >= MOST_PAIRS || !far) return;
    const pair = { base, to };
    pairs.push(pair);
    check(pair);
  }

  function onCheck(base: Base, message: StunMessage, from: Socket): void {
    const [to, by] = (textOf(message, 'username') ?? '').split(':');
    if (to !== own.ufrag || !isSigned(message, text(own.password), hmacSha1)) return;
    if (far && by !== far.ufrag) return;
    base.send(
      buildStun({
        method: 'binding',
        kind: 'success',
        transaction: message.transaction,
        attributes: [['xorMappedAddress', xorAddress(from)]],
        integrity: { key: text(own.password), hmac: hmacSha1 },
        fingerprint: true,
      }),
      from,
    );
    // It came through, so the way back is tried too.
    pairWith(base, from);
    if (!isControlling && attribute(message, 'useCandidate')) choose({ base, to: from });
  }

  function onAnswer(message: StunMessage): void {
    const of = asked.get(nameOf(message.transaction));
    if (!of || !far || !isSigned(message, text(far.password), hmacSha1)) return;
    asked.delete(nameOf(message.transaction));
    if (of.nominates) return choose(of.pair);
    if (!isControlling || nominated) return;
    nominated = true;
    check(of.pair, true);
  }

  for (const base of bases)
    base.hear((bytes, from) => {
      if (closed) return;
      if (!looksLikeStun(bytes)) return heard(bytes, from);
      const message = parseStun(bytes);
      if (message?.method !== 'binding') return;
      if (message.kind === 'request') onCheck(base, message, from);
      else if (message.kind === 'success') onAnswer(message);
    });

  return {
    port: options.port,
    written: options.written,
    ice: own,
    // Who signs its checks with what was told them in the call is the far end, wherever it is.
    isOpen: true,
    send: (bytes) => {
      if (plain) bases[0]?.send(bytes, plain);
      else if (chosen) chosen.base.send(bytes, chosen.to);
      else if (waiting.length < MOST_WAITING) waiting.push(bytes);
    },
    hear: (listener) => {
      heard = listener;
    },
    aim: (to: Sound) => {
      if (far || plain) return;
      if (!to.ice) {
        plain = { address: to.address, port: to.port };
        for (const bytes of waiting.splice(0)) bases[0]?.send(bytes, plain);
        return;
      }
      far = to.ice;
      const best = [...far.candidates].sort((a, b) => b.priority - a.priority);
      for (const base of bases) for (const { address, port } of best) pairWith(base, { address, port });
    },
    close: () => {
      closed = true;
      for (const timer of timers) clearTimeout(timer);
      options.close();
    },
  };
}
