import type { TableBody } from '../../api/routing';
import type { Refused } from '../../api/slates';
import type { Db, Queryable } from '../db';
import type { Dialling, Estate, Fault, KeptPromise, NumberList, Person, Settings } from '../../core/estate';
import { isSame } from '../../core/editing';
import { runDrills, type DrillResult } from '../../core/calls/drills';
import { compileEstate } from '../../core/calls/engine';
import {
  applyEntries,
  carryDaily,
  faultsBrought,
  sameButDaily,
  staleEntries,
  isListKind,
  type SlateEntry,
  type Identified,
} from '../../core/changes/slate';
import { readDrills } from '../drills';
import {
  changeEstate,
  type EstateStore,
  type LiveEstate,
  readList,
  readTableBody,
  removeList,
  writeList,
  writeTableBody,
  orderObjects,
  putObject,
  removeObject,
  setDialling,
  setPromises,
  setSettings,
  type EditableKind,
  insertPeople,
  nextPosition,
  removePeople,
  updatePeople,
} from '../estate';
import { checkTable, listRecord } from '../routing';
import { slateEstate } from './estate';
import { addRecords, type NewRecord, type RecordKind } from '../record';
import { noteRunning } from '../restarts';
import { patchSlate, readEntries, readSlate, type StoredEntry } from './queries';

export type Applied =
  | { readonly ok: true; readonly changed: number }
  | { readonly ok: false; readonly refused: Refused };

export interface Applying {
  readonly db: Db;
  readonly store: EstateStore;
  readonly now: () => Date;
}

const TRIES = 8;
/** Thrown, so that nothing of the transaction stays: something else was put live since the estate was read. */
const CHANGED = new Error('changed meanwhile');

/**
 * What stands in the way of putting changes live, as far as it can be told beforehand; else the estate after them
 * and the changes, with what was switched day by day meanwhile taken in.
 */
export function standsInTheWay<E extends SlateEntry>(
  live: LiveEstate,
  given: readonly E[],
): { refused: Refused } | { after: Estate; entries: readonly E[] } {
  const entries = carryDaily(live.estate, given) as readonly E[];
  const stale = staleEntries(live.estate, entries);
  if (stale.length > 0)
    return {
      refused: {
        kind: 'stale',
        stale: stale.map(({ entry: { kind, id, name }, theirs }) => ({ kind, id, name, theirs })),
      },
    };
  const after = applyEntries(live.estate, entries);
  const faults: Fault[] = [...faultsBrought(live.estate, after, entries), ...tableFaults(after, entries)];
  return faults.length > 0 ? { refused: { kind: 'faults', faults } } : { after, entries };
}

/** What is wrong with the route table that a slate brings, or leaves behind without what it needs. */
export function tableFaults(after: Estate, entries: readonly SlateEntry[]): readonly Fault[] {
  const touches = entries.some(({ kind }) => ['routing', 'list', 'trunk', 'schedule'].includes(kind));
  if (!touches || !after.routing) return [];
  const checked = checkTable(after.routing, after.routing.lists, after);
  return 'faults' in checked
    ? checked.faults.map((fault) => ({ ...fault, path: `route table: ${fault.path}` }))
    : [];
}

/**
 * Puts a slate live: all of it in one transaction, or nothing. Somebody who puts another one live at the same
 * moment is waited for, and what they changed is taken into account.
 * @param overrule why it may be put live although drills fail
 */
export async function applySlate(
  { db, store, now }: Applying,
  id: number,
  who: string,
  overrule: string | null,
  mayStart: readonly string[] = ['work', 'timed', 'held'],
): Promise<Applied> {
  for (let tries = 0; ; tries += 1) {
    const live = await slateEstate({ db, store });
    const [slate, stored] = [await readSlate(db, id), await readEntries(db, id)];
    if (!slate || !mayStart.includes(slate.state)) return { ok: false, refused: { kind: 'gone' } };
    // What is live already, whoever did it, needs not be done again.
    const way = standsInTheWay(live, stored.filter(changes));
    if ('refused' in way) return { ok: false, refused: way.refused };
    if (!way.entries.some(changes)) return { ok: false, refused: { kind: 'empty' } };
    const failed = (await drillsOf(db, live.estate, way.after)).made;
    if (failed.length > 0 && overrule === null) return { ok: false, refused: { kind: 'drills', failed } };
    const written = await changeEstate({ db, store }, async (tx, held): Promise<number | 'gone'> => {
      const again = await readSlate(tx, id, true);
      if (!again || !mayStart.includes(again.state) || again.version !== slate.version) return 'gone';
      // What was looked through must be what stands, but for what people switch day by day.
      if (held.live.revision !== live.revision && !sameButDaily(estateAlone(live.estate), held.live.estate))
        throw CHANGED;
      if (!(await tableHolds(tx, way.entries))) throw CHANGED;
      // Somebody else may have switched the same just now.
      const carried = (carryDaily(held.live.estate, way.entries) as typeof way.entries).filter(changes);
      if (carried.length === 0) throw CHANGED;
      const structure = carried.some(
        ({ kind, base, after }) => kind !== 'person' || base === null || after === null,
      );
      await writeEntries(tx, held.live, carried, await held.countUp(structure), now());
      await addRecords(tx, recordOf(carried, who, id));
      if (failed.length > 0)
        await addRecords(tx, [
          {
            who,
            kind: 'drills-overruled',
            subject: slate.name,
            detail: `${failed.length} ${failed.length === 1 ? 'drill fails' : 'drills fail'}`,
            why: overrule ?? '',
            slateId: id,
          },
        ]);
      await patchSlate(
        tx,
        id,
        {
          state: 'applied',
          appliedAt: now(),
          appliedBy: who,
          overrule: failed.length > 0 ? overrule : null,
          heldWhy: null,
        },
        now(),
      );
      return carried.length;
    }).catch((error: unknown) => {
      if (error !== CHANGED) throw error;
      return 'changed' as const;
    });
    if (typeof written === 'number') return { ok: true, changed: written };
    if (written === 'gone') return { ok: false, refused: { kind: 'gone' } };
    if (tries >= TRIES) return { ok: false, refused: { kind: 'busy' } };
  }
}

const changes = ({ base, after }: SlateEntry): boolean => !isSame(base, after);
const estateAlone = ({ routing: _routing, ...estate }: Estate): Estate => estate;

/** Whether what a slate changes of the route table and its lists, which are not counted with the estate, is as it was. */
async function tableHolds(db: Queryable, entries: readonly SlateEntry[]): Promise<boolean> {
  for (const { kind, id, base } of entries) {
    if (kind === 'routing' && !isSame(base, (await readTableBody(db, true)).body)) return false;
    if (kind === 'list') {
      const now = await readList(db, id, true);
      const numbers = now && { id, name: now.name, numbers: now.numbers };
      if (!isSame(base ?? undefined, numbers ?? undefined)) return false;
    }
  }
  return true;
}

const failing = (estate: Estate, drills: Parameters<typeof runDrills>[1]): readonly DrillResult[] =>
  drills.length === 0 ? [] : runDrills(compileEstate(estate), drills).filter(({ ok }) => !ok);

/**
 * The calls of the drills that fail after a change: those that it makes fail, which stand in its way, and those that
 * fail before it already.
 */
export async function drillsOf(
  db: Queryable,
  before: Estate,
  after: Estate,
): Promise<{
  readonly drills: number;
  readonly made: readonly DrillResult[];
  readonly already: readonly DrillResult[];
}> {
  const drills = await readDrills(db);
  const failed = failing(after, drills);
  const key = (each: DrillResult) => `${each.drill} ${each.for.kind} ${each.for.id}`;
  const which = new Set(failed.map(({ drill }) => drill));
  const was = new Set(
    failing(
      before,
      drills.filter(({ id }) => which.has(id)),
    ).map(key),
  );
  return {
    drills: drills.length,
    made: failed.filter((each) => !was.has(key(each))),
    already: failed.filter((each) => was.has(key(each))),
  };
}

/** Writes what entries make of the estate, in an order in which nothing refers to what is not there. */
async function writeEntries(
  db: Queryable,
  live: LiveEstate,
  entries: readonly SlateEntry[],
  revision: number,
  at: Date,
): Promise<void> {
  const people = entries.filter(({ kind }) => kind === 'person');
  const objects = entries.filter(({ kind }) => kind !== 'person');
  for (const { kind, id, after } of objects) {
    if (kind === 'settings') await setSettings(db, (after ?? {}) as Settings);
    else if (kind === 'dialling') await setDialling(db, after as Dialling);
    else if (kind === 'routing') await writeTableBody(db, after as TableBody);
    else if (kind === 'list')
      await (after === null ? removeList(db, id) : writeList(db, after as NumberList));
    else if (kind === 'promises') await setPromises(db, (after ?? []) as readonly KeptPromise[]);
    else if (kind === 'trunk-order') continue;
    else if (after !== null) await putObject(db, kind as EditableKind, id, after);
  }
  // Once all trunks are there.
  for (const { kind, after } of objects)
    if (kind === 'trunk-order') await orderObjects(db, 'trunk', after as readonly string[]);
  const gone = people.filter(({ after }) => after === null).map(({ id }) => id);
  const there = people.filter(({ after }) => after !== null).map(({ after }) => after as Person);
  const isNew = (person: Person) => live.finder.person(person.id) === undefined;
  // Whoever gives up an extension or phone is written before whoever takes it over.
  await removePeople(db, gone);
  await updatePeople(
    db,
    there.filter((person) => !isNew(person)),
    revision,
  );
  await insertPeople(db, there.filter(isNew), revision, await nextPosition(db));
  await noteRunning(
    db,
    people.map(({ id, after }) => [live.finder.person(id) ?? null, after as Person | null]),
    at,
  );
  for (const { kind, id, after } of objects)
    if (after === null && isListKind(kind)) await removeObject(db, kind as EditableKind, id);
}

const WHOLE_KINDS: Record<string, RecordKind> = {
  settings: 'settings-set',
  dialling: 'dialling-set',
  promises: 'promises-set',
  routing: 'routes-changed',
  'trunk-order': 'order-set',
};

const recordOf = (entries: readonly StoredEntry[], who: string, slateId: number): NewRecord[] =>
  entries.map(({ kind, id, name, base, after, why }) => {
    if (kind === 'list')
      return { who, slateId, why, ...listRecord(base as NumberList | null, after as NumberList | null) };
    return {
      who,
      slateId,
      why,
      subject: (after as Identified | null)?.name ?? name,
      ...(kind === 'person' ? { personId: id } : { detail: kind }),
      kind:
        WHOLE_KINDS[kind] ??
        (kind === 'person'
          ? base === null
            ? 'person-added'
            : after === null
              ? 'person-removed'
              : 'person-changed'
          : base === null
            ? 'object-added'
            : after === null
              ? 'object-removed'
              : 'object-changed'),
      ...(base === null ? {} : { before: base }),
      ...(after === null ? {} : { after }),
    };
  });

/** What was refused, in words. */
export function sayRefused(refused: Refused): string {
  switch (refused.kind) {
    case 'gone':
      return 'This slate was put live, changed or dropped at the same moment.';
    case 'busy':
      return 'Others kept changing what this slate rests on. It is not live; try again.';
    case 'empty':
      return 'There is nothing on this slate.';
    case 'stale':
      return `${refused.stale.map(({ name }) => name).join(', ')} was changed since. Carry the slate over first.`;
    case 'faults':
      return refused.faults.map(({ path, message }) => `${path}: ${message}`).join(' ');
    case 'drills':
      return `${refused.failed.length} ${refused.failed.length === 1 ? 'drill fails' : 'drills fail'}: ${refused.failed
        .slice(0, 3)
        .map(({ name, for: whom }) => `${name} · ${whom.name}`)
        .join(', ')}.`;
  }
}
