import { parts } from '../../core/estate';
import { judgeWish, limitsSchema, sayWish, type OwnLimits } from '../../core/changes/own';
import { hashPassword, putAccount } from '../auth';
import { inTransaction } from '../db';
import { checkedBody, type Route } from '../http';
import { notRight, refusal, ROLES, STAFF } from '../base';
import { changePerson } from '../people';
import { newPassword } from '../switchboard';
import { addRecord } from '../record';
import { answerRequest, lockRequest, putLimits, readLimits, readRequests, type OwnRequest } from './queries';

const limitsBody = parts.closed({ limits: parts.anything().nullable() });
const answerBody = parts.closed({
  grant: parts.flag().required('is missing'),
  answer: parts.text(500),
});
/** What the specialist does for them: answers, limits, sign-ins. */
export const specialistRoutes: readonly Route[] = [
  {
    method: 'GET',
    path: '/api/own/requests',
    roles: ROLES,
    handle: async ({ services: { db, store } }) => {
      const { estate, finder } = await store.current();
      const requests = await readRequests(db, null, true);
      return {
        body: {
          requests: requests.flatMap((each: OwnRequest) => {
            const person = finder.person(each.person);
            return person ? [{ ...each, name: person.name, says: sayWish(estate, person, each.wish) }] : [];
          }),
        },
      };
    },
  },
  {
    method: 'POST',
    path: '/api/own/requests/:id',
    roles: ['specialist'],
    handle: async ({ services, account, params, body }) => {
      const { grant, answer } = checkedBody<{ grant: boolean; answer?: string }>(body, answerBody);
      const { db, store, now } = services;
      const live = await store.current();
      const [request] = (await readRequests(db, null, true)).filter(({ id }) => id === Number(params.id));
      const person = request && live.finder.person(request.person);
      if (!request || !person) throw refusal(404, 'This request is not open any more.');
      if (!grant && !(answer ?? '').trim())
        throw notRight([{ path: 'answer', message: 'is missing: say why, the person will read it' }]);
      if (grant) {
        const { limits } = await readLimits(db, person.id);
        const verdict = judgeWish(live.estate, person, request.wish, limits, now().getTime());
        if (verdict.may === 'not')
          throw refusal(409, 'This can no longer be done.', { faults: verdict.faults });
        await changePerson(services, account.name, person.id, {
          kind: 'own-answered',
          detail: `granted: ${sayWish(live.estate, person, request.wish)}`,
          version: live.versions.get(person.id) ?? 1,
          change: () => verdict.after,
        });
      }
      await inTransaction(db, async (connection) => {
        const again = await lockRequest(connection, request.id);
        if (again?.state !== 'open') throw refusal(409, 'Somebody else has answered this request.');
        await answerRequest(
          connection,
          request.id,
          grant ? 'granted' : 'declined',
          account.name,
          (answer ?? '').trim(),
          now(),
        );
        if (!grant)
          await addRecord(connection, {
            who: account.name,
            kind: 'own-answered',
            personId: person.id,
            subject: person.name,
            detail: `declined: ${sayWish(live.estate, person, request.wish)}`,
            why: answer ?? '',
          });
      });
      return { status: 204 };
    },
  },
  {
    method: 'GET',
    path: '/api/own/limits',
    roles: ROLES,
    handle: async ({ services: { db }, query }) => ({ body: await readLimits(db, query.person ?? '') }),
  },
  {
    method: 'PUT',
    path: '/api/own/limits',
    roles: ['specialist'],
    handle: async ({ services: { db, store }, account, query, body }) => {
      const { limits } = checkedBody<{ limits: unknown }>(body, limitsBody);
      const wanted = limits === null ? null : checkedBody<OwnLimits>(limits, limitsSchema);
      const person = query.person === undefined ? null : (await store.current()).finder.person(query.person);
      if (person === undefined) throw refusal(404, 'There is no such person.');
      const before = (await readLimits(db, person?.id ?? '')).limits;
      await inTransaction(db, async (connection) => {
        await putLimits(connection, person?.id ?? null, wanted);
        await addRecord(connection, {
          who: account.name,
          kind: 'limits-set',
          ...(person ? { personId: person.id } : {}),
          subject: person?.name ?? 'everybody',
          before,
          after: wanted,
        });
      });
      return { body: await readLimits(db, person?.id ?? '') };
    },
  },
  {
    /** Gives a person a sign-in of their own; the password is shown this once. */
    method: 'POST',
    path: '/api/people/:id/sign-in',
    roles: ['specialist'],
    handle: async ({ services: { db, store }, account, params }) => {
      const person = (await store.current()).finder.person(params.id ?? '');
      const [line] = person?.lines ?? [];
      if (!person || !line) throw refusal(404, 'There is no such person, or they have no line.');
      const password = newPassword().slice(0, 12);
      const hash = await hashPassword(password);
      await inTransaction(db, async (connection) => {
        await connection.execute('DELETE FROM account WHERE person_id = ? AND name <> ?', [
          person.id,
          line.extension,
        ]);
        await putAccount(connection, line.extension, STAFF, hash, person.id);
        await addRecord(connection, {
          who: account.name,
          kind: 'sign-in-given',
          personId: person.id,
          subject: person.name,
        });
      });
      return { body: { name: line.extension, password } };
    },
  },
];
