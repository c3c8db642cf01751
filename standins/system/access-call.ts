import { knownCaller } from '../../core/calls/out';
import { DEFAULT_ACCESS, type AccessNumber } from '../../core/estate';
import type { Asked } from '../sip/node';
import { ACCESS_TYPING } from './call-back';
import { takeCode } from './code-call';
import type { AccessCalled, CallHost, LiveCall, SystemOptions } from './types';

export interface AccessCall {
  readonly host: CallHost;
  readonly asked: Asked;
  readonly access: AccessNumber;
  readonly from: string | null;
  readonly isVerified: boolean;
  readonly onAccess: NonNullable<SystemOptions['onAccess']>;
  readonly onGone: () => void;
}

/** So long an access number rings where whoever hangs up meanwhile is called back, in ms. */
const RINGS_MS = 6000;

/**
 * Takes a call to an access number: asks who calls, where that is not known, then for the number, and calls it. Whoever
 * is known and hangs up before the answer is called back, where the number is set so.
 */
export function takeAccess(call: AccessCall): Promise<LiveCall> {
  const { host, asked, access, from, isVerified, onAccess, onGone } = call;
  const called: Omit<AccessCalled, 'typed'> = {
    call: asked.request.callId,
    access: access.id,
    from,
    isVerified,
  };
  const { hangUp = DEFAULT_ACCESS.hangUp } = access;
  const isWaitedFor =
    hangUp === 'calls-back' && knownCaller(host.index.estate, access, { from, isVerified }) !== null;
  return takeCode({
    host,
    asked,
    manner: ACCESS_TYPING,
    records: { from, to: access.number },
    ...(isWaitedFor ? { ringMs: RINGS_MS, onHungUp: () => host.options.onAccessHungUp?.(called) } : {}),
    act: (typed) => onAccess({ ...called, typed: typed.at(-1) ?? null }),
    onGone,
  });
}
