import { callFaults, type Call } from '../../core/calls/engine';
import { judgeReach, tryCall } from '../../core/calls/views';
import { refusal, ROLES } from '../base';
import type { Route } from '../http';

/** Calls run on the server, for those whose browser is not given the private numbers that the model needs. */
export const tryRoutes: readonly Route[] = [
  {
    method: 'POST',
    path: '/api/tries',
    roles: ROLES,
    handle: async ({ services: { store }, body, query }) => {
      const faults = callFaults(body, 'call');
      if (faults.length > 0) throw refusal(400, 'This call cannot be tried.', { faults });
      const { index } = await store.current();
      return { body: tryCall(index, body as Call, query.person) };
    },
  },
  {
    method: 'GET',
    path: '/api/people/:id/judgement',
    roles: ROLES,
    handle: async ({ services: { store, now }, params }) => {
      const { index, finder } = await store.current();
      const person = finder.person(params.id ?? '');
      if (!person) throw refusal(404, 'There is no such person.');
      return { body: judgeReach(index, person, now().getTime()) };
    },
  },
];
