import { parts } from '../../core/estate';
import { checkedBody, type Route } from '../http';
import { notRight, refusal, ROLES } from '../base';
import { changeEstate } from '../estate';
import { addRecord } from '../record';
import { addPlan, openPlans, shown } from './queries';
import { endPlan } from './plan';

const schema = parts.closed({
  status: parts.requiredId(),
  from: parts.instant().required('is missing'),
  to: parts.instant().required('is missing'),
});
const MOST_OF_ONE = 20;
const FURTHEST_MS = 3 * 366 * 86_400_000;

/** A status with dates: leave from one day to another, and back as it was. */
export const plannedStatusRoutes: readonly Route[] = [
  {
    method: 'GET',
    path: '/api/people/:id/planned-status',
    roles: ROLES,
    handle: async ({ services: { db }, params }) => ({
      body: { planned: (await openPlans(db, params.id ?? '')).map(shown) },
    }),
  },
  {
    method: 'POST',
    path: '/api/people/:id/planned-status',
    roles: ['specialist', 'help-desk'],
    handle: async ({ services, account, params, body }) => {
      const given = checkedBody<{ status: string; from: string; to: string }>(body, schema);
      const [from, to] = [new Date(given.from), new Date(given.to)];
      const nowMs = services.now().getTime();
      const planned = await changeEstate(services, async (tx, { live }) => {
        const person = live.finder.person(params.id ?? '');
        if (!person) throw refusal(404, 'There is no such person.');
        const status = live.estate.statuses.find(({ id }) => id === given.status);
        const wrong = (path: string, message: string) => notRight([{ path, message }]);
        if (!status) throw wrong('status', 'is not there any more');
        if (to <= from) throw wrong('to', 'must be after it begins');
        if (to.getTime() <= nowMs) throw wrong('to', 'is over already');
        if (to.getTime() > nowMs + FURTHEST_MS) throw wrong('to', 'is more than three years away');
        const open = await openPlans(tx, person.id);
        if (open.length >= MOST_OF_ONE)
          throw refusal(409, `${person.name} has ${MOST_OF_ONE} planned already.`);
        if (open.some((each) => each.from < to && from < each.to))
          throw wrong('from', 'meets another status that is planned');
        await addPlan(tx, { person: person.id, status: status.id, from, to, madeBy: account.name });
        await addRecord(tx, {
          who: account.name,
          kind: 'status-set',
          personId: person.id,
          subject: person.name,
          detail: `${status.name} is planned from ${given.from} to ${given.to}`,
        });
        return openPlans(tx, person.id);
      });
      return { status: 201, body: { planned: planned.map(shown) } };
    },
  },
  {
    method: 'DELETE',
    path: '/api/people/:id/planned-status/:plan',
    roles: ['specialist', 'help-desk'],
    handle: async ({ services, params }) => {
      const person = params.id ?? '';
      const plan = Number(params.plan);
      if (!Number.isSafeInteger(plan) || !(await endPlan(services, person, plan)))
        throw refusal(404, 'This is not planned any more.');
      return { body: { planned: (await openPlans(services.db, person)).map(shown) } };
    },
  },
];
