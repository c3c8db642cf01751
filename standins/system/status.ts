import type { Outcome } from '../../core/calls/engine';

/** How an outcome is answered to the caller (RFC 3261, section 21). */
const STATUS: Record<string, number> = {
  'no-such-number': 404,
  'bad-number': 484,
  'not-permitted': 403,
  'too-many-hops': 483,
  'no-route': 404,
  busy: 486,
  rejected: 603,
};
export function statusOf(outcome: Outcome): number {
  switch (outcome.kind) {
    case 'abandoned':
      return 487;
    case 'loop':
      return 482;
    case 'hung-up':
      return 603;
    case 'failed':
      return STATUS[outcome.reason] ?? 480;
    case 'answered':
    case 'carrier-voicemail':
    case 'mailbox':
    case 'played':
      return 200;
    case 'unanswered':
      return 480;
  }
}
