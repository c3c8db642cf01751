import type { ImportStatus } from '../../api/imports';
import {
  refusedCsv,
  STAFF_FIELDS,
  STAFF_LIMITS,
  type PlannedRow,
  type StaffColumns,
  type TextEncoding,
} from '../../core/formats';
import { parts } from '../../core/estate';
import { checkedBody, type Route, type Services, type SignedIn } from '../http';
import { refusal } from '../base';
import { CHANGED_SINCE, progressOf, readImport, takeUpImports, writeImport } from './jobs';
import {
  createImport,
  findImport,
  importRows,
  importsOf,
  leftImports,
  moveImport,
  setChoices,
  type StaffImport,
} from './queries';

const PAGE = 200;
/** Lists that one account may have kept within a day. */
const MOST_KEPT = 100;
const ACTIONS: readonly PlannedRow['action'][] = ['create', 'change', 'same', 'refuse'];

const choiceSchema = parts.closed({
  readAs: parts.oneOf(['utf-8', 'latin-1'] as const).nullable(),
  columns: parts
    .closed(Object.fromEntries(STAFF_FIELDS.map((field) => [field, parts.count(0, 1000)])))
    .nullable(),
});

async function ownImport({ services, params, account }: SignedIn): Promise<StaffImport> {
  const { db } = services;
  const found = await findImport(db, Number(params.id));
  if (!found || found.accountId !== account.id) throw refusal(404, 'There is no such import.');
  if (!(await leftImports(db, found.id)).length) return found;
  // Its server has ended: what it left is taken up by whoever looks.
  await takeUpImports(services, { warn: () => undefined }, found.id);
  return (await findImport(db, found.id)) ?? found;
}

const told = ({ id, state, done, total, summary, readAs }: StaffImport): ImportStatus => ({
  id,
  state,
  done,
  total,
  // Of work that is over what the database has counts: this server may not have put its own count away yet.
  ...(state === 'reading' || state === 'writing' ? progressOf(id) : {}),
  summary,
  readAs,
});

/** Runs long work beside the request; its end, good or bad, is told by the import's state. */
function beside(services: Services, id: number, work: Promise<void>): void {
  work.catch(async (error: unknown) => {
    const why = error instanceof Error && error.message === CHANGED_SINCE ? CHANGED_SINCE : String(error);
    await services.db
      .execute(
        `UPDATE staff_import SET state = 'failed',
           summary = JSON_SET(COALESCE(summary, '{"faults":[]}'), '$.failed', ?) WHERE id = ?`,
        [why, id],
      )
      .catch(() => undefined);
  });
}

export const importRoutes: readonly Route[] = [
  {
    method: 'POST',
    path: '/api/imports',
    roles: ['specialist'],
    rawBody: true,
    handle: async ({ services, account, body }) => {
      if (!Buffer.isBuffer(body) || body.length === 0) throw refusal(400, 'The list is empty.');
      if ((await importsOf(services.db, account.id)) >= MOST_KEPT)
        throw refusal(429, `You have read ${MOST_KEPT} lists within a day. Write or leave those first.`);
      const id = await createImport(services.db, account.id, body);
      beside(services, id, readImport(services, id));
      return { status: 201, body: { id } };
    },
  },
  {
    method: 'GET',
    path: '/api/imports/:id',
    roles: ['specialist'],
    handle: async (context) => ({ body: told(await ownImport(context)) }),
  },
  {
    method: 'GET',
    path: '/api/imports/:id/rows',
    roles: ['specialist'],
    handle: async (context) => {
      const { id } = await ownImport(context);
      const action = ACTIONS.find((each) => each === context.query.action);
      const rows = await importRows(context.services.db, id, {
        ...(action ? { action } : {}),
        afterLine: Number(context.query.after ?? 0) || 0,
        limit: PAGE,
      });
      return { body: { rows, more: rows.length === PAGE } };
    },
  },
  {
    method: 'PUT',
    path: '/api/imports/:id',
    roles: ['specialist'],
    handle: async (context) => {
      const { id } = await ownImport(context);
      const { db } = context.services;
      const choice = checkedBody<{ readAs?: TextEncoding | null; columns?: StaffColumns | null }>(
        context.body,
        choiceSchema,
      );
      if (!(await moveImport(db, id, ['read', 'failed'], 'reading')))
        throw refusal(409, 'This list is being read or written just now.');
      await setChoices(db, id, choice.readAs ?? null, choice.columns ?? null);
      beside(context.services, id, readImport(context.services, id));
      return { status: 202, body: { id } };
    },
  },
  {
    method: 'POST',
    path: '/api/imports/:id/write',
    roles: ['specialist'],
    handle: async (context) => {
      const job = await ownImport(context);
      const counts = job.summary?.counts;
      if (!counts || counts.create + counts.change === 0)
        throw refusal(409, 'There is nothing in this list to write.');
      if (!(await moveImport(context.services.db, job.id, ['read'], 'writing')))
        throw refusal(409, 'This list is being read or written just now.');
      beside(context.services, job.id, writeImport(context.services, job.id, context.account.name));
      return { status: 202, body: { id: job.id } };
    },
  },
  {
    method: 'GET',
    path: '/api/imports/:id/refused.csv',
    roles: ['specialist'],
    handle: async (context) => {
      const { id } = await ownImport(context);
      const rows = await importRows(context.services.db, id, { action: 'refuse', limit: STAFF_LIMITS.rows });
      return {
        text: refusedCsv(rows),
        headers: {
          'Content-Type': 'text/csv; charset=utf-8',
          'Content-Disposition': 'attachment; filename="refused-rows.csv"',
        },
      };
    },
  },
];
