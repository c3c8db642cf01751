import { sliceFor } from '../../core/editing';
import { promisesFor } from '../../core/assurance/promises';
import { CIRCUMSTANCES, weekMap, type Circumstance } from '../../core/calls/views';
import { refusal, ROLES } from '../base';
import type { Route, SignedIn } from '../http';
import { proveInPool } from './pool';
import { endRun, newestRun } from './queries';
import { proveEverybody } from './run';

const NO_PERSON = 'There is no such person.';
/** The most people whose week is worked out in one. */
const MOST_OF_WEEK = 100;

async function personSlice({ services, params }: SignedIn) {
  const { estate, finder } = await services.store.current();
  const person = finder.person(params.id ?? '');
  if (!person) throw refusal(404, NO_PERSON);
  return { person, estate, slice: sliceFor(estate, finder, person.id) };
}

/** The week and the promises of a person, worked out here for those whose browser has no private numbers. */
export const promiseRoutes: readonly Route[] = [
  {
    method: 'GET',
    path: '/api/week',
    roles: ROLES,
    handle: async ({ services, query }) => {
      const { circumstance = 'nobody', at, people = '', group } = query;
      if (!CIRCUMSTANCES.includes(circumstance as Circumstance))
        throw refusal(400, 'There is no such circumstance.');
      const { index, finder } = await services.store.current();
      const ids = people.split(' ').slice(0, MOST_OF_WEEK);
      const found = ids.flatMap((id) => finder.person(id) ?? []);
      if (found.length < ids.length) throw refusal(404, NO_PERSON);
      const epochMs = at === undefined ? services.now().getTime() : Number(at);
      if (!Number.isFinite(epochMs)) throw refusal(400, 'This is no moment.');
      const called = group === undefined ? undefined : [{ extension: group, own: ids }];
      return {
        body: { days: weekMap(index, found, circumstance as Circumstance, epochMs, undefined, called) },
      };
    },
  },
  {
    method: 'GET',
    path: '/api/people/:id/proofs',
    roles: ROLES,
    handle: async (context) => {
      const { person, estate, slice } = await personSlice(context);
      const kept = promisesFor(estate.promises, person.id);
      const scope = { spread: 0, fromMs: context.services.now().getTime(), everyStatus: false };
      const promises = kept.map(({ promise }) => promise);
      return { body: await proveInPool({ slice, person: person.id, promises, scope }) };
    },
  },
  {
    method: 'GET',
    path: '/api/proofs',
    roles: ROLES,
    handle: async ({ services: { db, store } }) => {
      const { estate, revision, finder } = await store.current();
      const run = await newestRun(db);
      return {
        body: {
          promises: estate.promises ?? [],
          revision,
          run: run && {
            ...run,
            broken: run.broken.map((each) => ({
              ...each,
              name: finder.person(each.person)?.name ?? each.person,
            })),
          },
        },
      };
    },
  },
  {
    method: 'POST',
    path: '/api/proofs',
    roles: ['specialist', 'help-desk'],
    handle: async ({ services }) => ({ status: 202, body: { id: (await proveEverybody(services)).id } }),
  },
  {
    method: 'DELETE',
    path: '/api/proofs',
    roles: ['specialist', 'help-desk'],
    handle: async ({ services: { db } }) => {
      await endRun(db, null, 'cancelled');
      return { status: 204 };
    },
  },
];
