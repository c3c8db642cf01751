import type { RowDataPacket } from 'mysql2/promise';
import type { Colleagues } from '../../api/desks';
import { hotDeskOf } from '../../core/desks';
import { parts, type Person } from '../../core/estate';
import { STAFF } from '../base';
import { inTransaction, type Queryable } from '../db';
import type { LiveEstate } from '../estate';
import { checkedBody, me, type Route, type Services } from '../http';
import { addRecord } from '../record';
import { openSignOns } from './queries';
import { siteOf } from './sign-on';

const ONLY_STAFF = [STAFF] as const;
const MOST_SHOWN = 300;
const shownBody = parts.closed<{ shown: boolean }>({ shown: parts.flag().required('is missing') });

async function whoShows(db: Queryable): Promise<ReadonlySet<string>> {
  const [rows] = await db.query<RowDataPacket[]>('SELECT person FROM desk_shown');
  return new Set(rows.map(({ person }) => String(person)));
}

/** Colleagues at shared desks, of those who let it be seen; nobody else is told of, not even that they are away. */
async function colleaguesOf(
  { db }: Pick<Services, 'db'>,
  live: LiveEstate,
  own: Person,
): Promise<Colleagues> {
  const shows = await whoShows(db);
  const on = await openSignOns(db);
  return {
    mayShow: hotDeskOf(own) !== null,
    isShown: shows.has(own.id),
    colleagues: on
      .flatMap(({ person: id, desk: deskId, since }) => {
        const person = live.finder.person(id);
        const desk = live.estate.desks?.find((each) => each.id === deskId);
        if (id === own.id || !shows.has(id) || !person || !desk) return [];
        const site = siteOf(live.estate, desk);
        return [
          {
            name: person.name,
            desk: desk.name,
            siteName: site?.name ?? null,
            area: desk.area ?? null,
            since: since.toISOString(),
          },
        ];
      })
      .sort((a, b) => a.name.localeCompare(b.name))
      .slice(0, MOST_SHOWN),
  };
}

export const colleagueRoutes: readonly Route[] = [
  {
    method: 'GET',
    path: '/api/own/colleagues',
    roles: ONLY_STAFF,
    handle: async (context) => {
      const { live, person } = await me(context);
      return { body: await colleaguesOf(context.services, live, person) };
    },
  },
  {
    /** Whether colleagues may see at which shared desk one is. */
    method: 'PUT',
    path: '/api/own/desk-shown',
    roles: ONLY_STAFF,
    handle: async (context) => {
      const { services } = context;
      const { shown } = checkedBody<{ shown: boolean }>(context.body, shownBody);
      const { live, person } = await me(context);
      await inTransaction(services.db, async (tx) => {
        if (shown)
          await tx.execute('INSERT IGNORE INTO desk_shown (person, since) VALUES (?, ?)', [
            person.id,
            services.now(),
          ]);
        else await tx.execute('DELETE FROM desk_shown WHERE person = ?', [person.id]);
        await addRecord(tx, {
          who: person.name,
          kind: 'desk-shown',
          personId: person.id,
          subject: person.name,
          detail: shown ? 'colleagues see it' : 'nobody sees it',
        });
      });
      return { body: await colleaguesOf(services, live, person) };
    },
  },
];
