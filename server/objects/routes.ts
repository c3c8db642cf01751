import type { DiallingPage } from '../../api/routing';
import { personOfTemplate, sliceFor, isSame } from '../../core/editing';
import {
  diallingSchema,
  parts,
  promisesSchema,
  referenceFaults,
  settingsSchema,
  type Dialling,
  type Estate,
  type Fault,
  type KeptPromise,
  type Settings,
  type Template,
  isObjectKind,
} from '../../core/estate';
import { ambiguities, extensionsOf, readNumber, showNumber } from '../../core/calls/dialling';
import { flowOf } from '../../core/calls/views';
import {
  changeEstate,
  LISTS,
  OBJECT_KINDS,
  objectsOf,
  type ObjectKind,
  type LiveEstate,
  objectFaults,
  orderObjects,
  putObject,
  readObject,
  removeObject,
  setDialling,
  setPromises,
  setSettings,
  type EditableKind,
} from '../estate';
import { checkedBody, type Route, type Services, type SignedIn } from '../http';
import { notRight, refusal, ROLES } from '../base';
import { addRecord } from '../record';

interface Named {
  readonly id: string;
  readonly name: string;
}

function kindOf(context: SignedIn): EditableKind {
  const { kind } = context.params;
  if (!isObjectKind(kind)) throw refusal(404, 'There is nothing here.');
  return kind;
}

/** The estate as it would be with one object in its place, added, or (null) gone. */
function estateWith(estate: Estate, kind: EditableKind, id: string, object: Named | null): Estate {
  const list: readonly Named[] = objectsOf(estate, kind);
  const others = list.some((each) => each.id === id)
    ? list.flatMap((each) => (each.id === id ? (object ? [object] : []) : [each]))
    : [...list, ...(object ? [object] : [])];
  return { ...estate, [LISTS[kind]]: others };
}

/** The faults that a change would bring into the estate, those of the object itself with paths of its own. */
function faultsBrought(before: Estate, after: Estate, kind: EditableKind, id: string): Fault[] {
  const at = objectsOf(after, kind).findIndex((each) => each.id === id);
  const own = `${LISTS[kind]}[${at}]`;
  const known = new Set(referenceFaults(before).map((fault) => `${fault.path} ${fault.message}`));
  return referenceFaults(after)
    .filter((fault) => !known.has(`${fault.path} ${fault.message}`))
    .map((fault) =>
      fault.path.startsWith(`${own}.`)
        ? { ...fault, path: fault.path.slice(own.length + 1) }
        : { ...fault, message: `${fault.message} (in ${whereIn(after, fault.path)})` },
    );
}

/** Where in the estate a path stands, by name. */
function whereIn(estate: Estate, path: string): string {
  const [, list, at] = /^(\w+)\[(\d+)\]/.exec(path) ?? [];
  const object = list && (estate[list as 'people'] as readonly Named[] | undefined)?.[Number(at)];
  return object ? object.name : path;
}

const objectBody = (live: LiveEstate, kind: EditableKind, id: string) => {
  const object = (objectsOf(live.estate, kind) as readonly Named[]).find((each) => each.id === id);
  if (!object) throw refusal(404, 'There is no such thing.');
  const slice = sliceOf(live, kind, object);
  return { object, version: live.objectVersions.get(`${kind}/${id}`) ?? 1, ...(slice ? { slice } : {}) };
};

/** What calls for a group or menu, or for somebody of a template, can come to. */
function sliceOf(live: LiveEstate, kind: EditableKind, object: Named): Estate | null {
  const { estate, finder } = live;
  if (kind === 'group') return sliceFor(estate, finder, { group: object.id });
  if (kind === 'menu') return sliceFor(estate, finder, { menu: object.id });
  if (kind !== 'template') return null;
  const somebody = personOfTemplate(object as Template, {
    status: estate.statuses[0]?.id ?? '',
    permission: estate.permissions[0]?.id ?? '',
    maxCalls: 1,
  });
  return sliceFor(
    estate,
    { ...finder, person: (id) => (id === somebody.id ? somebody : finder.person(id)) },
    somebody.id,
  );
}

async function writeObject(services: Services, who: string, kind: EditableKind, id: string, body: unknown) {
  const { version, object } = checkedBody<{ version: number | null; object: Named }>(
    body,
    parts.closed({ version: parts.count(0).nullable(), object: parts.anything() }),
  );
  const form = objectFaults(kind, id, object);
  if (form.length > 0) throw notRight(form);
  await changeEstate(services, async (tx, { live, countUp }) => {
    const stored = await readObject(tx, kind, id);
    if ((stored?.version ?? null) !== (version || null))
      throw refusal(409, 'Somebody else has changed this since you opened it.', {
        extra: { theirs: stored },
      });
    const faults = faultsBrought(live.estate, estateWith(live.estate, kind, id, object), kind, id);
    if (faults.length > 0) throw notRight(faults);
    if (stored && isSame(stored.object, object)) return;
    await countUp(true);
    await putObject(tx, kind, id, object);
    await addRecord(tx, {
      who,
      kind: stored ? 'object-changed' : 'object-added',
      subject: object.name,
      detail: kind,
      ...(stored ? { before: stored.object } : {}),
      after: object,
    });
  });
  return { body: objectBody(await services.store.current(), kind, id) };
}

async function dropObject(services: Services, who: string, kind: EditableKind, id: string) {
  await changeEstate(services, async (tx, { live, countUp }) => {
    const { object } = objectBody(live, kind, id);
    const faults = faultsBrought(live.estate, estateWith(live.estate, kind, id, null), kind, id);
    if (faults.length > 0) throw refusal(409, `${object.name} is still used.`, { faults });
    await countUp(true);
    await removeObject(tx, kind, id);
    await addRecord(tx, { who, kind: 'object-removed', subject: object.name, detail: kind, before: object });
  });
  return { status: 204 };
}

/** @throws a refusal with the other side where somebody else has changed it since it was read */
function mustBeAsRead(stored: unknown, read: unknown, what: string): void {
  if (!isSame(stored, read))
    throw refusal(409, `Somebody else has changed ${what} since you opened this.`, {
      extra: { theirs: stored },
    });
}

const idOf = (context: SignedIn) => context.params.id ?? '';

export const objectRoutes: readonly Route[] = [
  {
    method: 'GET',
    path: '/api/objects/:kind',
    roles: ROLES,
    handle: async ({ services, params }) => {
      const { kind } = params;
      if (!OBJECT_KINDS.some((each) => each === kind)) throw refusal(404, 'There is nothing here.');
      const { estate } = await services.store.current();
      return { body: { objects: objectsOf(estate, kind as ObjectKind) } };
    },
  },
  {
    method: 'GET',
    path: '/api/objects/:kind/:id',
    roles: ROLES,
    handle: async (context) => ({
      body: objectBody(await context.services.store.current(), kindOf(context), idOf(context)),
    }),
  },
  {
    method: 'PUT',
    path: '/api/order/:kind',
    roles: ['specialist'],
    handle: async (context) => {
      const { services, account, body } = context;
      const kind = kindOf(context);
      const { ids } = checkedBody<{ ids: readonly string[] }>(
        body,
        parts.closed({ ids: parts.requiredList(parts.requiredId()) }),
      );
      await changeEstate(services, async (tx, { live, countUp }) => {
        const known: readonly Named[] = objectsOf(live.estate, kind);
        if (ids.length !== known.length || !known.every(({ id }) => ids.includes(id)))
          throw refusal(409, 'Something was added or removed meanwhile. Look again.', {
            extra: { theirs: known.map(({ id }) => id) },
          });
        if (known.every(({ id }, at) => id === ids[at])) return;
        await countUp(true);
        await orderObjects(tx, kind, ids);
        const named = (order: readonly string[]) =>
          order.map((id) => known.find((each) => each.id === id)?.name ?? id);
        await addRecord(tx, {
          who: account.name,
          kind: 'order-set',
          subject: kind,
          before: named(known.map(({ id }) => id)),
          after: named(ids),
        });
      });
      return { body: { ids } };
    },
  },
  {
    method: 'PUT',
    path: '/api/objects/:kind/:id',
    roles: ['specialist'],
    handle: (context) =>
      writeObject(context.services, context.account.name, kindOf(context), idOf(context), context.body),
  },
  {
    method: 'DELETE',
    path: '/api/objects/:kind/:id',
    roles: ['specialist'],
    handle: (context) => dropObject(context.services, context.account.name, kindOf(context), idOf(context)),
  },
  {
    method: 'GET',
    path: '/api/numbers/:number',
    roles: ROLES,
    handle: async ({ services, params, query }) => {
      const { index, estate } = await services.store.current();
      const text = params.number ?? '';
      const digits = text.replace(/\D/g, '');
      const read = readNumber(text, estate.dialling);
      const number = index.destinations.has(digits) ? digits : read.ok ? read.e164 : digits;
      const at = query.at === undefined ? services.now().getTime() : Number(query.at);
      if (!Number.isFinite(at)) throw refusal(400, 'This is no moment.');
      const flow = flowOf(index, number, at);
      if (!flow)
        throw refusal(404, `Nothing of the organisation has ${read.ok ? showNumber(read.e164) : text}.`);
      return { body: { number, flow } };
    },
  },
  {
    method: 'GET',
    path: '/api/settings',
    roles: ROLES,
    handle: async ({ services }) => {
      const settings = (await services.store.current()).estate.settings ?? {};
      return { body: { settings } };
    },
  },
  {
    method: 'PUT',
    path: '/api/settings',
    roles: ['specialist'],
    handle: async ({ services, account, body }) => {
      const { settings, before: read } = checkedBody<{ settings: Settings; before: Settings }>(
        body,
        parts.closed({ settings: settingsSchema, before: settingsSchema }),
      );
      await changeEstate(services, async (tx, { live, countUp }) => {
        const before = live.estate.settings ?? {};
        mustBeAsRead(before, read, 'the organisation’s times and codes');
        if (isSame(before, settings)) return;
        await countUp(true);
        await setSettings(tx, settings);
        await addRecord(tx, {
          who: account.name,
          kind: 'settings-set',
          subject: 'the organisation’s times and codes',
          before,
          after: settings,
        });
      });
      return { body: { settings } };
    },
  },
  {
    method: 'GET',
    path: '/api/dialling',
    roles: ROLES,
    handle: async ({ services }) => {
      const { estate } = await services.store.current();
      const { dialling, permissions, trunks, settings } = estate;
      const held = new Map<string, { id: string; name: string }[]>();
      for (const { id, name, permission } of estate.people)
        held.set(permission, [...(held.get(permission) ?? []), { id, name }]);
      return {
        body: {
          dialling,
          permissions: permissions.map((permission) => ({
            ...permission,
            held: held.get(permission.id) ?? [],
          })),
          trunks,
          guard: settings?.fraudProtection ?? { prefixes: [] },
          ambiguities: ambiguities(dialling, [...extensionsOf(estate)]),
        } satisfies DiallingPage,
      };
    },
  },
  {
    method: 'PUT',
    path: '/api/dialling',
    roles: ['specialist'],
    handle: async ({ services, account, body }) => {
      const { dialling, before } = checkedBody<{ dialling: Dialling; before: Dialling }>(
        body,
        parts.closed({ dialling: diallingSchema, before: diallingSchema }),
      );
      await changeEstate(services, async (tx, { live, countUp }) => {
        mustBeAsRead(live.estate.dialling, before, 'the dial plan');
        if (isSame(before, dialling)) return;
        await countUp(true);
        await setDialling(tx, dialling);
        await addRecord(tx, {
          who: account.name,
          kind: 'dialling-set',
          subject: 'the dial plan',
          before: live.estate.dialling,
          after: dialling,
        });
      });
      return { body: { dialling } };
    },
  },
  {
    method: 'PUT',
    path: '/api/promises',
    roles: ['specialist'],
    handle: async ({ services, account, body }) => {
      const { promises, before: read } = checkedBody<{
        promises: readonly KeptPromise[];
        before: readonly KeptPromise[];
      }>(body, parts.closed({ promises: promisesSchema, before: promisesSchema }));
      await changeEstate(services, async (tx, { live, countUp }) => {
        const before = live.estate.promises ?? [];
        mustBeAsRead(before, read, 'the promises');
        const after: Estate = { ...live.estate, promises };
        const faults = referenceFaults(after).filter((fault) => fault.path.startsWith('promises'));
        if (faults.length > 0) throw notRight(faults);
        if (isSame(before, promises)) return;
        await countUp(true);
        await setPromises(tx, promises);
        await addRecord(tx, {
          who: account.name,
          kind: 'promises-set',
          subject: `${promises.length} promises`,
          before,
          after: promises,
        });
      });
      return { body: { promises } };
    },
  },
];
