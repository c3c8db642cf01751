import { differences, isSame } from '../../editing';
import { mergeThree } from './merge';

export interface TakenBack {
  readonly base: unknown;
  readonly after: unknown;
  /** Settings that were changed again since, and are put back all the same. */
  readonly clashes: readonly string[];
}

/**
 * The change that takes another one back and leaves alone what was changed since: what it had set is set as it was
 * before, in whatever is there now.
 * @param before, after of the change that is taken back; null: there was nothing
 * @param now what is there now
 * @returns null where there is nothing left to take back
 */
export function takenBack(before: unknown, after: unknown, now: unknown): TakenBack | null {
  const none = (value: unknown) => value === null || value === undefined;
  const result: TakenBack =
    none(before) || none(after) || none(now)
      ? {
          base: now ?? null,
          after: before ?? null,
          clashes: differences(after ?? undefined, now ?? undefined).map(({ path }) => path),
        }
      : (({ merged, clashes }) => ({ base: now, after: merged, clashes }))(mergeThree(after, before, now));
  return isSame(result.base ?? undefined, result.after ?? undefined) ? null : result;
}
