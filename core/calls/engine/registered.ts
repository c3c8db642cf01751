import type { EndpointState } from './types';

/** Whether a phone is gone: switched off, or not registered. */
export const isGone = (state: EndpointState = 'ready'): boolean =>
  state === 'unregistered' || state === 'off';

/**
 * Whether a phone counts as registered.
 * @param wakes whether an app that is asleep is woken by push: one that is not cannot be reached
 */
export const isRegisteredAs = (state: EndpointState = 'ready', wakes = true): boolean =>
  !isGone(state) && (state !== 'asleep' || wakes);
