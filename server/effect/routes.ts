import { coverLines, endCover, switchEndpoint } from '../../core/editing';
import { parts, type Person, type SimpleEnding } from '../../core/estate';
import { judgeWish } from '../../core/changes/own';
import type { SlateEntry } from '../../core/changes/slate';
import { checkedBody, type Route, type SignedIn } from '../http';
import { notRight, refusal } from '../base';
import { objectFaults, personFaults, type LiveEstate } from '../estate';
import { readLimits, readRequests } from '../own';
import { sentEntries, slateEstate } from '../slates';
import { effectOf } from './effect';

const MOST_ENTRIES = 50;

const entriesSchema = parts.closed({
  entries: sentEntries().max(MOST_ENTRIES, `must be ${MOST_ENTRIES} or fewer`),
});

/** What the help desk does to one person at once. */
const actSchema = parts.closed({
  endpoint: parts.id(),
  enabled: parts.flag(),
  status: parts.id(),
  ending: parts.anything().nullable(),
  until: parts.instant(),
});
interface Act {
  readonly endpoint?: string;
  readonly enabled?: boolean;
  readonly status?: string;
  readonly ending?: SimpleEnding | null;
  readonly until?: string;
}

function afterAct(person: Person, { endpoint, enabled, status, ending, until }: Act, nowMs: number): Person {
  if (endpoint !== undefined && enabled !== undefined) return switchEndpoint(person, endpoint, enabled);
  if (status !== undefined) return { ...person, status };
  if (ending) return coverLines(person, ending, until ?? null, nowMs);
  return ending === null ? endCover(person, nowMs) : person;
}

const personEntry = (base: Person, after: Person): SlateEntry => ({
  kind: 'person',
  id: base.id,
  name: base.name,
  base,
  after,
});

/** The effect of one person as they would be, once that is known to be right in form. */
async function effectOnPerson({ services, gone }: SignedIn, live: LiveEstate, base: Person, after: Person) {
  const faults = personFaults(live, after, base.id);
  if (faults.length > 0) throw notRight(faults);
  return { body: await effectOf(services, live, [personEntry(base, after)], gone) };
}

/** What a change does, before it is live. */
export const effectRoutes: readonly Route[] = [
  {
    method: 'POST',
    path: '/api/effect',
    roles: ['specialist'],
    isLong: true,
    handle: async ({ services, body, gone }) => {
      const { entries } = checkedBody<{ entries: readonly SlateEntry[] }>(body, entriesSchema);
      const live = await slateEstate(services);
      const faults = entries.flatMap(({ kind, id, after }, i) =>
        after === null || kind === 'routing'
          ? []
          : objectFaults(kind, id, after).map((fault) => ({
              ...fault,
              path: entries.length > 1 ? `entries[${i}].${fault.path}` : fault.path,
            })),
      );
      if (faults.length > 0) throw notRight(faults);
      return {
        body: await effectOf(
          services,
          live,
          entries.map((entry) => ({ ...entry, base: entry.base ?? null, after: entry.after ?? null })),
          gone,
        ),
      };
    },
  },
  {
    method: 'POST',
    path: '/api/people/:id/effect',
    roles: ['specialist', 'help-desk'],
    handle: async (context) => {
      const act = checkedBody<Act>(context.body, actSchema);
      const live = await context.services.store.current();
      const person = live.finder.person(context.params.id ?? '');
      if (!person) throw refusal(404, 'There is no such person.');
      return effectOnPerson(context, live, person, afterAct(person, act, context.services.now().getTime()));
    },
  },
  {
    method: 'POST',
    path: '/api/own/requests/:id/effect',
    roles: ['specialist'],
    handle: async (context) => {
      const { db, store, now } = context.services;
      const live = await store.current();
      const [request] = (await readRequests(db, null, true)).filter(
        ({ id }) => id === Number(context.params.id),
      );
      const person = request && live.finder.person(request.person);
      if (!request || !person) throw refusal(404, 'This request is not open any more.');
      const { limits } = await readLimits(db, person.id);
      const verdict = judgeWish(live.estate, person, request.wish, limits, now().getTime());
      if (verdict.may === 'not')
        throw refusal(409, 'This can no longer be done.', { faults: verdict.faults });
      return effectOnPerson(context, live, person, verdict.after);
    },
  },
];
