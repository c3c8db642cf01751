import type { EnoughPage } from '../../api/desks';
import { enoughDesks, weekAt, weekOfDate, withoutDesk } from '../../core/desks';
import { refusal, ROLES } from '../base';
import type { Route } from '../http';

const LEAST_CHANCE = 1e-6;

export const deskRoutes: readonly Route[] = [
  {
    /** Whether a site has enough shared desks in the week of a date: `?week=YYYY-MM-DD&chance=0.01`. */
    method: 'GET',
    path: '/api/desks/enough/:site',
    roles: ROLES,
    handle: async ({ services: { store, now }, params, query }) => {
      const { estate } = await store.current();
      const site = estate.sites?.find(({ id }) => id === params.site);
      if (!site) throw refusal(404, 'There is no such site.');
      const timeZone = site.timeZone ?? estate.timeZone;
      const week =
        query.week === undefined ? weekAt(now().getTime(), timeZone) : weekOfDate(query.week, timeZone);
      const chance = query.chance === undefined ? 0.01 : Number(query.chance);
      if (!week) throw refusal(400, 'A week is named by a date of it such as 2026-11-23.');
      if (!(chance >= LEAST_CHANCE && chance <= 1))
        throw refusal(400, 'A chance is a number over 0, and 1 at most.');
      return {
        body: {
          site: site.id,
          timeZone,
          ...enoughDesks(estate, site.id, week.fromMs, week.toMs, chance),
          without: withoutDesk(estate, site.id).map(({ id, name }) => ({ id, name })),
        } satisfies EnoughPage,
      };
    },
  },
];
