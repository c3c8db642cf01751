import { finderOf, type Finder } from '../../core/editing';
import { knownIds, type Estate, type KnownIds } from '../../core/estate';
import { compileEstate, type EstateIndex } from '../../core/calls/engine';
import { judgeReach, type Judgement } from '../../core/calls/views';
import { inSnapshot, mustBeOutside, type Db, type Queryable, type Tx } from '../db';
import { loadPeopleSince } from './people';
import { estateOf, loadEstate, readRevision, type Revision, type StoredEstate } from './queries';

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
  /**
   * The estate of now. What is kept in memory is only a copy: its revision is asked of the database each time, so that
   * whoever asks sees all that was written before they asked.
   */
  readonly current: () => Promise<LiveEstate>;
  /** The estate at a revision that a transaction has locked, before it writes anything. */
  readonly at: (tx: Tx, locked: Revision) => Promise<LiveEstate>;
  /** How each person can be reached at the half hour of a moment, worked out once for each revision. */
  readonly judgements: (epochMs: number, of?: LiveEstate) => Promise<ReadonlyMap<string, Judgement>>;
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
  let running: Promise<LiveEstate> | null = null;
  let next: Promise<LiveEstate> | null = null;
  let judged: { key: string; result: Promise<ReadonlyMap<string, Judgement>> } | null = null;

  /** Brings what was read before up to a revision, reading no more than has changed. */
  async function read(from: Queryable, now: Revision): Promise<LiveEstate> {
    if (copy && stored && stored.revision.revision === now.revision) return copy;
    let fresh: StoredEstate | null;
    if (stored && stored.revision.structure === now.structure && stored.revision.revision < now.revision) {
      const before = stored;
      const changed = new Map(
        (await loadPeopleSince(from, before.revision.revision)).map((each) => [each.person.id, each]),
      );
      fresh = {
        ...before,
        revision: now,
        people: before.people.map((each) => changed.get(each.person.id) ?? each),
      };
    } else fresh = await loadEstate(from);
    if (!fresh) throw new Error('the database holds no estate');
    const made = live(fresh);
    // Another reading may have come further meanwhile.
    if (
      !stored ||
      !copy ||
      made.revision >= copy.revision ||
      fresh.revision.structure !== stored.revision.structure
    ) {
      stored = fresh;
      copy = made;
    }
    return made;
  }

  async function refresh(): Promise<LiveEstate> {
    const now = await readRevision(db);
    if (!now) throw new Error('the database holds no estate');
    if (copy?.revision === now.revision) return copy;
    return inSnapshot(db, async (tx) => {
      const then = await readRevision(tx);
      if (!then) throw new Error('the database holds no estate');
      return read(tx, then);
    });
  }

  function begin(): Promise<LiveEstate> {
    const begun = refresh().finally(() => {
      if (running === begun) running = null;
    });
    running = begun;
    return begun;
  }

  /** A reading that is under way may have begun before what is asked for was written: the next one is waited for. */
  function current(): Promise<LiveEstate> {
    mustBeOutside();
    if (!running) return begin();
    next ??= running
      .catch(() => undefined)
      .then(() => {
        next = null;
        return begin();
      });
    return next;
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
    at: read,
    judgements: async (epochMs, of) => {
      const now = of ?? (await current());
      const slot = Math.floor(epochMs / HALF_HOUR_MS) * HALF_HOUR_MS;
      const key = `${now.revision}/${slot}`;
      if (judged?.key !== key) judged = { key, result: judgeAll(now, slot) };
      return judged.result;
    },
  };
}
