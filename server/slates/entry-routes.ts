import type { Slate } from '../../api/slates';
import { startFrom, isSame } from '../../core/editing';
import { manyFormFaults, parts, type Fault } from '../../core/estate';
import {
  applyEntries,
  ENTRY_KINDS,
  entryKey,
  isWholeKind,
  mergeThree,
  objectFinder,
  staleEntries,
  type SlateEntry,
  type EntryKind,
  type Identified,
} from '../../core/changes/slate';
import { checkedBody, type Route, type SignedIn } from '../http';
import { notRight, refusal, ROLES } from '../base';
import { objectFaults } from '../estate';
import { checkTable } from '../routing';
import { change, ownSlate, slateBody, slateOf, SPECIALIST, withSlate } from './access';
import { slateEstate } from './estate';
import { putEntries, readEntries, removeEntry } from './queries';

const entrySchema = parts.closed({
  base: parts.anything().nullable(),
  after: parts.anything().nullable(),
  why: parts.text(2000),
});
/** Changes as they are sent. */
export const sentEntries = () =>
  parts.requiredList(
    parts.closed({
      kind: parts.oneOf(ENTRY_KINDS).required('is missing'),
      id: parts.requiredId(),
      name: parts.text(500),
      base: parts.anything().nullable(),
      after: parts.anything().nullable(),
      why: parts.text(2000),
    }),
  );
const entriesSchema = parts.closed({ entries: sentEntries() });
const followersSchema = parts.closed({ template: parts.requiredId() });

const faultsIn = (checked: ReturnType<typeof checkTable>): readonly Fault[] =>
  'faults' in checked ? checked.faults : [];

const formFaults = manyFormFaults();
const isOf = ({ id, after }: SlateEntry): boolean => (after as Identified).id === id;

/** Puts entries on a slate: what one for the same object rested on before stays what it rests on. */
export async function putOn(
  context: SignedIn,
  slate: Slate,
  given: readonly (SlateEntry & { readonly why?: string })[],
) {
  const live = await slateEstate(context.services);
  // The route table may speak of what is on the same slate.
  const then = given.some(({ kind }) => kind === 'routing')
    ? applyEntries(live.estate, await readEntries(context.services.db, slate.id))
    : live.estate;
  // Most slates bring many people, mostly alike: those that are looked at together are not looked at one by one.
  const people = given.flatMap(({ kind, after }) => (kind === 'person' && after !== null ? [after] : []));
  const areRight = formFaults(people) === null;
  const faults = given.flatMap((entry, i) =>
    entry.after === null || (entry.kind === 'person' && areRight && isOf(entry))
      ? []
      : (entry.kind === 'routing'
          ? faultsIn(checkTable(entry.after, then.routing?.lists ?? [], then))
          : objectFaults(entry.kind, entry.id, entry.after)
        ).map((fault) => ({
          ...fault,
          path: given.length > 1 ? `entries[${i}].${fault.path}` : fault.path,
        })),
  );
  if (faults.length > 0) throw notRight(faults);
  await change(context, slate, async (db) => {
    const known = new Map((await readEntries(db, slate.id, given)).map((entry) => [entryKey(entry), entry]));
    const entries = given.map((entry) => {
      const before = known.get(entryKey(entry));
      return { ...entry, base: before ? before.base : entry.base, why: entry.why ?? before?.why ?? '' };
    });
    const isBack = (entry: SlateEntry) => isSame(entry.base ?? undefined, entry.after ?? undefined);
    await putEntries(
      db,
      slate.id,
      entries.filter((entry) => !isBack(entry)),
      context.account.name,
      context.services.now(),
    );
    for (const { kind, id } of entries.filter(isBack)) await removeEntry(db, slate.id, kind, id);
  });
}

const kindOf = ({ params }: SignedIn): EntryKind => {
  const kind = ENTRY_KINDS.find((each) => each === params.kind);
  if (!kind) throw refusal(404, 'There is nothing of this kind.');
  return kind;
};

/** What stands on a slate. */
export const entryRoutes: readonly Route[] = [
  {
    method: 'PUT',
    path: '/api/slates/:slate/entries',
    roles: SPECIALIST,
    isLong: true,
    handle: async (context) => {
      const { entries } = checkedBody<{ entries: readonly (SlateEntry & { why?: string })[] }>(
        context.body,
        entriesSchema,
      );
      const slate = await ownSlate(context);
      await putOn(
        context,
        slate,
        entries.map((entry) => ({
          ...entry,
          name: entry.name ?? ((entry.after ?? entry.base) as Identified | null)?.name ?? entry.id,
          base: entry.base ?? null,
          after: entry.after ?? null,
        })),
      );
      return { body: await slateBody(context, slate.id, true) };
    },
  },
  {
    method: 'GET',
    path: '/api/slates/:slate/entries/:kind/:id',
    roles: ROLES,
    handle: async (context) => {
      const slate = await slateOf(context);
      const kind = kindOf(context);
      const [entry] = await readEntries(context.services.db, slate.id, [
        { kind, id: context.params.id ?? '' },
      ]);
      if (!entry) throw refusal(404, 'This is not on the slate.');
      const { estate } = await slateEstate(context.services);
      const [stale] = staleEntries(estate, [entry]);
      return {
        body: { base: entry.base, after: entry.after, theirs: stale ? stale.theirs : null, why: entry.why },
      };
    },
  },
  {
    method: 'PUT',
    path: '/api/slates/:slate/entries/:kind/:id',
    roles: SPECIALIST,
    handle: async (context) => {
      const { base, after, why } = checkedBody<{ base?: unknown; after?: unknown; why?: string }>(
        context.body,
        entrySchema,
      );
      const slate = await ownSlate(context);
      const kind = kindOf(context);
      const id = isWholeKind(kind) ? kind : (context.params.id ?? '');
      const name = ((after ?? base) as Identified | null | undefined)?.name ?? kind;
      await putOn(context, slate, [
        { kind, id, name, base: base ?? null, after: after ?? null, ...(why === undefined ? {} : { why }) },
      ]);
      return { body: await slateBody(context, slate.id) };
    },
  },
  {
    method: 'DELETE',
    path: '/api/slates/:slate/entries/:kind/:id',
    roles: SPECIALIST,
    handle: async (context) => {
      const slate = await ownSlate(context);
      const kind = kindOf(context);
      await change(context, slate, async (db) => {
        if (!(await removeEntry(db, slate.id, kind, context.params.id ?? '')))
          throw refusal(404, 'This is not on the slate.');
      });
      return { body: await slateBody(context, slate.id) };
    },
  },
  {
    /** Lets everything rest on what is live now, both sides' changes brought together. */
    method: 'POST',
    path: '/api/slates/:slate/carry',
    roles: SPECIALIST,
    handle: async (context) => {
      const slate = await ownSlate(context);
      const clashes: { name: string; paths: readonly string[] }[] = [];
      const { estate } = await slateEstate(context.services);
      await change(context, slate, async (db) => {
        const entries = await readEntries(db, slate.id);
        const find = objectFinder(estate);
        const carried = staleEntries(estate, entries).map(({ entry }) => {
          const theirs = find(entry);
          if (theirs === null || entry.after === null || entry.base === null)
            return { ...entry, base: theirs };
          const { merged, clashes: paths } = mergeThree(entry.base, entry.after, theirs);
          if (paths.length > 0) clashes.push({ name: entry.name, paths });
          return { ...entry, base: theirs, after: merged };
        });
        await putEntries(db, slate.id, carried, context.account.name, context.services.now());
      });
      return { body: { ...(await slateBody(context, slate.id)), clashes } };
    },
  },
  {
    /** Gives a template, as the slate has it, to all who follow it. */
    method: 'POST',
    path: '/api/slates/:slate/followers',
    roles: SPECIALIST,
    handle: async (context) => {
      const { template: id } = checkedBody<{ template: string }>(context.body, followersSchema);
      const slate = await ownSlate(context);
      const live = await context.services.store.current();
      const then = await withSlate(context, live, slate.id);
      const template = then.templates?.find((each) => each.id === id);
      if (!template) throw refusal(404, 'There is no such template.');
      const entries = then.people
        .filter((person) => person.template === id)
        .map((person): SlateEntry => ({
          kind: 'person',
          id: person.id,
          name: person.name,
          base: live.finder.person(person.id) ?? null,
          after: startFrom(person, template),
        }));
      await putOn(context, slate, entries);
      return { body: await slateBody(context, slate.id) };
    },
  },
];
