import { endpointTimes } from '../../core/estate';
import type { Manner } from './answering';

const TIMES = { ...endpointTimes({ kind: 'mobile' }), setupMs: 400, mailboxAfterMs: 3000 };
const ANSWERS_AFTER_MS = 1200;
const manner = (does: Partial<Manner>): Manner => ({
  behaviour: { answerAfterMs: ANSWERS_AFTER_MS, mailboxAfterMs: null },
  times: TIMES,
  isPublic: true,
  says: 'hello',
  ...does,
});

/**
 * What the stand-in of a subscriber does whom a round calls, by the last digit of the number: 0 to 3 presses 1, 4
 * listens to the end, 5 hangs up soon, 6 has a voicemail, 7 is busy, 8 does not answer, 9 presses 9.
 */
export function subscriber(number: string): Manner {
  switch (number.at(-1)) {
    case '4':
      return manner({});
    case '5':
      return manner({ onMessage: { afterMs: 400, press: null } });
    case '6':
      return manner({ behaviour: {} });
    case '7':
      return manner({ behaviour: { state: 'busy', mailboxAfterMs: null } });
    case '8':
      return manner({ behaviour: { mailboxAfterMs: null } });
    case '9':
      return manner({ onMessage: { afterMs: 900, press: '9' } });
    default:
      return manner({ onMessage: { afterMs: 900, press: '1' } });
  }
}
