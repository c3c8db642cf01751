import { forgetAttempts, phoneSecretMatches, tryCounted, type Bound } from '../auth';
import type { Services } from '../http';
import { readSecret } from '../secrets';

export const secretOf = (seat: string) => `password of seat ${seat}`;
const boundOf = (seat: string, person: string): Bound => ({
  subject: `password of seat ${seat} by ${person}`,
  most: 5,
});

/** Whether what somebody typed is a seat’s password; a seat that has none takes anything. Wrong ones are counted. */
export async function checkSeatPassword(
  { db, secrets }: Pick<Services, 'db' | 'secrets'>,
  seat: string,
  person: string,
  typed: string | undefined,
): Promise<'right' | 'wrong' | 'locked' | 'missing'> {
  const hash = await readSecret(db, secrets, secretOf(seat));
  if (hash === null) return 'right';
  if (typed === undefined) return 'missing';
  const bound = boundOf(seat, person);
  const right = await tryCounted(db, [bound], () => phoneSecretMatches(hash, typed));
  if (right === null) return 'locked';
  if (!right) return 'wrong';
  await forgetAttempts(db, [bound.subject]);
  return 'right';
}
