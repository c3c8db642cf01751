import type { BrokenPromise, Effect, FailedDrill } from '../../api/effect';
import { emptyEstate, finderOf, finderWith, sliceFor, isSame } from '../../core/editing';
import { peopleIn, type Estate, type Person } from '../../core/estate';
import { groupChanges, impactNames } from '../../core/assurance/impact';
import { promisesFor } from '../../core/assurance/promises';
import { runDrills, type Drill, type DrillResult } from '../../core/calls/drills';
import { compileEstate } from '../../core/calls/engine';
import {
  affectedBy,
  applyEntries,
  entryKey,
  sliceAt,
  type SlateEntry,
  type Start,
} from '../../core/changes/slate';
import { readDrills } from '../drills';
import type { LiveEstate } from '../estate';
import type { Services } from '../http';
import { proveInPool } from '../promises';
import { impactOf, standsInTheWay } from '../slates';
import { busy, notRight, refusal } from '../base';

/** How long all of it may take, in ms: somebody waits before a button. Slower machines can be given longer. */
const patienceMs = () => Number(process.env.HOSTLER_EFFECT_MS ?? 3000) || 3000;
const MOST_STARTS = 200;
const MOST_PROVED = 4;
const MOST_CALLS = 6;
const MOST_NAMES = 4;

const keysOf = ({ people, groups, menus }: Estate): readonly Start[] => [
  ...people.map(({ id }): Start => ({ kind: 'person', id })),
  ...groups.map(({ id }): Start => ({ kind: 'group', id })),
  ...menus.map(({ id }): Start => ({ kind: 'menu', id })),
];

/**
 * The parts of two versions of an estate that calls to these can come to in either: each part has whoever the other
 * has, with all that they lead to, so that nothing in it leads to what is left out.
 */
function partsOf(
  { estate: before, finder }: LiveEstate,
  after: Estate,
  entries: readonly SlateEntry[],
  starts: readonly Start[],
): readonly [Estate, Estate] {
  const onlyPeople = entries.every(({ kind, after: then }) => kind === 'person' && then !== null);
  const versions = [
    { estate: before, finder },
    {
      estate: after,
      finder: onlyPeople
        ? finderWith(
            finder,
            entries.map(({ after: then }) => then as Person),
          )
        : finderOf(after),
    },
  ];
  const known = new Set<string>();
  for (let todo = starts; todo.length > 0;) {
    const found = versions.flatMap(({ estate, finder }) =>
      todo.flatMap((start) => keysOf(sliceAt(estate, finder, start) ?? NOBODY)),
    );
    todo = [...new Map(found.map((each) => [entryKey(each), each])).values()].filter(
      (each) => !known.has(entryKey(each)),
    );
    for (const each of todo) known.add(entryKey(each));
  }
  const ids = [...known].flatMap((key) => (key.startsWith('person/') ? key.slice('person/'.length) : []));
  const only = (estate: Estate): Estate => ({
    ...estate,
    people: peopleIn(estate.people, ids),
    groups: estate.groups.filter(({ id }) => known.has(`group/${id}`)),
    menus: estate.menus.filter(({ id }) => known.has(`menu/${id}`)),
  });
  return [only(before), only(after)];
}
const NOBODY = emptyEstate();

/** Whether a drill is about calls that a change can touch. */
const isAbout = (drill: Drill, touched: ReadonlySet<string>, people: readonly Person[]): boolean => {
  const { standsFor } = drill;
  if ('person' in standsFor) return touched.has(`person/${standsFor.person}`);
  if ('group' in standsFor) return touched.has(`group/${standsFor.group}`);
  if ('menu' in standsFor) return touched.has(`menu/${standsFor.menu}`);
  return people.some(({ id, template }) => template === standsFor.template && touched.has(`person/${id}`));
};

const keyOf = ({ drill, for: { kind, id } }: DrillResult) => `${drill} ${kind}/${id}`;

/** The drills that pass before a change and fail after it. */
function failNow(before: Estate, after: Estate, drills: readonly Drill[]): FailedDrill[] {
  if (drills.length === 0) return [];
  const failed = new Set(
    runDrills(compileEstate(before), drills)
      .filter(({ ok }) => !ok)
      .map(keyOf),
  );
  return runDrills(compileEstate(after), drills)
    .filter((result) => !result.ok && !failed.has(keyOf(result)))
    .map(({ drill, name, says }) => ({ id: drill, name, why: says }));
}

/** The promises of people that hold before a change and are broken after it. */
async function breakNow(
  before: Estate,
  after: Estate,
  people: readonly string[],
  fromMs: number,
  signal: AbortSignal,
): Promise<BrokenPromise[]> {
  const [finderBefore, finderAfter] = [finderOf(before), finderOf(after)];
  const one = async (id: string): Promise<BrokenPromise[]> => {
    const [was, is] = [finderBefore.person(id), finderAfter.person(id)];
    if (!is) return [];
    const promises = promisesFor(after.promises, id).map(({ promise }) => promise);
    if (promises.length === 0) return [];
    const scope = { spread: 0, fromMs, everyStatus: false };
    const ran = await proveInPool(
      { slice: sliceFor(after, finderAfter, id), person: id, promises, scope },
      signal,
    );
    const broken = ran.proofs.filter((proof) => proof.broken !== null);
    if (broken.length === 0) return [];
    const known = was
      ? await proveInPool(
          {
            slice: sliceFor(before, finderBefore, id),
            person: id,
            promises: broken.map(({ promise }) => promise),
            scope,
          },
          signal,
        )
      : null;
    return broken.flatMap(({ promise, broken: breach }, i) =>
      known?.proofs[i]?.broken ? [] : [{ person: id, name: is.name, promise, why: breach?.why ?? '' }],
    );
  };
  return (await Promise.all(people.map(one))).flat();
}

/** Something that may take too long for somebody who waits: told as not gone through then. */
async function inTime<T>(work: Promise<T>, signal: AbortSignal, none: T, what: string, open: string[]) {
  try {
    return await work;
  } catch (error) {
    if (!signal.aborted) throw error;
    open.push(what);
    return none;
  }
}

/**
 * Works out what changes do before they are live: whose calls end differently, which promises that hold are broken
 * then, and which drills that pass fail. What cannot be gone through within seconds is said to be open.
 * @param gone aborted once nobody waits for it any more
 * @throws a refusal where the changes could not be put live at all
 */
export async function effectOf(
  services: Pick<Services, 'db' | 'now' | 'store'>,
  live: LiveEstate,
  given: readonly SlateEntry[],
  gone?: AbortSignal,
): Promise<Effect> {
  const changes = given.filter(({ base, after }) => !isSame(base ?? undefined, after ?? undefined));
  if (changes.length === 0) return NOTHING;
  if (running >= MOST_AT_ONCE) throw busy('What changes do is being worked out for others. Try again.', 2);
  running += 1;
  try {
    return await workOut(services, live, changes, gone);
  } finally {
    running -= 1;
  }
}

/** How many are worked out at once: each takes threads for seconds. */
const MOST_AT_ONCE = 6;
let running = 0;
/** How many are being worked out now. */
export const effectsUnderWay = (): number => running;
const NOTHING: Effect = {
  calls: [],
  more: 0,
  promises: [],
  drills: [],
  touched: 0,
  through: true,
  proved: 0,
  unproved: 0,
  open: [],
};

async function workOut(
  { db, now, store }: Pick<Services, 'db' | 'now' | 'store'>,
  live: LiveEstate,
  given: readonly SlateEntry[],
  gone: AbortSignal | undefined,
): Promise<Effect> {
  const way = standsInTheWay(live, given);
  if ('refused' in way) {
    if (way.refused.kind === 'faults') throw notRight(way.refused.faults);
    throw refusal(409, 'Somebody else has changed this since you opened it.');
  }
  const { entries } = way;
  const before = live.estate;
  const after = applyEntries(before, entries);
  const all = affectedBy(before, after, entries, store.followers(live));
  const starts = all.slice(0, MOST_STARTS);
  const open: string[] = [];
  if (all.length > starts.length)
    open.push(`calls to ${all.length - starts.length} more people, groups and menus`);
  const touched = new Set(starts.map(({ kind, id }) => `${kind}/${id}`));
  const [partBefore, partAfter] = partsOf(live, after, entries, starts);
  const drills = (await readDrills(db)).filter((drill) => isAbout(drill, touched, partAfter.people));
  const changed = entries.flatMap(({ kind, id }) => (kind === 'person' ? [id] : []));
  const fromMs = now().getTime();
  const stop = new AbortController();
  const end = () => stop.abort();
  const timer = setTimeout(end, patienceMs());
  gone?.addEventListener('abort', end);
  if (gone?.aborted) end();
  try {
    const changes = await inTime(
      impactOf(
        { estate: partBefore },
        entries,
        fromMs,
        `effect ${live.revision} ${(calls += 1)}`,
        stop.signal,
      ),
      stop.signal,
      [],
      'calls that end differently',
      open,
    );
    // Those who are changed, then those whose calls were seen to end differently.
    const people = [
      ...new Set([
        ...changed,
        ...changes.flatMap(({ start: { kind, id } }) => (kind === 'person' ? [id] : [])),
      ]),
    ].slice(0, MOST_PROVED);
    const isProved = open.length;
    const promises = await inTime(
      breakNow(partBefore, partAfter, people, fromMs, stop.signal),
      stop.signal,
      [],
      'promises',
      open,
    );
    const proved = open.length > isProved ? 0 : people.length;
    const touchedPeople = all.filter(({ kind }) => kind === 'person').length;
    const groups = groupChanges(changes, impactNames(after, before));
    return {
      calls: groups.slice(0, MOST_CALLS).map(({ says, weight, changes: each }) => ({
        says,
        weight,
        who: [...new Set(each.map(({ name }) => name))].slice(0, MOST_NAMES),
      })),
      more: Math.max(0, groups.length - MOST_CALLS),
      promises,
      drills: failNow(partBefore, partAfter, drills),
      touched: all.length,
      through: !stop.signal.aborted,
      proved,
      unproved: Math.max(0, touchedPeople - proved),
      open,
    };
  } finally {
    clearTimeout(timer);
    gone?.removeEventListener('abort', end);
  }
}

let calls = 0;
