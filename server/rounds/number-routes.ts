import type { RoundNumber, RoundNumbersPage } from '../../api/rounds';
import { bareNumber } from '../../core/calls/dialling';
import { isoIn } from '../../core/calls/time';
import { mayCallAt, NUMBER_STATES, roundReport } from '../../core/rounds';
import type { Route, SignedIn } from '../http';
import { countNumbers, numbersOf, type NumberFilter, type StoredRound } from './queries';
import { mustFind, stateNow } from './page';

const PAGE = 100;
/** Rows of a report that are read at a time. */
const REPORT_PAGE = 2000;

function filterOf(
  round: StoredRound,
  query: SignedIn['query'],
  zones: readonly string[],
  nowMs: number,
): NumberFilter {
  const { state, text = '' } = query;
  const trimmed = text.trim().slice(0, 60);
  const digits = bareNumber(trimmed).replace(/\D/g, '');
  const search = trimmed === '' ? {} : { text: trimmed, ...(digits.length >= 3 ? { digits } : {}) };
  const known = NUMBER_STATES.find((each) => each === state);
  if (known === undefined) return search;
  if (known !== 'waiting' && known !== 'not-allowed-now') return { ...search, states: [known] };
  const open = zones.filter((zone) => mayCallAt(round.plan, zone, nowMs));
  return { ...search, states: ['waiting'], zones: { of: open, isIn: known === 'waiting' } };
}

const isoOr = (at: Date | null) => at?.toISOString() ?? null;

/** The numbers of a round, and what became of each. */
export const roundNumberRoutes: readonly Route[] = [
  {
    method: 'GET',
    path: '/api/rounds/:id/numbers',
    roles: ['specialist', 'manager'],
    handle: async (context) => {
      const { services, query, account } = context;
      const round = await mustFind(context);
      const nowMs = services.now().getTime();
      const counted = await countNumbers(services.db, [round.id]);
      const zones = counted.flatMap(({ state, zone }) =>
        state === 'waiting' && zone !== null ? [zone] : [],
      );
      // What is masked cannot be found out by searching for more and more of it.
      const text = account.role === 'specialist' ? query.text : query.text?.replace(/[^\p{L} '-]/gu, '');
      const filter = filterOf(round, { ...query, text }, zones, nowMs);
      const rows = await numbersOf(
        services.db,
        round.id,
        filter,
        Math.max(0, Math.trunc(Number(query.after ?? 0)) || 0),
        PAGE + 1,
      );
      const shown = rows.slice(0, PAGE);
      return {
        body: {
          numbers: shown.map((row): RoundNumber => ({
            line: row.line,
            shown: row.shown,
            number: row.number,
            name: row.name,
            zone: row.zone,
            state: stateNow(round, row, nowMs),
            why: row.why,
            tries: row.tries,
            calledAt: isoOr(row.calledAt),
            againAt:
              row.state === 'waiting' && row.notBefore.getTime() > nowMs ? row.notBefore.toISOString() : null,
          })),
          next: rows.length > PAGE ? (shown.at(-1)?.line ?? null) : null,
        } satisfies RoundNumbersPage,
      };
    },
  },
  {
    method: 'GET',
    path: '/api/rounds/:id/report.csv',
    roles: ['specialist'],
    handle: async (context) => {
      const { services } = context;
      const round = await mustFind(context);
      const { estate } = await services.store.current();
      const nowMs = services.now().getTime();
      const rows = [];
      for (let after = 0; ;) {
        const some = await numbersOf(services.db, round.id, {}, after, REPORT_PAGE);
        rows.push(...some);
        if (some.length < REPORT_PAGE) break;
        after = some.at(-1)!.line;
      }
      return {
        text: roundReport(
          rows.map((row) => ({
            ...row,
            state: stateNow(round, row, nowMs),
            calledAt: row.calledAt && isoIn(row.calledAt.getTime(), row.zone ?? estate.timeZone),
            playedS: row.playedMs === null ? null : Math.round(row.playedMs / 1000),
          })),
        ),
        headers: {
          'Content-Type': 'text/csv; charset=utf-8',
          'Content-Disposition': `attachment; filename="round-${round.id}.csv"`,
        },
      };
    },
  },
];
