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

const PRESSES_1 = manner({ onMessage: { afterMs: 900, press: '1' } });
const BY_LAST_DIGIT: Readonly<Record<string, Manner>> = {
  '3': manner({ onMessage: { afterMs: 900, press: '2', then: { afterMs: 1500, press: '1' } } }),
  '4': manner({}),
  '5': manner({ onMessage: { afterMs: 400, press: null } }),
  '6': manner({ behaviour: {} }),
  '7': manner({ behaviour: { state: 'busy', mailboxAfterMs: null } }),
  '8': manner({ behaviour: { mailboxAfterMs: null } }),
  '9': manner({ onMessage: { afterMs: 900, press: '9' } }),
};

/**
 * What the stand-in of a subscriber does whom a round calls, by the last digit of the number: 0 to 2 presses 1, 3
 * presses 2 and then 1, 4 listens to the end, 5 hangs up soon, 6 has a voicemail, 7 is busy, 8 does not answer, 9 presses 9.
 */
export const subscriber = (number: string): Manner => BY_LAST_DIGIT[number.slice(-1)] ?? PRESSES_1;
