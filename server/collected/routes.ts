import type { RegistrationHistory } from '../../api/phones';
import { writeCsv, writeCsvRows } from '../../core/formats';
import { callHeadings, callRows, readRecords, type CallRowKind } from '../../core/records';
import type { Queryable } from '../db';
import type { Route } from '../http';
import { refusal, ROLES } from '../base';
import { loadOf } from './load';
import { callsPage, outcomeAsked, wentAsked } from './page';
import { readCalls, readRegistrationChanges } from './queries';

/** So many calls come at once: whoever wants more asks on from the last one. */
const MOST_CALLS = 5000;
const MOST_CHANGES = 50;
const DAY_MS = 86_400_000;
const LOAD_DAYS = 28;

/** Calls of a span as text, some thousand at a time. @param table null: JSON lines */
async function* callsAsText(
  db: Queryable,
  from: Date,
  to: Date,
  table: { readonly kind: CallRowKind; readonly zone: string } | null,
): AsyncGenerator<string> {
  if (table) yield writeCsv(callHeadings(table.kind), []);
  for (let after: string | null = null; ;) {
    const calls = await readCalls(db, from, to, MOST_CALLS, after);
    if (calls.length === 0) return;
    yield table
      ? writeCsvRows(
          calls.flatMap(({ body }) => {
            const read = readRecords([JSON.parse(body) as unknown]);
            // A call that cannot be read is not left out without a word: the file breaks off.
            if (!read.ok) throw new Error('a call that is kept cannot be read');
            return read.records.flatMap((call) => callRows(call, table.kind, table.zone));
          }),
        )
      : calls.map(({ body }) => `${body}\n`).join('');
    if (calls.length < MOST_CALLS) return;
    after = calls.at(-1)?.key ?? null;
  }
}

const momentOf = (text: string | undefined, otherwise: number): Date => {
  const ms = text === undefined ? otherwise : Date.parse(text);
  if (!Number.isFinite(ms) || ms < 0 || ms > 8e15)
    throw refusal(400, 'From and to are moments such as 2026-11-25T00:00:00Z.');
  return new Date(ms);
};

export const collectedRoutes: readonly Route[] = [
  {
    /**
     * Call records as JSON lines, of the last day unless it is said otherwise. Where there are more, `X-Last-Call` names
     * the last one: with `after` the next part begins there.
     */
    method: 'GET',
    path: '/api/calls',
    roles: ['specialist'],
    handle: async ({ services: { db, now }, query }) => {
      const nowMs = now().getTime();
      const [from, to] = [momentOf(query.from, nowMs - DAY_MS), momentOf(query.to, nowMs + 1)];
      const calls = await readCalls(db, from, to, MOST_CALLS, query.after?.slice(0, 100) ?? null);
      const last = calls.length === MOST_CALLS ? calls.at(-1) : undefined;
      return {
        text: calls.map(({ body }) => `${body}\n`).join(''),
        headers: {
          'Content-Type': 'application/jsonl; charset=utf-8',
          'Content-Disposition': 'attachment; filename="calls.jsonl"',
          ...(last ? { 'X-Last-Call': last.key } : {}),
        },
      };
    },
  },
  {
    /**
     * All calls of a span as a file, whole however many there are: `?form=csv` with one row a call, or a phone with
     * `&each=phone`; else JSON lines.
     */
    method: 'GET',
    path: '/api/calls/export',
    roles: ['specialist'],
    handle: async ({ services: { db, store, now }, query }) => {
      const nowMs = now().getTime();
      const [from, to] = [momentOf(query.from, nowMs - DAY_MS), momentOf(query.to, nowMs + 1)];
      const { estate } = await store.current();
      const kind: CallRowKind = query.each === 'phone' ? 'phone' : 'call';
      const isCsv = query.form === 'csv';
      return {
        chunks: callsAsText(db, from, to, isCsv ? { kind, zone: estate.timeZone } : null),
        headers: {
          'Content-Type': isCsv ? 'text/csv; charset=utf-8' : 'application/jsonl; charset=utf-8',
          'Content-Disposition': `attachment; filename="calls.${isCsv ? 'csv' : 'jsonl'}"`,
        },
      };
    },
  },
  {
    /**
     * The calls that went, the latest first: `?text=` a number or a name, `?outcome=`, `?went=`, `?from=` and `?to=`
     * moments, `?after=` the key of a call.
     */
    method: 'GET',
    path: '/api/calls/page',
    roles: ROLES,
    handle: async ({ services: { db, store }, query, account }) => ({
      body: await callsPage(db, await store.current(), {
        text: query.text ?? '',
        outcome: outcomeAsked(query.outcome),
        went: wentAsked(query.went),
        fromMs: query.from === undefined ? null : momentOf(query.from, 0).getTime(),
        toMs: query.to === undefined ? null : momentOf(query.to, 0).getTime(),
        after: query.after?.slice(0, 100) ?? null,
        mayNumbers: account.role === 'specialist',
      }),
    }),
  },
  {
    /** What came to a group over the last four weeks. */
    method: 'GET',
    path: '/api/groups/:id/load',
    roles: ROLES,
    handle: async ({ services: { db, store, now }, params }) => {
      const { index, estate } = await store.current();
      const group = index.groups.get(params.id ?? '');
      if (!group) throw refusal(404, 'There is no such group.');
      return {
        body: await loadOf(
          db,
          [group.extension, ...(group.numbers ?? [])],
          estate.timeZone,
          now().getTime(),
          LOAD_DAYS,
        ),
      };
    },
  },
  {
    method: 'GET',
    path: '/api/phones/:endpoint/registrations',
    roles: ROLES,
    handle: async ({ services: { db }, params }) => ({
      body: {
        changes: (await readRegistrationChanges(db, params.endpoint ?? '', MOST_CHANGES)).map(
          ({ at, state, transport }) => ({ at: at.toISOString(), state, transport }),
        ),
      } satisfies RegistrationHistory,
    }),
  },
];
