import type { NumberList } from '../../core/estate';
import type { SignedIn } from '../http';
import { isOpen, readEntries, readSlate } from '../slates';
import type { StoredList } from '../estate';
import { liveTable, type LiveTable } from '../routing';

/** A list as it is shown, with what a slate makes of it. */
export type ShownList = StoredList & { readonly onSlate?: 'added' | 'changed' };

/** The route live table, with its lists as the slate has them that a request names. */
export async function tableWithSlate({
  services: { db },
  query,
}: SignedIn): Promise<LiveTable & { readonly lists: readonly ShownList[] }> {
  const live = await liveTable(db);
  const id = Number(query.slate);
  const slate = Number.isSafeInteger(id) && id > 0 ? await readSlate(db, id) : null;
  if (!slate || !isOpen(slate)) return live;
  const entries = (await readEntries(db, slate.id)).filter(({ kind }) => kind === 'list');
  if (entries.length === 0) return live;
  const changed = new Map(entries.map((entry) => [entry.id, entry.after as NumberList | null]));
  const known = new Set(live.lists.map((list) => list.id));
  // A version of its own, so that what was worked out of the live list is not taken for it.
  const version = -slate.version;
  const lists = live.lists.flatMap((list): ShownList[] => {
    const after = changed.get(list.id);
    if (after === undefined) return [list];
    return after === null ? [] : [{ ...list, ...after, version, onSlate: 'changed' }];
  });
  const added = [...changed.values()].flatMap((after): ShownList[] =>
    after === null || known.has(after.id)
      ? []
      : [{ ...after, version, hasPrevious: false, onSlate: 'added' }],
  );
  return { ...live, lists: [...lists, ...added] };
}
