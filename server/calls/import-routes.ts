import type { CallImport } from '../../api/calls';
import { parts } from '../../core/estate';
import { isZone } from '../../core/zones';
import { CALL_FIELDS, DATE_ORDERS, type CallChoices } from '../../core/records';
import { refusal } from '../base';
import { listed } from '../collected';
import { inTransaction } from '../db';
import { checkedBody, type Route, type SignedIn } from '../http';
import {
  callImports,
  createCallImport,
  findCallImport,
  moveCallImport,
  noteImport,
  putPart,
  type StoredImport,
} from './import-queries';
import { lookThroughFile, removeImported, takeIn, takeUpCallImports } from './imports';

/** A file comes in parts of at most so many bytes, and has at most so many in all. */
const PART_BYTES = 2 * 1024 * 1024;
const MOST_BYTES = 512 * 1024 * 1024;
const MOST_PARTS = MOST_BYTES / PART_BYTES + 1;
/** Imports that are not ended yet, of everybody. */
const MOST_OPEN = 10;
const MOST_LISTED = 50;
const MOST_WORDS = 200;

const choicesSchema = parts.closed({
  columns: parts.closed(Object.fromEntries(CALL_FIELDS.map((field) => [field, parts.count(0, 199)]))),
  dates: parts.oneOf(DATE_ORDERS),
  timeZone: parts.text(),
  isByLeg: parts.flag(),
  joinWithinS: parts.count(0, 600),
  words: parts.anything(),
});

async function importOf({ services, params }: SignedIn): Promise<StoredImport> {
  const id = Number(params.id);
  const found = Number.isSafeInteger(id) && id > 0 ? await findCallImport(services.db, id) : null;
  if (!found) throw refusal(404, 'There is no such import.');
  if (found.state !== 'looking' && found.state !== 'taking') return found;
  // Its server may have ended: what it left is taken up by whoever looks.
  await takeUpCallImports(services, found.id);
  return (await findCallImport(services.db, found.id)) ?? found;
}

async function told({ services }: SignedIn, job: StoredImport): Promise<CallImport> {
  const live = await services.store.current();
  const { id, who, at, state, name, bytes, rows, calls, added } = job;
  const { sample = [], ...found } = job.found ?? {};
  return {
    id,
    who,
    at: at.toISOString(),
    state,
    name,
    bytes,
    rows,
    calls,
    added,
    found: job.found ? (found as Omit<typeof job.found, 'sample'>) : null,
    sample: sample.map((record) => listed(live, record, null, true)),
  };
}

function choicesIn(body: unknown): Partial<CallChoices> | null {
  if (body === undefined || body === null || (typeof body === 'object' && Object.keys(body).length === 0))
    return null;
  const choices = checkedBody<Partial<CallChoices>>(body, choicesSchema);
  if (choices.timeZone !== undefined && !isZone(choices.timeZone))
    throw refusal(400, 'There is no such time zone.', {
      faults: [{ path: 'timeZone', message: 'is no time zone' }],
    });
  const words = Object.entries(choices.words ?? {});
  if (
    words.length > MOST_WORDS ||
    words.some(([key, value]) => key.length > 200 || typeof value !== 'string')
  )
    throw refusal(400, 'Words are a list of words with what each means.');
  return choices;
}

const conflict = () => refusal(409, 'This file is being read or taken in just now.');

export const callImportRoutes: readonly Route[] = [
  {
    method: 'GET',
    path: '/api/call-imports',
    roles: ['specialist'],
    handle: async (context) => ({
      body: {
        imports: await Promise.all(
          (await callImports(context.services.db, MOST_LISTED)).map((job) =>
            told(context, { ...job, found: null }),
          ),
        ),
      },
    }),
  },
  {
    /** Begins a file: `?name=`; its bytes follow part by part. */
    method: 'POST',
    path: '/api/call-imports',
    roles: ['specialist'],
    handle: async ({ services, account, query }) => {
      const { db, now } = services;
      const name = (query.name ?? '').trim().slice(0, 200) || 'calls.csv';
      const id = await inTransaction(db, async (tx) => {
        await tx.query('SELECT id FROM call_import FOR UPDATE');
        const open = (await callImports(tx, 200)).filter(
          ({ state }) => !['taken', 'removed', 'failed'].includes(state),
        );
        if (open.length >= MOST_OPEN)
          throw refusal(429, `${MOST_OPEN} files are open already. Take them in or remove them first.`);
        return createCallImport(tx, account.id, account.name, name, now());
      });
      return { status: 201, body: { id, partBytes: PART_BYTES } };
    },
  },
  {
    /** A part of the file, counted from 0. */
    method: 'PUT',
    path: '/api/call-imports/:id/parts/:part',
    roles: ['specialist'],
    rawBody: true,
    limit: PART_BYTES,
    handle: async (context) => {
      const job = await importOf(context);
      const part = Number(context.params.part);
      const { body } = context;
      if (!Number.isSafeInteger(part) || part < 0 || part >= MOST_PARTS)
        throw refusal(400, 'There is no such part.');
      if (!Buffer.isBuffer(body) || body.length === 0) throw refusal(400, 'The part is empty.');
      const bytes = await inTransaction(context.services.db, async (tx) => {
        if (!(await moveCallImport(tx, job.id, ['sending'], 'sending'))) throw conflict();
        const total = await putPart(tx, job.id, part, body);
        if (total > MOST_BYTES) throw refusal(413, 'A file may have 512 MiB. Divide it into several.');
        return total;
      });
      return { body: { bytes } };
    },
  },
  {
    /** Looks through the file, with what was said of its columns, if anything. */
    method: 'POST',
    path: '/api/call-imports/:id/look',
    roles: ['specialist'],
    handle: async (context) => {
      const job = await importOf(context);
      const choices = choicesIn(context.body);
      const { db } = context.services;
      if (job.bytes === 0) throw refusal(400, 'The file is empty.');
      if (!(await moveCallImport(db, job.id, ['sending', 'looked', 'failed'], 'looking'))) throw conflict();
      await noteImport(db, job.id, 'looking', { choices, rows: 0, calls: 0, added: 0 });
      void lookThroughFile(context.services, job.id);
      return { status: 202, body: { id: job.id } };
    },
  },
  {
    method: 'GET',
    path: '/api/call-imports/:id',
    roles: ['specialist'],
    handle: async (context) => ({ body: await told(context, await importOf(context)) }),
  },
  {
    /** Takes the file in, from where it was stopped. */
    method: 'POST',
    path: '/api/call-imports/:id/take',
    roles: ['specialist'],
    handle: async (context) => {
      const job = await importOf(context);
      if (job.found?.why || job.found?.calls === 0)
        throw refusal(409, 'There is nothing in this file to take in.');
      if (!(await moveCallImport(context.services.db, job.id, ['looked', 'stopped'], 'taking')))
        throw conflict();
      void takeIn(context.services, job.id);
      return { status: 202, body: { id: job.id } };
    },
  },
  {
    method: 'POST',
    path: '/api/call-imports/:id/stop',
    roles: ['specialist'],
    handle: async (context) => {
      const job = await importOf(context);
      if (!(await moveCallImport(context.services.db, job.id, ['taking'], 'stopped')))
        throw refusal(409, 'This file is not being taken in.');
      return { body: { id: job.id } };
    },
  },
  {
    /** Removes the file, and the calls that came with it. */
    method: 'DELETE',
    path: '/api/call-imports/:id',
    roles: ['specialist'],
    handle: async (context) => {
      const job = await importOf(context);
      const before = ['sending', 'looked', 'stopped', 'taken', 'failed'] as const;
      if (!(await moveCallImport(context.services.db, job.id, before, 'removed'))) throw conflict();
      await removeImported(context.services, job.id, context.account.name);
      return { status: 204 };
    },
  },
];
