import { busy } from './refusal';

/** Thrown where what was looked at has been changed by somebody else since. */
export const COMES_BETWEEN = Symbol('somebody came between');
const MOST_LOOKS = 4;
const isTwice = (error: unknown): boolean => (error as { code?: unknown } | null)?.code === 'ER_DUP_ENTRY';

/**
 * Does work that rests on what it looks at first, without a lock: where somebody came between, or has put what there
 * may be one of, it looks again.
 * @param says what whoever waits is told where that happens again and again
 */
export async function lookingAgain<T>(says: string, work: () => Promise<T>): Promise<T> {
  for (let looks = 0; looks < MOST_LOOKS; looks += 1)
    try {
      return await work();
    } catch (error) {
      if (error !== COMES_BETWEEN && !isTwice(error)) throw error;
    }
  throw busy(says, 2);
}
