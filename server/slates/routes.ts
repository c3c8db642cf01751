import { DateTime } from 'luxon';
import { parts } from '../../core/estate';
import { findAccount } from '../auth';
import { inTransaction, OutcomeUnknown } from '../db';
import { busy, notRight, refusal, ROLES } from '../base';
import { checkedBody, type Route, type SignedIn } from '../http';
import { change, mustBeOwn, ownSlate, slateBody, slateId, slateOf, SPECIALIST } from './access';
import { applySlate, sayRefused, type Applied } from './apply';
import { effectRoutes } from './effect-routes';
import { entryRoutes } from './entry-routes';
import { listRoutes } from './list-routes';
import { orderRoutes } from './order-routes';
import { addSlate, listSlates, openSlates, patchSlate, readSlate } from './queries';
import { zoneNamed } from '../../core/zones';

const DONE_SHOWN = 20;
/** Slates in work that one account may have. */
const MOST_OPEN = 200;

const nameSchema = parts.closed({ name: parts.requiredText(200) });
const patchSchema = parts.closed({
  name: parts.text(200),
  note: parts.text(2000),
  owner: parts.text(80),
  shared: parts.flag(),
  dueAt: parts.instant().nullable(),
  // A wall clock's reading in the organisation's zone: the server's zone data say which instant that is.
  dueLocal: parts
    .text(16)
    .matches(/^\d{4}-\d{2}-\d{2}T\d{2}:\d{2}$/, 'must be a date and time, such as 2026-11-30T06:00'),
});
const applySchema = parts.closed({ overrule: parts.text(2000) });

/** Slates themselves: begun, set for a time, handed on, dropped, put live. */
const ownRoutes: readonly Route[] = [
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
      if ((await openSlates(db, account.name)) >= MOST_OPEN)
        throw refusal(409, `You have ${MOST_OPEN} slates in work. Put some live, or drop them.`);
      return { status: 201, body: { id: await addSlate(db, name.trim(), account.name, now()) } };
    },
  },
  {
    method: 'GET',
    path: '/api/slates/:slate',
    roles: ROLES,
    handle: async (context) => ({ body: await slateBody(context, slateId(context)) }),
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
        dueLocal?: string;
      }>(context.body, patchSchema);
      const slate = await ownSlate(context);
      const { dueLocal, name, dueAt: given, ...rest } = patch;
      const { estate } = await context.services.store.current();
      const dueAt = dueLocal === undefined ? given : instantAt(dueLocal, estate.timeZone);
      if (name !== undefined && !name.trim()) throw notRight([{ path: 'name', message: 'is missing' }]);
      if (typeof dueAt === 'string' && Date.parse(dueAt) <= context.services.now().getTime())
        throw notRight([{ path: 'dueAt', message: 'must be a time to come' }]);
      if (
        rest.owner !== undefined &&
        (await findAccount(context.services.db, rest.owner))?.role !== 'specialist'
      )
        throw notRight([{ path: 'owner', message: 'is no specialist’s account' }]);
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
      mustBeOwn(context, slate);
      await change(context, slate, (db) =>
        patchSlate(db, slate.id, { state: 'work' }, context.services.now()),
      );
      return { body: await slateBody(context, slate.id) };
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
        throw notRight([{ path: 'overrule', message: 'say why it may be put live all the same' }]);
      const applied = await applySlate(
        context.services,
        slate.id,
        context.account.name,
        overrule ?? null,
      ).catch((error: unknown) => lookAgain(context, slate.id, error));
      if (!applied.ok)
        throw refusal(applied.refused.kind === 'faults' ? 400 : 409, sayRefused(applied.refused), {
          ...(applied.refused.kind === 'faults' ? { faults: applied.refused.faults } : {}),
          extra: { refused: applied.refused },
        });
      return { body: { changed: applied.changed, ...(await slateBody(context, slate.id)) } };
    },
  },
];

/**
 * The connection was lost while a slate was being put live: whether it is live is looked up, and said.
 * @throws the error where it cannot be looked up either, or is of another kind
 */
async function lookAgain({ services }: SignedIn, id: number, error: unknown): Promise<Applied> {
  if (!(error instanceof OutcomeUnknown)) throw error;
  // Waits for what may still be under way: only then it is known.
  const slate = await inTransaction(services.db, (tx) => readSlate(tx, id, true)).catch(() => null);
  if (!slate) throw error;
  if (slate.state === 'applied') return { ok: true, changed: slate.size };
  throw busy('The connection to the database was lost. The slate is not live: nothing was written.', 2);
}

/** The instant of a wall clock's reading in a zone; refuses one that is no time of that day. */
function instantAt(local: string, zone: string): string {
  const at = DateTime.fromISO(local, { zone: zoneNamed(zone) });
  const wrong = (message: string) => notRight([{ path: 'dueLocal', message }]);
  if (!at.isValid) throw wrong('is no date and time, like 2026-11-30 and 06:00');
  // A time that the clocks skip is moved on.
  if (at.toFormat("yyyy-MM-dd'T'HH:mm") !== local)
    throw wrong('is skipped on that day: the clocks go forward');
  return at.toISO();
}

export const slateRoutes: readonly Route[] = [
  ...ownRoutes,
  ...entryRoutes,
  ...listRoutes,
  ...effectRoutes,
  ...orderRoutes,
];
