import { parseSdp } from '../../core/wire/sip';
import { openMedia, type MediaPort } from '../media/port';
import { takeCall } from './call';
import type { CallerSide } from './caller-side';
import type { OutWatch } from './placed-out';
import type { CallHost, CallIn, LiveCall } from './types';

/** A call to an extension, for somebody who is on a call already. */
export interface PlacedIn {
  readonly relay: (bytes: Uint8Array) => void;
  readonly isBye: LiveCall['takesBye'];
  /** Ends it, from this side. */
  readonly end: () => void;
  /** Does something once its record is kept. */
  readonly afterKept: (then: () => void) => void;
}

/** By this account, which there is not, such calls are placed. */
export const PLACED_IN = 'call-through';
const BUSY = [486, 600];
const SAID_PACKETS = 5;

/**
 * Calls an extension as from the desk of whoever asks for it: by the plan of whoever is called. Its record is that of
 * the call that it is part of.
 * @param id of the call that it is part of
 */
export function placeIn(host: CallHost, id: string, inside: CallIn, watch: OutWatch): PlacedIn {
  const { address, at, arrival } = host.options;
  let bridge: MediaPort | null = null;
  let live: LiveCall | null = null;
  let isAnswered = false;
  let over = false;
  let giveUp: () => void = () => undefined;
  const finish = (why: string | null) => {
    if (over) return;
    over = true;
    bridge?.close();
    watch.onOver(why);
  };
  const side = (offer: string): CallerSide => ({
    id,
    offer,
    contact: `<sip:hostler@${address}>`,
    respond: (status, answer) => {
      if (over) return;
      if (answer?.body) bridge?.aim(parseSdp(answer.body));
      if (status >= 300)
        finish(BUSY.includes(status) ? 'The number is busy.' : 'The extension did not answer.');
      else if (status >= 200) {
        isAnswered = true;
        bridge?.say(`hello, ${inside.from ?? 'somebody'} is calling`, SAID_PACKETS);
        watch.onAnswer();
      }
    },
    whenGivenUp: (act) => {
      giveUp = act;
    },
    whenUnheard: () => undefined,
    end: () => finish(null),
    isBye: () => false,
  });
  const stop = (call: LiveCall) => (isAnswered ? call.close() : giveUp());
  const place = async () => {
    bridge = await openMedia({ address, onPacket: watch.onPacket });
    const offer = bridge.sdp;
    const { from, to } = inside;
    const call = { from, to, at: at(), ...(arrival ? { arrival } : {}) };
    live = await takeCall(host, side(offer), call, PLACED_IN, () => undefined);
    if (over) stop(live);
  };
  void place().catch(() => finish('The call could not be placed.'));
  return {
    relay: (bytes) => bridge?.relay(bytes),
    isBye: (bye, from) => live?.takesBye(bye, from) ?? false,
    end: () => {
      if (over) return;
      over = true;
      if (live) stop(live);
      bridge?.close();
    },
    afterKept: (then) => {
      if (live?.afterKept) live.afterKept(then);
      else then();
    },
  };
}
