import type { PersonChange } from '../../calls/engine';
import { isSame } from '../../editing';
import {
  knownIds,
  personIn,
  personReferenceFaults,
  referenceFaults,
  withOthers,
  type Estate,
  type Fault,
  type KeptRouteTable,
  type NumberList,
  type Person,
} from '../../estate';
import { hasSamePhones } from './followers';
import { entryKey, isWholeKind, LISTS, type SlateEntry, type Identified, type ListKind } from './types';

const NO_ROUTES = { peers: [], routes: [] };

const listOf = (estate: Estate, kind: ListKind | 'list'): readonly Identified[] =>
  kind === 'list'
    ? (estate.routing?.lists ?? [])
    : ((estate[LISTS[kind]] as readonly Identified[] | undefined) ?? []);

/** An estate's objects found by kind and id, each list gone through once. */
export function objectFinder(estate: Estate): (entry: Pick<SlateEntry, 'kind' | 'id'>) => unknown {
  const maps = new Map<ListKind | 'list', ReadonlyMap<string, Identified>>();
  return ({ kind, id }) => {
    if (kind === 'trunk-order') return estate.trunks.map(({ id }) => id);
    if (kind === 'routing') return routesOf(estate);
    if (isWholeKind(kind)) return estate[kind] ?? null;
    if (kind === 'person') return personIn(estate.people, id) ?? null;
    let map = maps.get(kind);
    if (!map) {
      map = new Map(listOf(estate, kind).map((each) => [each.id, each]));
      maps.set(kind, map);
    }
    return map.get(id) ?? null;
  };
}

/** The route table without its lists, which are changed by themselves. */
function routesOf({ routing }: Estate): unknown {
  if (!routing) return null;
  const { lists: _lists, ...routes } = routing;
  return routes;
}

/** The estate with all changes made: objects in their places, new ones at the end of their lists. */
export function applyEntries(estate: Estate, entries: readonly SlateEntry[]): Estate {
  let after: Estate = estate;
  const byKind = new Map<ListKind | 'list', Map<string, SlateEntry>>();
  for (const entry of entries) {
    if (entry.kind === 'trunk-order') continue;
    if (entry.kind === 'routing') {
      after = {
        ...after,
        routing: { ...(entry.after ?? NO_ROUTES), lists: listOf(after, 'list') } as KeptRouteTable,
      };
      continue;
    }
    if (isWholeKind(entry.kind)) {
      const { [entry.kind]: _before, ...rest } = after;
      after = (entry.after === null ? rest : { ...rest, [entry.kind]: entry.after }) as Estate;
      continue;
    }
    const map = byKind.get(entry.kind) ?? new Map<string, SlateEntry>();
    byKind.set(entry.kind, map.set(entry.id, entry));
  }
  for (const [kind, map] of byKind) {
    const others = kind === 'person' ? changedPersons(after.people, [...map.values()]) : null;
    if (others) {
      after = { ...after, people: others };
      continue;
    }
    const list = listOf(after, kind);
    const known = new Set(list.map(({ id }) => id));
    const changed = list.flatMap((each) => {
      const entry = map.get(each.id);
      return entry ? (entry.after === null ? [] : [entry.after as Identified]) : [each];
    });
    const added = [...map.values()].flatMap((entry) =>
      known.has(entry.id) || entry.after === null ? [] : [entry.after as Identified],
    );
    after =
      kind === 'list'
        ? {
            ...after,
            routing: { ...(after.routing ?? NO_ROUTES), lists: [...changed, ...added] as NumberList[] },
          }
        : { ...after, [LISTS[kind]]: [...changed, ...added] };
  }
  const order = entries.find(({ kind }) => kind === 'trunk-order')?.after;
  return order ? { ...after, trunks: inOrder(after.trunks, order as readonly string[]) } : after;
}

/** The people with those who are changed in their places; null: somebody comes or goes. */
function changedPersons(people: readonly Person[], entries: readonly SlateEntry[]): readonly Person[] | null {
  const others = entries.flatMap(({ after }) => (after === null ? [] : [after as Person]));
  return others.length < entries.length ? null : withOthers(people, others);
}

/** Things in the order of their ids; those that are not named stay behind. */
function inOrder<T extends { readonly id: string }>(
  things: readonly T[],
  ids: readonly string[],
): readonly T[] {
  const place = new Map(ids.map((id, i) => [id, i]));
  return [...things].sort((a, b) => (place.get(a.id) ?? ids.length) - (place.get(b.id) ?? ids.length));
}

/** An entry that rests on something that is not so any more, with what is there now. */
export interface Stale {
  readonly entry: SlateEntry;
  readonly theirs: unknown;
}

/** The entries whose object was changed since they were made; an entry that is live already is not among them. */
export function staleEntries(estate: Estate, entries: readonly SlateEntry[]): Stale[] {
  const find = objectFinder(estate);
  return entries.flatMap((entry) => {
    const theirs = find(entry);
    if (isSame(entry.base, theirs) || isSame(entry.after, theirs)) return [];
    return [{ entry, theirs }];
  });
}

/** A fault that a change brings, with the entry it lies in where it lies in one. */
export interface BroughtFault extends Fault {
  readonly entry: string | null;
}

/** The faults between objects that are there after a change and were not before. */
export function faultsBrought(before: Estate, after: Estate, entries: readonly SlateEntry[]): BroughtFault[] {
  const alone = changedAlone(before, after, entries);
  if (alone) return faultsOfPeople(before, alone);
  const known = new Set(
    referenceFaults(before).map(({ message, path }) => `${placeIn(before, path)} ${message}`),
  );
  const changed = new Set(entries.map(entryKey));
  return referenceFaults(after)
    .filter(({ message, path }) => !known.has(`${placeIn(after, path)} ${message}`))
    .map((fault) => {
      const key = placeIn(after, fault.path);
      return { ...fault, path: sayPlace(after, fault.path), entry: changed.has(key) ? key : null };
    });
}

/** What others know somebody by: while it stays, no fault of anybody else can come of a change of theirs. */
const linesOf = ({ lines }: Person): string =>
  JSON.stringify(lines.map((line) => [line.id, line.extension, line.numbers]));
const isKnownAlike = (change: PersonChange): boolean =>
  hasSamePhones(change) && linesOf(change.before) === linesOf(change.after);
/** The people whom entries change where they change nothing else, nor what others know them by; null: they do. */
function changedAlone(
  before: Estate,
  after: Estate,
  entries: readonly SlateEntry[],
): readonly PersonChange[] | null {
  const ids = new Set<string>();
  for (const { kind, id, base, after: then } of entries) {
    if (kind !== 'person' || base === null || then === null) return null;
    ids.add(id);
  }
  const changed = [...ids].flatMap((id) => {
    const [was, is] = [personIn(before.people, id), personIn(after.people, id)];
    return was && is ? [{ before: was, after: is }] : [];
  });
  const isAlone = changed.length === ids.size && changed.every(isKnownAlike);
  return isAlone ? changed : null;
}
/** The faults that people bring by themselves: what they refer to and is not there. */
function faultsOfPeople(estate: Estate, changed: readonly PersonChange[]): BroughtFault[] {
  const ids = knownIds(estate);
  return changed.flatMap(({ before, after }) => {
    const had = new Set(
      personReferenceFaults(before, ids, '').map(({ message, path }) => `${path} ${message}`),
    );
    return personReferenceFaults(after, ids, '')
      .filter(({ message, path }) => !had.has(`${path} ${message}`))
      .map(({ message, path }) => ({
        message,
        path: path ? `${after.name}: ${path}` : after.name,
        entry: `person/${after.id}`,
      }));
  });
}

const KIND_OF = Object.fromEntries(Object.entries(LISTS).map(([kind, list]) => [list, kind]));
const partsOf = (estate: Estate, path: string) => {
  const [whole = '', list = '', at = ''] = /^(\w+)\[(\d+)\]/.exec(path) ?? [];
  const kind = KIND_OF[list];
  const object = kind ? listOf(estate, kind as ListKind)[Number(at)] : undefined;
  return { kind, object, rest: path.slice(whole.length).replace(/^\./, '') };
};
/** The object in which a path lies, by kind and id, so that it is the same in another order. */
function placeIn(estate: Estate, path: string): string {
  const { kind, object } = partsOf(estate, path);
  return kind && object ? `${kind}/${object.id}` : path;
}
function sayPlace(estate: Estate, path: string): string {
  const { object, rest } = partsOf(estate, path);
  return object ? `${object.name}${rest ? `: ${rest}` : ''}` : path;
}
