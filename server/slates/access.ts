import type { Slate, ShownEntry, SlatePage } from '../../api/slates';
import { toldDifferences, type Difference } from '../../core/editing';
import type { Estate, Fault } from '../../core/estate';
import {
  applyEntries,
  carryDaily,
  entryKey,
  faultsBrought,
  staleEntries,
  type BroughtFault,
  type SlateEntry,
  namesOf,
  withNames,
} from '../../core/changes/slate';
import { inTransaction, type Queryable } from '../db';
import type { LiveEstate } from '../estate';
import { refusal } from '../base';
import type { SignedIn } from '../http';
import { tableFaults } from './apply';
import { slateEstate } from './estate';
import { countEntries, isOpen, patchSlate, readEntries, readSlate, type StoredEntry } from './queries';
import { cancelImpact, impactState } from './impact';

/** Who may do what with a slate, and how it is shown: what all routes of slates share. */
export const SPECIALIST = ['specialist'] as const;
const MOST_CHANGES = 40;
const MOST_ENTRIES = 300;

export const slateId = ({ params }: SignedIn): number => {
  const id = Number(params.slate);
  if (!Number.isSafeInteger(id) || id < 1) throw refusal(404, 'There is no such slate.');
  return id;
};

/** @throws a refusal where there is none */
export async function slateOf(context: SignedIn): Promise<Slate> {
  const slate = await readSlate(context.services.db, slateId(context));
  if (!slate) throw refusal(404, 'There is no such slate.');
  return slate;
}

/** Refuses whoever may not change a slate. */
export function mustBeOwn({ account }: SignedIn, slate: Slate): void {
  if (slate.owner !== account.name && !slate.shared)
    throw refusal(403, `This slate is ${slate.owner}’s and not shared.`);
}

/** The slate, if whoever asks may change it and it is still in work. */
export async function ownSlate(context: SignedIn): Promise<Slate> {
  const slate = await slateOf(context);
  mustBeOwn(context, slate);
  if (!isOpen(slate))
    throw refusal(409, slate.state === 'applied' ? 'This slate is live.' : 'This slate was dropped.');
  return slate;
}

/** Writes to a slate and its entries in one transaction; whatever was worked out of it counts no more. */
export async function change(
  context: SignedIn,
  slate: Slate,
  work: (db: Queryable) => Promise<void>,
): Promise<void> {
  await inTransaction(context.services.db, async (connection) => {
    const locked = await readSlate(connection, slate.id, true);
    if (!locked || locked.version !== slate.version)
      throw refusal(409, 'Somebody else has changed this slate. Look again.');
    await work(connection);
    await patchSlate(connection, slate.id, {}, context.services.now());
  });
  cancelImpact(context.services.store, slate.id);
}

/** An entry as it is shown: what it changes, and whether it still rests on what is live. */
function shown(
  entry: StoredEntry,
  stale: ReadonlyMap<string, unknown>,
  faults: readonly Fault[],
  names: ReadonlyMap<string, string>,
): ShownEntry {
  const changes = toldDifferences(entry.base ?? undefined, entry.after ?? undefined);
  const told = (which: readonly Difference[], ...things: readonly unknown[]) =>
    withNames(which.slice(0, MOST_CHANGES), names, ...things);
  const key = entryKey(entry);
  return {
    kind: entry.kind,
    id: entry.id,
    name: entry.name,
    action: entry.base === null ? 'add' : entry.after === null ? 'remove' : 'change',
    why: entry.why,
    addedBy: entry.addedBy,
    addedAt: entry.addedAt,
    changes: entry.base === null || entry.after === null ? [] : told(changes, entry.base, entry.after),
    more: Math.max(0, changes.length - MOST_CHANGES),
    stale: stale.has(key)
      ? { changes: told(toldDifferences(entry.base, stale.get(key)), entry.base, stale.get(key)) }
      : null,
    faults,
  };
}

/**
 * A slate as it is shown, with what stands in its way.
 * @param isBrief of a long one only how long it is: whoever puts many things on it part by part does not wait each
 *   time for all of it to be looked through
 */
export async function slateBody(context: SignedIn, id: number, isBrief = false): Promise<SlatePage> {
  const { db, store } = context.services;
  const slate = await readSlate(db, id);
  if (!slate) throw refusal(404, 'There is no such slate.');
  if (isBrief) {
    const more = await countEntries(db, id);
    if (more > MOST_ENTRIES)
      return {
        slate,
        entries: [],
        more,
        stale: 0,
        faults: [],
        impact: impactState(store, id),
        isBrief: true,
      };
  }
  const stored = await readEntries(db, id);
  const isInWork = isOpen(slate);
  const live = await slateEstate({ db, store });
  const entries = isInWork ? (carryDaily(live.estate, stored) as readonly StoredEntry[]) : stored;
  const stale = isInWork ? staleEntries(live.estate, entries) : [];
  const faults = isInWork && stale.length === 0 ? slateFaults(live, entries) : [];
  const staleBy = new Map(stale.map(({ entry, theirs }) => [entryKey(entry), theirs]));
  // What the slate adds has a name too.
  const names = new Map([...namesOf(live.estate), ...addedNames(entries)]);
  return {
    slate,
    entries: entries.slice(0, MOST_ENTRIES).map((entry) =>
      shown(
        entry,
        staleBy,
        faults.filter((fault) => fault.entry === entryKey(entry)),
        names,
      ),
    ),
    more: Math.max(0, entries.length - MOST_ENTRIES),
    stale: stale.length,
    faults: faults.filter(({ entry }) => entry === null),
    impact: impactState(store, id),
  };
}

const addedNames = (entries: readonly StoredEntry[]): readonly (readonly [string, string])[] =>
  entries.flatMap(({ id, name, base }) => (base === null ? [[id, name] as const] : []));

/** The faults that a slate would bring, each with the entry it lies in. */
function slateFaults(live: LiveEstate, entries: readonly SlateEntry[]): readonly BroughtFault[] {
  const after = applyEntries(live.estate, entries);
  return [
    ...faultsBrought(live.estate, after, entries),
    ...tableFaults(after, entries).map((fault) => ({ ...fault, entry: null })),
  ];
}

/** The estate with a slate's changes. */
export const withSlate = async ({ services }: SignedIn, live: LiveEstate, id: number): Promise<Estate> =>
  applyEntries(live.estate, await readEntries(services.db, id));
