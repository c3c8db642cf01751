import type { NetworkPhone, Server, Socket } from '../estate';
import { type Actor, homeAt, isTcp, ownContact, toPhone, toServer } from './actor';
import { reachedAt, socketText, type Topology } from './topology';

/**
 * Learns by STUN (RFC 8489) what a socket of the phone looks like from outside.
 * @returns what the server saw; null where the question or its answer was lost
 */
export function learn(actor: Actor, port: number, t: number): Socket | null {
  const { world, phone } = actor;
  const stun = stunServerOf(world.topology);
  if (!stun) return null;
  const asked = toServer(actor, 'STUN', stun, reachedAt(world.topology, phone.in, stun, stun.port), t, {
    port,
  });
  if (!asked.ok) return null;
  const answer = toPhone(actor, 'STUN answer', asked.host, asked.at.port, asked.source, t);
  return homeAt(actor, answer, port).ok ? asked.source : null;
}

/** Who answers STUN: a TURN server does too, and is asked where there is no other. */
export const stunServerOf = ({ servers }: Topology): Server | undefined => servers.stun ?? servers.turn;

const LEARNING: readonly NetworkPhone['method'][] = ['stun', 'ice', 'turn'];
/** Whether a phone asks what its sockets look like from outside. */
export const learns = ({ method }: Pick<NetworkPhone, 'method'>): boolean => LEARNING.includes(method);
/** Learns its signalling socket, if that is its way. @returns whether it now advertises another one */
export function learnContact(actor: Actor, t: number): boolean {
  const { phone, contact } = actor;
  if (isTcp(phone.transport) || !learns(phone)) return false;
  actor.contact = learn(actor, phone.signalPort, t) ?? ownContact(phone);
  return socketText(actor.contact) !== socketText(contact);
}
