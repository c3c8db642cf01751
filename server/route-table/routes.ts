import type { TableBody, ListPreview, ListPage, ListHead } from '../../api/routing';
import { extensionsOf } from '../../core/calls/dialling';
import { parts } from '../../core/estate';
import { listDifference } from '../../core/formats';
import {
  proposeTwoSystems,
  traceRoute,
  wayOfNumber,
  type RoutedCall,
  type TwoSystems,
} from '../../core/routes';
import { maskText } from '../../core/privacy';
import { inTransaction } from '../db';
import { checkedBody, type Route, type SignedIn } from '../http';
import { notRight, refusal, ROLES } from '../base';
import { addRecord } from '../record';
import {
  analyseInPool,
  guardInPool,
  checkTable,
  listRecord,
  bareList,
  namedList,
  sentList,
  analysisOptions,
  liveTable,
  readyTable,
  wholeTable,
  type LiveTable,
} from '../routing';
import { tableWithSlate, type ShownList } from './slated';
import {
  bringBackList,
  readList,
  readTableBody,
  removeList,
  writeList,
  writeTableBody,
  type StoredList,
} from '../estate';

const SHOWN = 100;
const { closed, anything, count, requiredText, text, list, requiredId, requiredList } = parts;

const listHead = ({ id, name, numbers, version, hasPrevious, onSlate }: ShownList): ListHead => ({
  id,
  name,
  count: numbers.length,
  version,
  hasPrevious,
  ...(onSlate ? { onSlate } : {}),
});

/** A table as a browser sends it, checked; the lists that it may speak of are those that are stored. */
async function checkedTable({ services }: SignedIn, given: unknown, live: LiveTable): Promise<TableBody> {
  const { estate } = await services.store.current();
  const checked = checkTable(given, live.lists, estate);
  if ('faults' in checked) throw notRight(checked.faults);
  return checked.body;
}

/** The table that a question is about: the one sent along, or the live one. */
async function askedTable(context: SignedIn, given: unknown): Promise<{ body: TableBody; live: LiveTable }> {
  const live = await tableWithSlate(context);
  return { body: given === undefined ? live.body : await checkedTable(context, given, live), live };
}

const tablePage = ({ body, version, lists }: LiveTable) => ({
  table: body,
  version,
  lists: lists.map(listHead),
});

async function putTable(context: SignedIn) {
  const { services, account, body } = context;
  const sent = checkedBody<{ version: number; table: unknown }>(
    body,
    closed({ version: count(0).required('is missing'), table: anything() }),
  );
  const table = await checkedTable(context, sent.table, await liveTable(services.db));
  await inTransaction(services.db, async (connection) => {
    const stored = await readTableBody(connection, true);
    if (stored.version !== sent.version)
      throw refusal(409, 'Somebody else has changed the route table since you opened it.', {
        extra: { theirs: { object: stored.body, version: stored.version } },
      });
    await writeTableBody(connection, table);
    await addRecord(connection, {
      who: account.name,
      kind: 'routes-changed',
      subject: 'the route table',
      before: stored.body,
      after: table,
    });
  });
  return { body: tablePage(await liveTable(services.db)) };
}

async function previewList(context: SignedIn) {
  const { numbers, ...file } = await sentList(context);
  const before = context.query.list ? await readList(context.services.db, context.query.list) : null;
  const { added, removed, kept } = listDifference(before?.numbers ?? [], numbers);
  return {
    body: {
      ...file,
      count: numbers.length,
      added: { count: added.length, some: added.slice(0, SHOWN) },
      removed: { count: removed.length, some: removed.slice(0, SHOWN) },
      kept,
    } satisfies ListPreview,
  };
}

async function putList(context: SignedIn) {
  const { services, account } = context;
  const { id, name } = namedList(context);
  const { numbers } = await sentList(context);
  await inTransaction(services.db, async (connection) => {
    const before = await readList(connection, id);
    await writeList(connection, { id, name, numbers });
    await addRecord(connection, {
      who: account.name,
      ...listRecord(before && bareList(before), { id, name, numbers }),
    });
  });
  return { body: tablePage(await liveTable(services.db)) };
}

async function storedList(context: SignedIn): Promise<StoredList> {
  const found = await readList(context.services.db, context.params.id ?? '');
  if (!found) throw refusal(404, 'There is no such list.');
  return found;
}

const callSchema = closed({
  from: requiredId(),
  dialled: requiredText(40).matches(/^\+?[0-9*#A-D]+$/, 'must be digits, with or without a leading +'),
  caller: text(40),
  atMs: count(0),
  down: list(requiredId()),
  full: list(requiredId()),
  sendsBack: anything(),
});

export const routingRoutes: readonly Route[] = [
  {
    method: 'GET',
    path: '/api/guard',
    roles: ROLES,
    handle: async ({ services }) => {
      const { estate } = await services.store.current();
      const live = await liveTable(services.db);
      return {
        body: await guardInPool({
          estate,
          table: live.version > 0 ? wholeTable(live.body, live, estate) : null,
          fromMs: services.now().getTime(),
        }),
      };
    },
  },
  {
    method: 'GET',
    path: '/api/routing',
    roles: ROLES,
    handle: async (context) => ({ body: tablePage(await tableWithSlate(context)) }),
  },
  { method: 'PUT', path: '/api/routing', roles: ['specialist'], handle: putTable },
  {
    method: 'POST',
    path: '/api/routing/analysis',
    roles: ROLES,
    handle: async (context) => {
      const { table } = checkedBody<{ table?: unknown }>(context.body, closed({ table: anything() }));
      const { body, live } = await askedTable(context, table);
      const { estate } = await context.services.store.current();
      return {
        body: await analyseInPool({
          table: wholeTable(body, live, estate),
          options: analysisOptions(body, estate, context.services.now().getTime()),
        }),
      };
    },
  },
  {
    method: 'POST',
    path: '/api/routing/trace',
    roles: ROLES,
    handle: async (context) => {
      const { table, call } = checkedBody<{ table?: unknown; call: RoutedCall }>(
        context.body,
        closed({ table: anything(), call: callSchema.required('is missing') }),
      );
      const { body, live } = await askedTable(context, table);
      const { estate } = await context.services.store.current();
      const atMs = call.atMs ?? context.services.now().getTime();
      return { body: { trace: traceRoute(readyTable(body, live, estate), { ...call, atMs }) } };
    },
  },
  {
    method: 'POST',
    path: '/api/routing/way',
    roles: ROLES,
    handle: async ({ services, body }) => {
      const { numbers, person: id } = checkedBody<{ numbers: readonly string[]; person: string }>(
        body,
        closed({ numbers: requiredList(text(600)).max(50), person: requiredId() }),
      );
      const { estate, finder } = await services.store.current();
      const person = finder.person(id);
      if (!person) throw refusal(404, 'There is no such person.');
      const live = await liveTable(services.db);
      const table = live.version > 0 ? readyTable(live.body, live, estate) : null;
      const extensions = extensionsOf(estate);
      const at = services.now().getTime();
      return {
        body: {
          ways: numbers.map((number) => wayOfNumber(number, person, estate, extensions, table, at)),
        },
      };
    },
  },
  {
    method: 'POST',
    path: '/api/routing/two-systems',
    roles: ['specialist'],
    handle: async (context) => {
      const { table, asked } = checkedBody<{ table: unknown; asked: TwoSystems }>(
        context.body,
        closed({
          table: anything(),
          asked: closed({
            list: requiredId(),
            first: requiredId(),
            second: requiredId(),
            delayMs: count(0, 600_000).required('is missing'),
          }).required('is missing'),
        }),
      );
      const { body, live } = await askedTable(context, table);
      const { estate } = await context.services.store.current();
      const proposed = proposeTwoSystems(
        wholeTable(body, live, estate),
        asked,
        analysisOptions(body, estate, context.services.now().getTime()),
      );
      const { lists: _lists, schedules: _schedules, ...after } = proposed.table;
      return { body: { table: after, route: proposed.route } };
    },
  },
  {
    method: 'GET',
    path: '/api/routing/lists/:id',
    roles: ROLES,
    handle: async (context) => {
      const { lists } = await tableWithSlate(context);
      const found = lists.find(({ id }) => id === context.params.id);
      if (!found) throw refusal(404, 'There is no such list.');
      const wanted = (context.query.search ?? '').replace(/[^\d+]/g, '');
      // Searched is what the role may see: else one could find a private number out, a digit at a time.
      const { index } = await context.services.store.current();
      const isWhole = context.account.role === 'specialist';
      const seen = (number: string) =>
        isWhole ? number : maskText(number, (each) => index.destinations.has(each));
      const matching =
        wanted === '' ? found.numbers : found.numbers.filter((number) => seen(number).includes(wanted));
      return {
        body: {
          ...listHead(found),
          matching: matching.length,
          numbers: matching.slice(0, SHOWN),
        } satisfies ListPage,
      };
    },
  },
  {
    method: 'POST',
    path: '/api/routing/lists/read',
    roles: ['specialist'],
    rawBody: true,
    handle: previewList,
  },
  { method: 'PUT', path: '/api/routing/lists/:id', roles: ['specialist'], rawBody: true, handle: putList },
  {
    method: 'POST',
    path: '/api/routing/lists/:id/bring-back',
    roles: ['specialist'],
    handle: async (context) => {
      const found = await storedList(context);
      await inTransaction(context.services.db, async (connection) => {
        if (!(await bringBackList(connection, found.id)))
          throw refusal(409, 'There are no numbers before these.');
        const now = await readList(connection, found.id);
        await addRecord(connection, {
          who: context.account.name,
          ...listRecord(bareList(found), now && bareList(now)),
        });
      });
      return { body: tablePage(await liveTable(context.services.db)) };
    },
  },
  {
    method: 'DELETE',
    path: '/api/routing/lists/:id',
    roles: ['specialist'],
    handle: async (context) => {
      const found = await storedList(context);
      const { body } = await liveTable(context.services.db);
      const using = body.routes.filter(({ when }) => when.list?.id === found.id).map(({ name }) => name);
      if (using.length > 0) throw refusal(409, `${found.name} is still asked for by ${using.join(', ')}.`);
      await inTransaction(context.services.db, async (connection) => {
        await removeList(connection, found.id);
        await addRecord(connection, { who: context.account.name, ...listRecord(bareList(found), null) });
      });
      // The numbers go back with the answer, so that the list can be brought back as it was.
      return { body: { id: found.id, name: found.name, numbers: found.numbers } };
    },
  },
];
