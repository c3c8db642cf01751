import {
  differences,
  finderOf,
  parts,
  sliceFor,
  startFrom,
  type Estate,
  type Fault,
} from '../../core/estate';
import { compileEstate, tryCall, type Call } from '../../core/reach';
import {
  applyEntries,
  ENTRY_KINDS,
  entryKey,
  faultsBrought,
  isListKind,
  mergeThree,
  objectFinder,
  staleEntries,
  type BroughtFault,
  type Entry,
  type EntryKind,
  type Identified,
  type Start,
} from '../../core/slate';
import { inTransaction } from '../db';
import { readDrills } from '../drills/queries';
import type { LiveEstate } from '../estate/store';
import { checkedBody, refusal, ROLES, type Route, type Services, type SignedIn } from '../http/routes';
import { objectFaults } from '../objects/check';
import { checkTable } from '../routing/check';
import { applySlate, failedDrills, sayRefused, tableFaults } from './apply';
import { slateEstate, type SlateEstate } from './estate';
import {
  addSlate,
  listSlates,
  patchSlate,
  putEntries,
  readEntries,
  readSlate,
  removeEntry,
  type Slate,
  type StoredEntry,
} from './queries';
import { beginRipple, cancelRipple, rippleState } from './ripple';

const DONE_SHOWN = 20;
const MOST_CHANGES = 40;
const MOST_ENTRIES = 300;
const SPECIALIST = ['specialist'] as const;

const idOf = ({ params }: SignedIn): number => {
  const id = Number(params.slate);
  if (!Number.isSafeInteger(id) || id < 1) throw refusal(404, 'There is no such slate.');
  return id;
};

async function slateOf(context: SignedIn): Promise<Slate> {
  const slate = await readSlate(context.services.db, idOf(context));
  if (!slate) throw refusal(404, 'There is no such slate.');
  return slate;
}

/** The slate, if whoever asks may change it and it is still in work. */
async function ownSlate(context: SignedIn): Promise<Slate> {
  const slate = await slateOf(context);
  if (slate.owner !== context.account.name && !slate.shared)
    throw refusal(403, `This slate is ${slate.owner}’s and not shared.`);
  if (!['work', 'timed', 'held'].includes(slate.state))
    throw refusal(409, slate.state === 'applied' ? 'This slate is in force.' : 'This slate was dropped.');
  return slate;
}

/** Writes to a slate and its entries in one transaction; whatever was worked out of it counts no more. */
async function change(
  context: SignedIn,
  slate: Slate,
  work: (db: Services['db']) => Promise<void>,
): Promise<void> {
  await inTransaction(context.services.db, async (connection) => {
    const locked = await readSlate(connection, slate.id, true);
    if (!locked || locked.version !== slate.version)
      throw refusal(409, 'Somebody else has changed this slate. Look again.');
    await work(connection as unknown as Services['db']);
    await patchSlate(connection, slate.id, {}, context.services.now());
  });
  cancelRipple(context.services.store, slate.id);
}

/** An entry as it is shown: what it changes, and whether it still rests on what is in force. */
function shown(entry: StoredEntry, stale: ReadonlyMap<string, unknown>, faults: readonly Fault[]) {
  const changes = differences(entry.base ?? undefined, entry.after ?? undefined);
  const key = entryKey(entry);
  return {
    kind: entry.kind,
    id: entry.id,
    name: entry.name,
    action: entry.base === null ? 'add' : entry.after === null ? 'remove' : 'change',
    why: entry.why,
    addedBy: entry.addedBy,
    addedAt: entry.addedAt,
    changes: entry.base === null || entry.after === null ? [] : changes.slice(0, MOST_CHANGES),
    more: Math.max(0, changes.length - MOST_CHANGES),
    stale: stale.has(key)
      ? { changes: differences(entry.base, stale.get(key)).slice(0, MOST_CHANGES) }
      : null,
    faults,
  };
}

async function slateBody(context: SignedIn, id: number) {
  const { db, store } = context.services;
  const slate = await readSlate(db, id);
  if (!slate) throw refusal(404, 'There is no such slate.');
  const entries = await readEntries(db, id);
  const isOpen = ['work', 'timed', 'held'].includes(slate.state);
  const live = await slateEstate({ db, store });
  const stale = isOpen ? staleEntries(live.estate, entries) : [];
  const faults = isOpen && stale.length === 0 ? slateFaults(live, entries) : [];
  const staleBy = new Map(stale.map(({ entry, theirs }) => [entryKey(entry), theirs]));
  return {
    slate,
    entries: entries.slice(0, MOST_ENTRIES).map((entry) =>
      shown(
        entry,
        staleBy,
        faults.filter((fault) => fault.entry === entryKey(entry)),
      ),
    ),
    more: Math.max(0, entries.length - MOST_ENTRIES),
    stale: stale.length,
    faults: faults.filter(({ entry }) => entry === null),
    ripple: rippleState(store, id),
  };
}

/** The faults that a slate would bring, each with the entry it lies in. */
function slateFaults(live: SlateEstate, entries: readonly Entry[]): readonly BroughtFault[] {
  const after = applyEntries(live.estate, entries);
  return [
    ...faultsBrought(live.estate, after, entries),
    ...tableFaults(live, after, entries).map((fault) => ({ ...fault, entry: null })),
  ];
}

const nameSchema = parts.closed({ name: parts.requiredText(200) });
const patchSchema = parts.closed({
  name: parts.text(200),
  note: parts.text(2000),
  owner: parts.text(80),
  shared: parts.flag(),
  dueAt: parts.instant().nullable(),
});
const entrySchema = parts.closed({
  base: parts.anything().nullable(),
  after: parts.anything().nullable(),
  why: parts.text(2000),
});
const entriesSchema = parts.closed({
  entries: parts.requiredList(
    parts.closed({
      kind: parts.oneOf(ENTRY_KINDS).required('is missing'),
      id: parts.requiredId(),
      name: parts.text(500),
      base: parts.anything().nullable(),
      after: parts.anything().nullable(),
      why: parts.text(2000),
    }),
  ),
});
const followersSchema = parts.closed({ template: parts.requiredId() });
const applySchema = parts.closed({ overrule: parts.text(2000) });
const stripSchema = parts.closed({
  kind: parts.oneOf(['person', 'group', 'menu']).required('is missing'),
  id: parts.requiredId(),
  call: parts.anything(),
  status: parts.id(),
});

const faultsIn = (checked: ReturnType<typeof checkTable>): readonly Fault[] =>
  'faults' in checked ? checked.faults : [];

/** Puts entries on a slate: what one for the same object rested on before stays what it rests on. */
async function putOn(context: SignedIn, slate: Slate, given: readonly (Entry & { readonly why?: string })[]) {
  const live = await slateEstate(context.services);
  const faults = given.flatMap((entry, i) =>
    entry.after === null
      ? []
      : (entry.kind === 'routing'
          ? faultsIn(checkTable(entry.after, live.lists, live.estate))
          : objectFaults(entry.kind, entry.id, entry.after)
        ).map((fault) => ({
          ...fault,
          path: given.length > 1 ? `entries[${i}].${fault.path}` : fault.path,
        })),
  );
  if (faults.length > 0) throw refusal(400, 'Some of this is not right.', { faults });
  await change(context, slate, async (db) => {
    const known = new Map((await readEntries(db, slate.id)).map((entry) => [entryKey(entry), entry]));
    const entries = given.map((entry) => {
      const before = known.get(entryKey(entry));
      return { ...entry, base: before ? before.base : entry.base, why: entry.why ?? before?.why ?? '' };
    });
    const isBack = (entry: Entry) =>
      differences(entry.base ?? undefined, entry.after ?? undefined).length === 0;
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

/** The estate with a slate's changes. */
const withSlate = async ({ services }: SignedIn, live: LiveEstate, id: number): Promise<Estate> =>
  applyEntries(live.estate, await readEntries(services.db, id));

const sliceOf = (estate: Estate, { kind, id }: Start): Estate | null => {
  const finder = finderOf(estate);
  const there = kind === 'person' ? finder.person(id) : kind === 'group' ? finder.group(id) : finder.menu(id);
  const start = kind === 'person' ? { person: id } : kind === 'group' ? { group: id } : { menu: id };
  return there ? sliceFor(estate, finder, start) : null;
};

export const slateRoutes: readonly Route[] = [
  {
    method: 'GET',
    path: '/api/slates',
    roles: ROLES,
    handle: async ({ services: { db } }) => ({ body: { slates: await listSlates(db, DONE_SHOWN) } }),
  },
  {
    method: 'POST',
    path: '/api/slates',
    roles: SPECIALIST,
    handle: async ({ services: { db, now }, account, body }) => {
      const { name } = checkedBody<{ name: string }>(body, nameSchema);
      return { status: 201, body: { id: await addSlate(db, name.trim(), account.name, now()) } };
    },
  },
  {
    method: 'GET',
    path: '/api/slates/:slate',
    roles: ROLES,
    handle: async (context) => ({ body: await slateBody(context, idOf(context)) }),
  },
  {
    method: 'PUT',
    path: '/api/slates/:slate',
    roles: SPECIALIST,
    handle: async (context) => {
      const patch = checkedBody<{
        name?: string;
        note?: string;
        owner?: string;
        shared?: boolean;
        dueAt?: string | null;
      }>(context.body, patchSchema);
      const slate = await ownSlate(context);
      const { dueAt, name, ...rest } = patch;
      if (name !== undefined && !name.trim())
        throw refusal(400, 'Some of this is not right.', {
          faults: [{ path: 'name', message: 'is missing' }],
        });
      if (typeof dueAt === 'string' && Date.parse(dueAt) <= context.services.now().getTime())
        throw refusal(400, 'Some of this is not right.', {
          faults: [{ path: 'dueAt', message: 'must be a time to come' }],
        });
      await change(context, slate, (db) =>
        patchSlate(
          db,
          slate.id,
          {
            ...rest,
            ...(name === undefined ? {} : { name: name.trim() }),
            ...(dueAt === undefined
              ? {}
              : dueAt === null
                ? { dueAt: null, state: 'work', heldWhy: null }
                : { dueAt: new Date(Date.parse(dueAt)), state: 'timed', heldWhy: null }),
          },
          context.services.now(),
        ),
      );
      return { body: await slateBody(context, slate.id) };
    },
  },
  {
    method: 'DELETE',
    path: '/api/slates/:slate',
    roles: SPECIALIST,
    handle: async (context) => {
      const slate = await ownSlate(context);
      await change(context, slate, (db) =>
        patchSlate(db, slate.id, { state: 'dropped', dueAt: null }, context.services.now()),
      );
      return { status: 204 };
    },
  },
  {
    method: 'POST',
    path: '/api/slates/:slate/back',
    roles: SPECIALIST,
    handle: async (context) => {
      const slate = await slateOf(context);
      if (slate.state !== 'dropped') throw refusal(409, 'This slate was not dropped.');
      if (slate.owner !== context.account.name && !slate.shared)
        throw refusal(403, `This slate is ${slate.owner}’s and not shared.`);
      await change(context, slate, (db) =>
        patchSlate(db, slate.id, { state: 'work' }, context.services.now()),
      );
      return { body: await slateBody(context, slate.id) };
    },
  },
  {
    method: 'PUT',
    path: '/api/slates/:slate/entries',
    roles: SPECIALIST,
    handle: async (context) => {
      const { entries } = checkedBody<{ entries: readonly (Entry & { why?: string })[] }>(
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
      return { body: await slateBody(context, slate.id) };
    },
  },
  {
    method: 'GET',
    path: '/api/slates/:slate/entries/:kind/:id',
    roles: ROLES,
    handle: async (context) => {
      const slate = await slateOf(context);
      const kind = kindOf(context);
      const entry = (await readEntries(context.services.db, slate.id)).find(
        (each) => each.kind === kind && each.id === context.params.id,
      );
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
      const id = isListKind(kind) ? (context.params.id ?? '') : kind;
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
    /** Lets everything rest on what is in force now, both sides' changes brought together. */
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
        .map((person): Entry => ({
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
  {
    method: 'POST',
    path: '/api/slates/:slate/ripple',
    roles: ['specialist', 'help-desk'],
    handle: async (context) => {
      const { db, store, now } = context.services;
      const slate = await slateOf(context);
      const live = await store.current();
      const entries = await readEntries(db, slate.id);
      return { status: 202, body: beginRipple(store, slate, live, entries, now().getTime()) };
    },
  },
  {
    method: 'GET',
    path: '/api/slates/:slate/ripple',
    roles: ROLES,
    handle: async (context) => {
      const state = rippleState(context.services.store, idOf(context));
      if (!state) throw refusal(404, 'No ripple has been asked for.');
      return { body: state };
    },
  },
  {
    method: 'DELETE',
    path: '/api/slates/:slate/ripple',
    roles: ['specialist', 'help-desk'],
    handle: async (context) => {
      cancelRipple(context.services.store, idOf(context));
      return { status: 204 };
    },
  },
  {
    /** One call before and after, each as a strip. */
    method: 'POST',
    path: '/api/slates/:slate/strips',
    roles: ROLES,
    handle: async (context) => {
      const { kind, id, call, status } = checkedBody<Start & { call: Call; status?: string }>(
        context.body,
        stripSchema,
      );
      const slate = await slateOf(context);
      const live = await context.services.store.current();
      const strip = (estate: Estate) => {
        // A line may be somebody else's in the other version.
        const to = compileEstate(estate).destinations.get(call.to);
        const owner: Start | null = !to
          ? null
          : to.kind === 'line'
            ? { kind: 'person', id: to.person.id }
            : { kind: to.kind, id: to.kind === 'group' ? to.group.id : to.menu.id };
        const slice = owner && sliceOf(estate, owner);
        if (!slice) return null;
        const people = slice.people.map((each) =>
          status !== undefined && kind === 'person' && each.id === id ? { ...each, status } : each,
        );
        return tryCall(compileEstate({ ...slice, people }), call, kind === 'person' ? id : '').strip;
      };
      return {
        body: { before: strip(live.estate), after: strip(await withSlate(context, live, slate.id)) },
      };
    },
  },
  {
    /** A person as they would be, for a page that shows the slate. */
    method: 'GET',
    path: '/api/slates/:slate/people/:id',
    roles: SPECIALIST,
    handle: async (context) => {
      const slate = await slateOf(context);
      const live = await context.services.store.current();
      const estate = await withSlate(context, live, slate.id);
      const id = context.params.id ?? '';
      const slice = sliceOf(estate, { kind: 'person', id });
      const person = slice?.people.find((each) => each.id === id);
      if (!slice || !person) throw refusal(404, 'There is no such person on the slate.');
      return { body: { person, slice } };
    },
  },
  {
    method: 'GET',
    path: '/api/slates/:slate/drills',
    roles: ROLES,
    handle: async (context) => {
      const slate = await slateOf(context);
      const live = await context.services.store.current();
      const drills = await readDrills(context.services.db);
      return {
        body: {
          drills: drills.length,
          failed: failedDrills(await withSlate(context, live, slate.id), drills),
        },
      };
    },
  },
  {
    method: 'POST',
    path: '/api/slates/:slate/apply',
    roles: SPECIALIST,
    handle: async (context) => {
      const { overrule } = checkedBody<{ overrule?: string }>(context.body, applySchema);
      const slate = await ownSlate(context);
      if (overrule !== undefined && !overrule.trim())
        throw refusal(400, 'Some of this is not right.', {
          faults: [{ path: 'overrule', message: 'say why it may be put in force all the same' }],
        });
      const applied = await applySlate(context.services, slate.id, context.account.name, overrule ?? null);
      if (!applied.ok)
        throw refusal(applied.refused.kind === 'faults' ? 400 : 409, sayRefused(applied.refused), {
          ...(applied.refused.kind === 'faults' ? { faults: applied.refused.faults } : {}),
          extra: { refused: applied.refused },
        });
      return { body: { changed: applied.changed, ...(await slateBody(context, slate.id)) } };
    },
  },
];
