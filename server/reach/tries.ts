import { callFaults, type Call } from '../../core/calls/engine';
import { judgeReach, tryCall } from '../../core/calls/views';
import { seatsNow } from '../../core/seats';
import { refusal, ROLES } from '../base';
import { openSeats } from '../seats';
import type { Route } from '../http';

/** Calls run on the server, for those whose browser is not given the private numbers that the model needs. */
export const tryRoutes: readonly Route[] = [
  {
    method: 'POST',
    path: '/api/tries',
    roles: ROLES,
    handle: async ({ services: { store, db, now }, body, query }) => {
      const faults = callFaults(body, 'call');
      if (faults.length > 0) throw refusal(400, 'This call cannot be tried.', { faults });
      const { index, estate } = await store.current();
      const call = body as Call;
      // Who is at seats now is known here, with the numbers that a browser may not be given.
      const seats = query.seats === 'now' ? seatsNow(estate, await openSeats(db), now().getTime()) : {};
      const given =
        Object.keys(seats).length === 0
          ? call
          : { ...call, world: { ...call.world, seats: { ...seats, ...call.world?.seats } } };
      return { body: tryCall(index, given, query.person) };
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
