import { NO_MESSAGES } from '../../core/wire/sip';
import type { Switchboard } from './types';

/** Where no stand-ins run, as in tests of the other routes. */
export const noSwitchboard: Switchboard = {
  place: () => null,
  runsHere: () => false,
  relay: () => null,
  registrations: () => [],
  lost: () => [],
  waysLost: () => [],
  waiting: () => NO_MESSAGES,
  isLit: () => false,
  inCalls: () => new Set(),
  signOnsChanged: () => undefined,
  heldAt: () => null,
  seatsChanged: () => undefined,
  subscribe: () => () => undefined,
  refresh: () => Promise.resolve(),
  restart: () => undefined,
  plugIn: () => false,
  notify: () => undefined,
  callListed: () => false,
  callBack: () => false,
  callsBack: () => [],
  tryEmergency: () => Promise.resolve(null),
  tryAccess: () => Promise.resolve(null),
  tryWay: () => Promise.resolve(null),
  press: () => Promise.resolve(null),
  startTry: () => Promise.resolve(null),
  stopTry: () => undefined,
  liveTry: () => null,
  close: () => Promise.resolve(),
};
