import type { Socket } from '../estate';
import type { Actor } from './actor';
import { socketText } from './topology';
import { allocate, type Base, portBase, relayBase } from './turn';
import type { Hop } from './types';
import { type Delivery, traced, type World } from './world';

/** Rounds of checks, of which the last one counts. */
const ROUNDS = 3;

/** One candidate of a phone for ICE (RFC 8445 section 5.1): its base, and the socket that the other side sends to. */
export interface Candidate {
  readonly type: 'host' | 'reflexive' | 'relayed';
  readonly base: Base;
  readonly socket: Socket;
}

/** The candidates of a phone, the one of highest priority first. `advertised`: what it learned, or its own. */
export function candidatesOf(actor: Actor, t: number, advertised: Socket): readonly Candidate[] {
  const { phone } = actor;
  const own: Socket = { address: phone.address, port: phone.rtpPort };
  const base = portBase(actor, phone.rtpPort);
  const host: Candidate = { type: 'host', base, socket: own };
  const reflexive: readonly Candidate[] =
    socketText(advertised) === socketText(own) ? [] : [{ type: 'reflexive', base, socket: advertised }];
  const hasRelay = actor.world.topology.servers.turn !== undefined && allocate(actor, t) === null;
  const { allocation } = actor;
  const relayed: readonly Candidate[] =
    hasRelay && allocation
      ? [{ type: 'relayed', base: relayBase(actor, allocation), socket: allocation.relayed }]
      : [];
  return [host, ...reflexive, ...relayed];
}

/** An end of ICE's checks: `send` sends from its base, `take` takes in what was sent to its socket. */
export interface IceEnd {
  readonly socket: Socket;
  readonly send: Base['send'];
  readonly take: Base['take'];
}

export interface Checked {
  readonly isUsed: boolean;
  readonly there: Delivery;
  readonly back: Delivery;
  readonly thereTrace: readonly Hop[];
  readonly backTrace: readonly Hop[];
}

/** One check and its answer. @returns the check's fate where it died, otherwise its answer's */
function check(from: IceEnd, to: IceEnd, t: number): Delivery {
  const sent = to.take('check', (meant) => from.send('check', to.socket, meant, t), t);
  if (!sent.ok) return sent;
  return from.take('check answer', (meant) => to.send('check answer', sent.source, meant, t), t);
}

/** Three rounds of checks over one pair of candidates, the first end first; it is used once one side's came through. */
export function checkPair(world: World, first: IceEnd, second: IceEnd, t = 0): Checked {
  let last: Checked | null = null;
  for (let round = 0; round < ROUNDS; round++) {
    const there = traced(world, () => check(first, second, t));
    const back = traced(world, () => check(second, first, t));
    last = {
      isUsed: there.value.ok || back.value.ok,
      there: there.value,
      back: back.value,
      thereTrace: there.trace,
      backTrace: back.trace,
    };
    if (last.isUsed) return last;
  }
  if (!last) throw new Error('no round was gone');
  return last;
}

export const endOf = ({ base, socket }: Candidate): IceEnd => ({ ...base, socket });
