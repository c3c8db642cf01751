import { answerHeaders, buildSip, type SipRequest } from '../../core/wire/sip';
import { newToken } from './token';
import { answerPeer } from './via';
import type { Peer } from './transport';

/** After how long one that was put off may come again, spread so that not all do at once, in s. */
const RETRY_LEAST_S = 5;
const RETRY_SPREAD_S = 20;
const TELL_SHED_MS = 2000;

/**
 * Puts requests off (503) at the least cost there is: an answer that comes too late is worth nothing.
 * @returns puts one off; how many there were is told every now and then
 */
export function puttingOff({
  later,
  onShed,
  send,
}: {
  readonly later: (ms: number, act: () => void) => void;
  readonly onShed: ((times: number) => void) | undefined;
  readonly send: (bytes: string, to: Peer) => void;
}): (request: SipRequest, from: Peer) => void {
  let shed = 0;
  return (request, from) => {
    if (shed === 0)
      later(TELL_SHED_MS, () => {
        onShed?.(shed);
        shed = 0;
      });
    shed += 1;
    const seconds = RETRY_LEAST_S + (shed % RETRY_SPREAD_S);
    send(
      buildSip({
        status: 503,
        headers: answerHeaders(request, newToken(6), [['Retry-After', String(seconds)]]),
      }),
      answerPeer(request, from),
    );
  };
}
