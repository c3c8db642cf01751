import { expose } from 'comlink';
import type { Estate, PersonId, ReachPromise } from '../../core/estate';
import {
  findMend,
  provePromises,
  type Mend,
  type ProofRun,
  type ProofScope,
} from '../../core/assurance/promises';
import { compileEstate } from '../../core/calls/engine';
import { quickRunner } from '../../core/calls/outcome';
import { runGroup, type GroupLoad, type GroupRun, type GroupToRun } from '../../core/staffing';
import { weekDay, weekDays, type Circumstance, type WeekCell } from '../../core/calls/views';

/** What is worked out beside the page, so that the page never waits for it. */
export interface ReachWorker {
  /** The week of some people, a day at a time; a newer request ends an older one. */
  readonly week: (
    slice: Estate,
    people: readonly PersonId[],
    circumstance: Circumstance,
    epochMs: number,
    onDay: (day: number, cells: readonly WeekCell[]) => void,
    /** The extension of a group that is called; null: each of the people. */
    group: string | null,
  ) => Promise<void>;
  readonly prove: (
    slice: Estate,
    person: PersonId,
    promises: readonly ReachPromise[],
    scope: ProofScope,
  ) => ProofRun;
  readonly mend: (
    slice: Estate,
    person: PersonId,
    broken: ReachPromise,
    others: readonly ReachPromise[],
    scope: ProofScope,
  ) => Mend | null;
  /** Tries a group out with 20,000 calls, told how far it has come, 0 to 1. */
  readonly runGroup: (
    group: GroupToRun,
    load: GroupLoad,
    onProgress: (share: number) => void,
  ) => GroupRun | null;
}

/** Calls that a group is tried with. */
const TRIED_CALLS = 20_000;

let newest = 0;
const pause = () => new Promise((resolve) => setTimeout(resolve, 0));

const worker: ReachWorker = {
  week: async (slice, people, circumstance, epochMs, onDay, group) => {
    newest += 1;
    const mine = newest;
    const index = compileEstate(slice);
    const runner = quickRunner(index);
    const of = people.flatMap((id) => index.people.get(id) ?? []);
    const called = group === null ? undefined : [{ extension: group, own: people }];
    const days = weekDays(epochMs, slice.timeZone);
    for (let day = 0; day < 7 && mine === newest; day += 1) {
      onDay(day, weekDay(index, runner, of, circumstance, days[day]!, days[day + 1]!, called));
      await pause();
    }
  },
  prove: provePromises,
  mend: findMend,
  runGroup: (group, load, onProgress) =>
    runGroup(group, load, TRIED_CALLS, 1, (share) => {
      onProgress(share);
      return true;
    }),
};
expose(worker);
