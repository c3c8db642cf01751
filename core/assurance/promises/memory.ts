import type { Ms } from '../../estate';
import { readings, type ScheduleReading, type ScheduleResult } from './readings';

/** What is remembered of one moment while it is gone through: which schedules were looked at, and what they said. */
export interface MomentMemory {
  readonly note: (schedule: string, atMs: Ms) => void;
  /**
   * Goes through what is below a choice, unless everything that was looked at below it at another moment is now as
   * it was then: all would be the same.
   */
  readonly once: (key: string, work: () => void) => void;
  /** What is looked at while something is gone through. */
  readonly within: (work: () => void) => readonly ScheduleReading[];
  /** The moments of the call, in ms, at which each schedule was looked at. */
  readonly schedules: () => ReadonlyMap<string, ReadonlySet<Ms>>;
}

export interface Memory {
  /** Which schedule a look is at, and when in the call. */
  readonly of: (look: ScheduleReading) => { readonly schedule: string; readonly atMs: Ms };
  /** @param isComplete whether all that was begun has been gone through: what broke off half way is not remembered */
  readonly at: (epochMs: number, isComplete: () => boolean) => MomentMemory;
}

/**
 * Remembers across moments what was looked at below each choice.
 * @param everything nothing is left out
 * @param inside whether a schedule is inside at an instant, ms since 1970
 */
export function memoryOf(
  everything: boolean,
  inside: (schedule: string, epochMs: number) => boolean,
): Memory {
  const looks = readings();
  const remembered = new Map<string, (readonly ScheduleResult[])[]>();

  function at(epochMs: number, isComplete: () => boolean): MomentMemory {
    let reads = new Set<ScheduleReading>();
    /** What each look finds at this moment, as far as it has been asked. */
    const found: (0 | 1 | undefined)[] = [];
    const find = (look: ScheduleReading): 0 | 1 => {
      const known = found[look];
      if (known !== undefined) return known;
      const { schedule, atMs } = looks.of(look);
      const is = inside(schedule, epochMs + atMs) ? 1 : 0;
      found[look] = is;
      return is;
    };
    const within = (work: () => void): readonly ScheduleReading[] => {
      const outer = reads;
      reads = new Set();
      work();
      const inner = [...reads];
      reads = outer;
      for (const look of inner) reads.add(look);
      return inner;
    };
    const once = (key: string, work: () => void): void => {
      if (everything) return work();
      const before = remembered.get(key);
      const same = before?.find((all) => all.every((each) => find(each >> 1) === (each & 1)));
      if (same) {
        for (const each of same) reads.add(each >> 1);
        return;
      }
      const all = within(work).map((look) => look * 2 + find(look));
      if (!isComplete()) return;
      if (before) before.push(all);
      else remembered.set(key, [all]);
    };
    return {
      note: (schedule, atMs) => void reads.add(looks.look(schedule, atMs)),
      once,
      within,
      schedules: () => {
        const all = new Map<string, Set<Ms>>();
        for (const { schedule, atMs } of [...reads].map(looks.of))
          all.set(schedule, (all.get(schedule) ?? new Set()).add(atMs));
        return all;
      },
    };
  }
  return { of: looks.of, at };
}
