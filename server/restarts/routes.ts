import { DateTime } from 'luxon';
import { parts } from '../../core/estate';
import { sayBehind, shouldRun } from '../../core/changes/restarts';
import { inTransaction } from '../db';
import type { LiveEstate } from '../estate';
import { checkedBody, type Route } from '../http';
import { refusal, ROLES } from '../base';
import { restarted } from './due';
import { planRestarts, readRunning, type OwedRow } from './queries';
import { zoneNamed } from '../../core/zones';
import type { OwedRestart } from '../../api/findings';

export const owedIn = (live: LiveEstate, rows: readonly OwedRow[]): readonly OwedRestart[] =>
  rows.flatMap((row) => {
    const person = live.finder.ownerOf(row.endpoint);
    const endpoint = person?.endpoints.find(({ id }) => id === row.endpoint);
    const should = person && endpoint ? shouldRun(person, endpoint) : null;
    if (!person || !endpoint || !should) return [];
    return [
      {
        endpoint: endpoint.id,
        label: endpoint.label,
        person: person.id,
        name: person.name,
        says: sayBehind(row.running, should),
        since: row.since,
        restartAt: row.restartAt,
        running: row.running,
      },
    ];
  });

const schema = parts.closed({
  endpoints: parts.requiredList(parts.requiredId()).min(1),
  when: parts.oneOf(['now', 'tonight', 'not']).required('is missing'),
});
/** Restarts for the night are done when the fewest call. */
const NIGHT_HOUR = 3;

export const restartRoutes: readonly Route[] = [
  {
    method: 'GET',
    path: '/api/restarts',
    roles: ROLES,
    handle: async ({ services: { db, store } }) => ({
      body: { owed: owedIn(await store.current(), await readRunning(db)) },
    }),
  },
  {
    method: 'POST',
    path: '/api/restarts',
    roles: ['specialist', 'help-desk'],
    handle: async ({ services: { db, store, now, phones }, account, body }) => {
      const { endpoints, when } = checkedBody<{
        endpoints: readonly string[];
        when: 'now' | 'tonight' | 'not';
      }>(body, schema);
      const live = await store.current();
      const { estate } = live;
      const at = DateTime.fromJSDate(now(), { zone: zoneNamed(estate.timeZone) });
      const tonight = at.set({ hour: NIGHT_HOUR, minute: 0, second: 0, millisecond: 0 });
      await inTransaction(db, async (connection) => {
        const rows = (await readRunning(connection, true)).filter(({ endpoint }) =>
          endpoints.includes(endpoint),
        );
        if (rows.length === 0) throw refusal(409, 'These phones owe no restart any more.');
        if (when === 'now') await restarted(connection, live, rows, account.name);
        else
          await planRestarts(
            connection,
            rows.map(({ endpoint }) => endpoint),
            when === 'not' ? null : (tonight <= at ? tonight.plus({ days: 1 }) : tonight).toJSDate(),
          );
      });
      if (when === 'now') phones.restart(endpoints);
      return { body: { owed: owedIn(await store.current(), await readRunning(db)) } };
    },
  },
];
