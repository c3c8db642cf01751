import { compileEstate } from '../../core/calls/engine';
import type { Estate, Group } from '../../core/estate';
import { workedEstate } from '../../core/tests/worked';
import { placeCall, type CallerSaw } from '../phones/caller';
import { openPhone } from '../phones/phone';
import { clockAt } from '../sip/clock';
import { openSystem } from '../system';
import type { PhoneSystem, SystemOptions } from '../system';

const TRUNK = { user: 'trunk', password: 'trunk-password' };
const EXTENSION = '4990';

/** A phone system with one group, the line, and callers from outside that call it. */
export interface LineSystem {
  /** Calls the line from a phone at an address of its own. @returns what the caller saw, once it is over */
  readonly call: (
    address: string,
    more: { readonly patienceMs?: number; readonly talkMs?: number },
  ) => Promise<CallerSaw>;
  readonly callsInProgress: () => number;
  readonly holdPhones: PhoneSystem['holdPhones'];
  readonly close: () => Promise<void>;
}

export async function openLine(
  address: string,
  speed: number,
  line: Pick<Group, 'mode' | 'members' | 'ending'>,
  more: { readonly estate?: Partial<Estate>; readonly options?: Partial<SystemOptions> } = {},
): Promise<LineSystem> {
  const clock = clockAt(speed);
  const index = compileEstate({
    ...workedEstate(),
    ...more.estate,
    groups: [{ id: 'line', name: 'Line', extension: EXTENSION, ringMs: 5000, permission: 'coast', ...line }],
  });
  const system = await openSystem({
    address,
    port: 0,
    transports: ['udp', 'tcp'],
    estate: () => index,
    account: (user) => (user === TRUNK.user ? { ...TRUNK, endpoint: null } : null),
    userOf: (endpoint) => endpoint,
    carrier: null,
    clock,
    at: () => '2026-11-24T14:20:00-07:00',
    ...more.options,
  });
  return {
    call: async (from, how) => {
      const phone = await openPhone({ address: from, clock, manner: () => null });
      const placed = await placeCall({
        phone,
        clock,
        account: TRUNK,
        server: system.node.transport.local.udp,
        from: '+16045550199',
        to: EXTENSION,
        ...how,
      });
      const saw = await placed.over;
      await phone.close();
      return saw;
    },
    callsInProgress: system.callsInProgress,
    holdPhones: system.holdPhones,
    close: system.close,
  };
}
