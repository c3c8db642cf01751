import type { Today } from '../../api/people';
import { forwardAt } from '../../core/estate';
import { REACH_STATES, type Judgement } from '../../core/calls/views';
import { refusal, ROLES } from '../base';
import type { Route } from '../http';
import { filterRecord } from '../record';
import { estateFile } from '../estate';

/** How many of those who cannot be reached, or only at risk, Today names one by one. */
const NAMED = 30;

export const estateRoutes: readonly Route[] = [
  {
    method: 'GET',
    path: '/api/today',
    roles: ROLES,
    handle: async ({ services: { store, db, now } }) => {
      const live = await store.current();
      const { estate } = live;
      const judgements = await store.judgements(now().getTime(), live);
      const counts = Object.fromEntries(REACH_STATES.map((state) => [state, 0])) as Record<
        Judgement['state'],
        number
      >;
      for (const judgement of judgements.values()) counts[judgement.state] += 1;
      const named = (state: Judgement['state']) =>
        estate.people
          .filter((person) => judgements.get(person.id)?.state === state)
          .slice(0, NAMED)
          .map((person) => ({
            id: person.id,
            name: person.name,
            extension: person.lines[0]?.extension ?? '',
            why: judgements.get(person.id)?.why ?? '',
          }));
      const forwarded = estate.people.flatMap((person) =>
        person.lines
          .filter((line) => forwardAt(line, now().getTime()))
          .map((line) => ({ id: person.id, name: person.name, extension: line.extension })),
      );
      return {
        body: {
          organisation: estate.name,
          timeZone: estate.timeZone,
          people: estate.people.length,
          counts,
          lost: named('lost'),
          atRisk: named('at-risk'),
          forwarded,
          record: (await filterRecord(db, {}, 5)).map(({ id, at, who, kind, subject, detail, personId }) => ({
            id,
            at,
            who,
            kind,
            subject,
            detail,
            personId,
            changes: [],
          })),
        } satisfies Today,
      };
    },
  },
  {
    method: 'GET',
    path: '/api/estate',
    roles: ['specialist'],
    handle: async ({ services: { db } }) => {
      const estate = await estateFile(db);
      if (!estate) throw refusal(404, 'There is no estate.');
      return {
        text: `${JSON.stringify(estate, null, 1)}\n`,
        headers: {
          'Content-Type': 'application/json; charset=utf-8',
          'Content-Disposition': 'attachment; filename="estate.json"',
        },
      };
    },
  },
];
