import type { EnoughPage, SavingsPage } from '../../api/desks';
import {
  desksForAll,
  enoughDesks,
  judgeDeskPromises,
  sayDeskPromise,
  sayNeeded,
  weekAt,
  weekOfDate,
  withoutDesk,
} from '../../core/desks';
import type { Site } from '../../core/estate';
import { refusal, ROLES } from '../base';
import type { LiveEstate } from '../estate';
import type { Route, SignedIn } from '../http';
import { savingsInPool } from './savings';

const LEAST_CHANCE = 1e-6;

/** The site, week and chance that are asked for: `?week=YYYY-MM-DD&chance=0.01`. */
async function asked({ services: { store, now }, params, query }: SignedIn): Promise<{
  readonly live: LiveEstate;
  readonly site: Site;
  readonly timeZone: string;
  readonly fromMs: number;
  readonly toMs: number;
  readonly chance: number;
}> {
  const live = await store.current();
  const { estate } = live;
  const site = estate.sites?.find(({ id }) => id === params.site);
  if (!site) throw refusal(404, 'There is no such site.');
  const timeZone = site.timeZone ?? estate.timeZone;
  const week =
    query.week === undefined ? weekAt(now().getTime(), timeZone) : weekOfDate(query.week, timeZone);
  const chance = query.chance === undefined ? 0.01 : Number(query.chance);
  if (!week) throw refusal(400, 'A week is named by a date of it such as 2026-11-23.');
  if (!(chance >= LEAST_CHANCE && chance <= 1))
    throw refusal(400, 'A chance is a number over 0, and 1 at most.');
  return { live, site, timeZone, ...week, chance };
}

export const deskRoutes: readonly Route[] = [
  {
    /** Whether a site has enough shared desks in the week of a date. */
    method: 'GET',
    path: '/api/desks/enough/:site',
    roles: ROLES,
    handle: async (context) => {
      const { live, site, timeZone, fromMs, toMs, chance } = await asked(context);
      const { estate } = live;
      return {
        body: {
          site: site.id,
          timeZone,
          ...enoughDesks(estate, site.id, fromMs, toMs, chance),
          forAll: desksForAll(estate, site.id),
          promises: judgeDeskPromises(estate, site, context.services.now().getTime()).map((verdict) => ({
            says: sayDeskPromise(verdict.promise, estate.schedules),
            standing: verdict.standing,
            needs: sayNeeded(verdict),
            worst: verdict.worst,
            untilMs: verdict.untilMs,
          })),
          without: withoutDesk(estate, site.id).map(({ id, name }) => ({ id, name })),
        } satisfies EnoughPage,
      };
    },
  },
  {
    /** What moving a shift by half an hour, or a share a tenth lower, would save in that week. */
    method: 'GET',
    path: '/api/desks/savings/:site',
    roles: ROLES,
    handle: async (context) => {
      const { live, site, fromMs, toMs, chance } = await asked(context);
      const { estate } = live;
      const savings = await savingsInPool({ estate, site: site.id, fromMs, toMs, chance });
      return {
        body: {
          savings: savings.map(({ change, needed, worst }) => ({
            shift: estate.schedules.find(({ id }) => id === change.schedule)?.name ?? change.schedule,
            byMinutes: change.byMs === undefined ? null : change.byMs / 60_000,
            less: change.less ?? null,
            needed,
            worst,
          })),
        } satisfies SavingsPage,
      };
    },
  },
];
