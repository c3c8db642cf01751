import type {
  AccessOrder,
  AccessTried,
  EmergencyTried,
  FromStandins,
  ToStandins,
} from '../../standins/messages';
import type { Network, TriedWay } from '../../core/network';
import { refusal } from '../base';
import { waitingFor } from './questions';

/** Tries of one kind that may wait at once: they go one after another, each for some seconds. */
const MOST_WAITING = 5;

/**
 * What the stand-ins try for somebody who waits for what came of it.
 * @param upToDate passes on what is live, so that nothing is tried by what was live before
 */
export function triedThere(
  send: (message: ToStandins) => void,
  isUp: () => boolean,
  upToDate: () => Promise<void>,
) {
  const presses = waitingFor<readonly string[] | null>();
  const emergencies = waitingFor<EmergencyTried | null>();
  const accesses = waitingFor<AccessTried | null>();
  const ways = waitingFor<TriedWay | null>();
  const mayWait = (count: number, what: string) => {
    if (count >= MOST_WAITING)
      throw refusal(429, `Other ${what} are being tried. Wait until they have ended.`);
  };
  const isThere = async (): Promise<boolean> => {
    if (isUp()) await upToDate();
    return isUp();
  };
  return {
    press: async (
      endpoint: string,
      code: string,
      typed: readonly string[],
    ): Promise<readonly string[] | null> =>
      (await isThere()) ? presses.ask((id) => send({ kind: 'press', id, endpoint, code, typed })) : null,
    tryEmergency: async (endpoint: string, number: string): Promise<EmergencyTried | null> => {
      if (!(await isThere())) return null;
      mayWait(emergencies.count(), 'emergency calls');
      return emergencies.ask((id) => send({ kind: 'emergency-try', id, endpoint, number }));
    },
    tryAccess: async (order: AccessOrder): Promise<AccessTried | null> => {
      if (!(await isThere())) return null;
      mayWait(accesses.count(), 'calls from outside');
      return accesses.ask((id) => send({ kind: 'access-try', id, order }));
    },
    // Of the network that is asked about alone, whatever is live.
    tryWay: (network: Network, phone: string): Promise<TriedWay | null> => {
      if (!isUp()) return Promise.resolve(null);
      mayWait(ways.count(), 'phones');
      return ways.ask((id) => send({ kind: 'way-try', id, network, phone }));
    },
    told: (
      message: Extract<FromStandins, { kind: 'pressed' | 'emergency-tried' | 'access-tried' | 'way-tried' }>,
    ): void => {
      if (message.kind === 'pressed') presses.answered(message.id, message.heard);
      else if (message.kind === 'way-tried') ways.answered(message.id, message.tried);
      else if (message.kind === 'access-tried') accesses.answered(message.id, message.tried);
      else emergencies.answered(message.id, message.tried);
    },
    systemEnded: (): void => {
      presses.all(null);
      emergencies.all(null);
      accesses.all(null);
      ways.all(null);
    },
  };
}
