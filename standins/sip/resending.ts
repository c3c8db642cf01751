import type { SipRequest, SipResponse } from '../../core/wire/sip';

/** RFC 3261, section 17: the estimate of a round trip, and the longest pause between two sendings, in ms. */
const T1 = 500;
export const T2 = 4000;
export const GIVE_UP_MS = 64 * T1;

/** Sends again and again at growing pauses until stopped; unreliable transports need it. */
export function resending(send: () => void, longest: number, onGivenUp: () => void): () => void {
  let pause = T1;
  let timer = setTimeout(again, pause);
  const end = setTimeout(() => {
    clearTimeout(timer);
    onGivenUp();
  }, GIVE_UP_MS);
  function again() {
    send();
    pause = Math.min(pause * 2, longest);
    timer = setTimeout(again, pause);
  }
  return () => {
    clearTimeout(timer);
    clearTimeout(end);
  };
}

/** What stands for an answer where none came (section 8.1.3.1). */
export const noAnswer = (request: SipRequest): SipResponse => ({
  ...request,
  kind: 'response',
  status: 408,
  reason: 'Request Timeout',
});
