import { changedPeople, followersOf, type Followers } from '../../core/changes/slate';
import { finderIn, type Finder } from '../../core/editing';
import {
  knownIds,
  LayeredMap,
  placesOf,
  withOthers,
  type Estate,
  type KnownIds,
  type Person,
} from '../../core/estate';
import { compileEstate, recompileEstate, type EstateIndex } from '../../core/calls/engine';
import { judgeReach, type Judgement } from '../../core/calls/views';
import { inSnapshot, mustBeOutside, type Db, type Queryable, type Tx } from '../db';
import { loadPeopleSince, type StoredPerson } from './people';
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

/** Who follows whom, of copies of the estate one after the other: what changed between them is taken over. */
function followersBook(): (estate: Estate) => Followers {
  let kept: { estate: Estate; all: Followers } | null = null;
  return (estate) => {
    const since = kept && changedPeople(kept.estate, estate);
    if (kept && since) kept.all.change(since);
    else kept = { estate, all: followersOf(estate) };
    kept.estate = estate;
    return kept.all;
  };
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
  /** Who follows whom in a copy of the estate; to be asked at once, for it is kept in step with the next one asked for. */
  readonly followers: (of: LiveEstate) => Followers;
}

const HALF_HOUR_MS = 1_800_000;
const JUDGED_AT_A_TIME = 20;
/** After changes of more people than this everybody is judged anew. */
const MOST_AGAIN = 500;
const pause = () => new Promise<void>((resolve) => setImmediate(resolve));

function live(stored: StoredEstate): LiveEstate {
  const estate = estateOf(stored);
  const index = compileEstate(estate);
  return {
    revision: stored.revision.revision,
    estate,
    index,
    finder: finderIn(index),
    ids: knownIds(estate),
    versions: new Map(stored.people.map((each) => [each.person.id, each.version])),
    objectVersions: stored.versions,
  };
}

/** The estate after a change of some people, made from the copy before: what is not theirs is taken over. */
function liveAfter(before: LiveEstate, stored: StoredEstate, changed: readonly StoredPerson[]): LiveEstate {
  const others = changed.map(({ person }) => person);
  const people = changed.map(({ person }) => ({
    before: before.index.people.get(person.id)!,
    after: person,
  }));
  const now = withOthers(before.estate.people, others);
  const estate = { ...before.estate, people: now ?? stored.people.map(({ person }) => person) };
  const index = recompileEstate(before.index, estate, people);
  const versions = LayeredMap.over(before.versions);
  for (const { person, version } of changed) versions.set(person.id, version);
  return {
    ...before,
    revision: stored.revision.revision,
    estate,
    index,
    finder: finderIn(index),
    ids: knownIds(estate),
    versions,
  };
}

/** Keeps a copy of the estate in step with the database, reading only the people who changed where that is enough. */
export function estateStore(db: Db): EstateStore {
  let stored: StoredEstate | null = null;
  let copy: LiveEstate | null = null;
  let running: Promise<LiveEstate> | null = null;
  let next: Promise<LiveEstate> | null = null;
  let judged: { of: LiveEstate; slot: number; result: Promise<ReadonlyMap<string, Judgement>> } | null = null;
  const followers = followersBook();

  /** Brings what was read before up to a revision, reading no more than has changed. */
  async function read(from: Queryable, now: Revision): Promise<LiveEstate> {
    if (copy && stored && stored.revision.revision === now.revision) return copy;
    let fresh: StoredEstate | null;
    let made: LiveEstate | null = null;
    if (
      stored &&
      copy &&
      stored.revision.structure === now.structure &&
      stored.revision.revision < now.revision
    ) {
      const [before, known] = [stored, copy];
      const changed = await loadPeopleSince(from, before.revision.revision);
      // Both lists are in one order.
      const places = placesOf(known.estate.people);
      const people = before.people.slice();
      for (const each of changed) {
        const at = places.get(each.person.id);
        if (at !== undefined) people[at] = each;
      }
      fresh = { ...before, revision: now, people };
      made = liveAfter(known, fresh, changed);
    } else fresh = await loadEstate(from);
    if (!fresh) throw new Error('the database holds no estate');
    made ??= live(fresh);
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

  /** Whose calls changes can touch from one copy to the next; null: anybody’s. */
  function affected(before: LiveEstate, now: LiveEstate): readonly string[] | null {
    const changed = changedPeople(before.estate, now.estate);
    if (!changed || changed.length > MOST_AGAIN) return null;
    return followers(now.index.estate)
      .affected(changed)
      .flatMap(({ kind, id }) => (kind === 'person' ? [id] : []));
  }

  /**
   * How people can be reached, with what is known of the others.
   * @param known of before; what is worked out now takes its place
   */
  async function judge(
    now: LiveEstate,
    epochMs: number,
    people: Iterable<Person>,
    known: Promise<ReadonlyMap<string, Judgement>> | null = null,
  ): Promise<ReadonlyMap<string, Judgement>> {
    const result = known ? LayeredMap.over(await known) : new Map<string, Judgement>();
    let judgedNow = 0;
    for (const person of people) {
      if (judgedNow % JUDGED_AT_A_TIME === 0) await pause();
      judgedNow += 1;
      result.set(person.id, judgeReach(now.index, person, epochMs));
    }
    return result;
  }

  return {
    current,
    at: read,
    // Its index is of the estate without the route table that slates see with it.
    followers: (of) => followers(of.index.estate),
    judgements: async (epochMs, of) => {
      const now = of ?? (await current());
      const slot = Math.floor(epochMs / HALF_HOUR_MS) * HALF_HOUR_MS;
      if (judged?.of.revision === now.revision && judged.slot === slot) return judged.result;
      const ids = judged?.slot === slot ? affected(judged.of, now) : null;
      const begun = {
        of: now,
        slot,
        result:
          judged && ids
            ? judge(
                now,
                slot,
                ids.flatMap((id) => now.index.people.get(id) ?? []),
                judged.result,
              )
            : judge(now, slot, now.estate.people),
      };
      judged = begun;
      begun.result.catch(() => {
        if (judged === begun) judged = null;
      });
      return begun.result;
    },
  };
}
