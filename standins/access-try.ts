import { header, parseNameAddr } from '../core/wire/sip';
import type { AccessOrder, AccessTried } from './messages';
import { oneByOne } from './one-by-one';
import { placeCall } from './phones/caller';
import { openPhone } from './phones/phone';
import type { Asked } from './sip/node';
import type { Clock } from './sip/clock';
import { newToken } from './sip/token';
import type { Peer } from './sip/transport';
import { PLACED_IN, type SystemAccount, type SystemEvent } from './system';

/** Where the caller of a try is. */
export const ACCESS_CALLER = '127.0.50.4';
/** Whoever is called inside is listened to for so long. */
const LISTENS_MS = 1500;
/** A call is given up after so long. */
const LONGEST_MS = 20_000;
/** Whoever hangs up before the answer does so after so long, and waits so long for what comes of it. */
const HANGS_UP_MS = 2500;
const WAITS_MS = 20_000;
const LOOKS_EVERY_MS = 250;

/** Calls from outside to access numbers, tried one after the other, as the carrier passes them on. */
export async function openAccessTries(clock: Clock) {
  // By this account, which no other process knows, the calls come in.
  const own: SystemAccount = { user: `access-${newToken(8)}`, password: newToken(18), endpoint: null };
  const caller = await openPhone({ address: ACCESS_CALLER, clock, manner: () => null });
  let called: AccessTried['called'] = null;
  let calledIn: string | null = null;
  let hangUp: () => void = () => undefined;
  const next = oneByOne();
  let stopped = false;

  async function tryOnce(order: AccessOrder, server: Peer): Promise<AccessTried> {
    [called, calledIn] = [null, null];
    const placed = await placeCall({
      phone: caller,
      clock,
      account: own,
      server,
      from: order.from,
      ...(order.isVerified ? { verstat: 'TN-Validation-Passed' } : {}),
      to: order.number,
      answers: order.typed,
      talkMs: order.stays?.talkMs ?? LONGEST_MS,
      ...(order.hangsUp
        ? { patienceMs: HANGS_UP_MS }
        : order.stays
          ? { patienceMs: order.stays.ringMs }
          : {}),
    });
    ({ hangUp } = placed);
    const { heard } = await placed.over;
    hangUp = () => undefined;
    const until = clock.now() + WAITS_MS;
    while (order.hangsUp && heard.length === 0 && !called && clock.now() < until && !stopped)
      await new Promise<void>((go) => clock.after(LOOKS_EVERY_MS, () => go()));
    return { heard, called };
  }

  return {
    account: (user: string): SystemAccount | null => (user === own.user ? own : null),
    /** A number that the carrier was asked to call. */
    carried: (number: string, { request }: Asked): void => {
      const from = parseNameAddr(header(request, 'From') ?? '')?.uri.user ?? '';
      called = { number, saw: from.startsWith('+') ? from : null };
    },
    /** A call to an extension for whoever rang in: when it began, and when it was clear who has it. */
    told: (event: SystemEvent): void => {
      if (event.kind === 'call-began' && event.by === PLACED_IN) {
        calledIn = event.id;
        called = { number: event.call.to, saw: event.call.from };
      } else if (event.kind === 'call-settled' && event.id === calledIn) {
        const tried = calledIn;
        clock.after(LISTENS_MS, () => {
          if (calledIn === tried) hangUp();
        });
      }
    },
    tryIt: (order: AccessOrder, server: Peer): Promise<AccessTried> => next(() => tryOnce(order, server)),
    close: (): Promise<void> => {
      stopped = true;
      return caller.close();
    },
  };
}
