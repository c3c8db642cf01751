import type { PinAnswer, PinAsked } from '../../standins/messages';
import { passwordMatches } from '../auth/passwords';
import { FAILURES_PER_ACCOUNT, forgetFailures, noteFailure, recentFailures } from '../auth/queries';
import type { Services } from '../http/routes';
import { readPinHash } from '../provision/queries';

type Needs = Pick<Services, 'db'>;

/**
 * Whether a PIN that was typed is this person's. Wrong ones are counted, wherever they are typed: after a few no
 * more are looked at for a while, so that a PIN cannot be tried out.
 */
export async function checkPin({ db }: Needs, { person, typed }: PinAsked): Promise<PinAnswer> {
  const hash = await readPinHash(db, person);
  if (typed === null) return hash === null ? 'none' : 'asked';
  const subject = `pin:${person}`.slice(0, 100);
  if ((await recentFailures(db, subject)) >= FAILURES_PER_ACCOUNT) return 'locked';
  if (hash === null || !(await passwordMatches(hash, typed))) {
    await noteFailure(db, [subject]);
    return 'wrong';
  }
  await forgetFailures(db, subject);
  return 'right';
}
