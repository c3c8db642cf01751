import type { Ms, RingTarget } from '../../estate';

/** Whether an answer comes before the answer guard ends: too soon for a person, so that it does not take the call. */
export const isBeforeGuard = (
  sinceDialledMs: Ms,
  { acceptAfterMs = 0 }: Pick<RingTarget, 'acceptAfterMs'>,
): boolean => sinceDialledMs < acceptAfterMs;
