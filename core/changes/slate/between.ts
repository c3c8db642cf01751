import { isSame } from '../../editing';
import type { Estate } from '../../estate';
import { objectFinder } from './apply';
import { LISTS, WHOLES, type SlateEntry, type Identified, type ListKind } from './types';

/** What makes one estate of another, object by object; objects that are the same are left out. */
export function entriesBetween(before: Estate, after: Estate): SlateEntry[] {
  const entries: SlateEntry[] = [];
  const [was, is] = [objectFinder(before), objectFinder(after)];
  const see = (kind: SlateEntry['kind'], id: string, name: string) => {
    const [base, then] = [was({ kind, id }), is({ kind, id })];
    if (!isSame(base ?? undefined, then ?? undefined)) entries.push({ kind, id, name, base, after: then });
  };
  for (const kind of Object.keys(LISTS) as ListKind[]) {
    const named = new Map<string, string>();
    for (const estate of [before, after])
      for (const { id, name } of (estate[LISTS[kind]] ?? []) as readonly Identified[]) named.set(id, name);
    for (const [id, name] of named) see(kind, id, name);
  }
  for (const kind of WHOLES) see(kind, kind, kind);
  const lists = new Map(
    [before, after].flatMap(({ routing }) => routing?.lists ?? []).map(({ id, name }) => [id, name]),
  );
  for (const [id, name] of lists) see('list', id, name);
  return entries;
}
