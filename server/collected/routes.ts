import type { RegistrationHistory } from '../../api/phones';
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
