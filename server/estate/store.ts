import { finderOf, knownIds, type Estate, type Finder, type KnownIds } from '../../core/estate';
import { compileEstate, judgeReach, type EstateIndex, type Judgement } from '../../core/reach';
import type { Db } from '../db';
import { loadPeopleSince } from '../people/queries';
import { estateOf, loadEstate, readRevision, type StoredEstate } from './queries';

/** The estate as the database has it now, ready for computing. */
export interface LiveEstate {
  readonly revision: number;
  readonly estate: Estate;
  readonly index: EstateIndex;
  readonly finder: Finder;
  readonly ids: KnownIds;
  readonly versions: ReadonlyMap<string, number>;
  /** Of groups, menus, schedules and the like, by `kind/id`. */
  readonly objectVersions: ReadonlyMap<string, number>;
}

export interface EstateStore {
  /** The estate of now. What is kept in memory is only a copy: its revision is asked of the database each time. */
  readonly current: () => Promise<LiveEstate>;
  /** How each person can be reached at the half hour of a moment, worked out once for each revision. */
  readonly judgements: (epochMs: number) => Promise<ReadonlyMap<string, Judgement>>;
}

const HALF_HOUR_MS = 1_800_000;
const JUDGED_AT_A_TIME = 20;
const pause = () => new Promise<void>((resolve) => setImmediate(resolve));

const live = (stored: StoredEstate): LiveEstate => {
  const estate = estateOf(stored);
  return {
    revision: stored.revision.revision,
    estate,
    index: compileEstate(estate),
    finder: finderOf(estate),
    ids: knownIds(estate),
    versions: new Map(stored.people.map((each) => [each.person.id, each.version])),
    objectVersions: stored.versions,
  };
};

/** Keeps a copy of the estate in step with the database, reading only the people who changed where that is enough. */
export function estateStore(db: Db): EstateStore {
  let stored: StoredEstate | null = null;
  let copy: LiveEstate | null = null;
  let refreshing: Promise<LiveEstate> | null = null;
  let judged: { key: string; result: Promise<ReadonlyMap<string, Judgement>> } | null = null;

  async function refresh(): Promise<LiveEstate> {
    const now = await readRevision(db);
    if (!now) throw new Error('the database holds no estate');
    if (copy && stored && stored.revision.revision === now.revision) return copy;
    if (stored && stored.revision.structure === now.structure && stored.revision.revision < now.revision) {
      const changed = new Map(
        (await loadPeopleSince(db, stored.revision.revision)).map((each) => [each.person.id, each]),
      );
      stored = {
        ...stored,
        revision: now,
        people: stored.people.map((each) => changed.get(each.person.id) ?? each),
      };
    } else {
      stored = await loadEstate(db);
      if (!stored) throw new Error('the database holds no estate');
    }
    copy = live(stored);
    return copy;
  }

  function current(): Promise<LiveEstate> {
    refreshing ??= refresh().finally(() => {
      refreshing = null;
    });
    return refreshing;
  }

  async function judgeAll(now: LiveEstate, epochMs: number): Promise<ReadonlyMap<string, Judgement>> {
    const result = new Map<string, Judgement>();
    for (const [i, person] of now.estate.people.entries()) {
      if (i % JUDGED_AT_A_TIME === 0) await pause();
      result.set(person.id, judgeReach(now.index, person, epochMs));
    }
    return result;
  }

  return {
    current,
    judgements: async (epochMs) => {
      const now = await current();
      const slot = Math.floor(epochMs / HALF_HOUR_MS) * HALF_HOUR_MS;
      const key = `${now.revision}/${slot}`;
      if (judged?.key !== key) judged = { key, result: judgeAll(now, slot) };
      return judged.result;
    },
  };
}
