import {
  DESK_STANDING,
  enoughDesks,
  judgeDeskPromises,
  sayDeskPromise,
  sayNeeded,
  weekAt,
  weekOfDate,
  worstOf,
} from '../core/desks';
import { isoIn } from '../core/calls/time';
import { fail, options, readEstateFile } from './io';

const LEAST_CHANCE = 1e-12;

/**
 * `desks --estate FILE --site ID [--week YYYY-MM-DD] [--chance P] [--json]`: for each half hour of a week, from Monday
 * 00:00 in the estate's zone, how many people come and the chance that somebody finds no desk; and the fewest desks that
 * keep it at or under P (0.01 where left out) in all of them.
 */
export async function desks(args: string[]): Promise<number> {
  const string = { type: 'string' } as const;
  const given = options(args, {
    estate: string,
    site: string,
    week: string,
    chance: string,
    json: { type: 'boolean' },
  });
  if (!given.ok) return fail(given.message);
  const {
    site,
    week,
    chance: typed = '0.01',
    json,
  } = given.value as Record<string, string | undefined> & {
    json?: boolean;
  };
  const chance = /^(0?\.\d+|1|\d(\.\d+)?e-\d+)$/i.test(typed) ? Number(typed) : NaN;
  if (typeof given.value.estate !== 'string') return fail('--estate FILE is needed');
  const read = readEstateFile(given.value.estate);
  if (!read.ok) return fail(read.message);
  const estate = read.value;
  const wrong = [
    ...(site === undefined
      ? ['--site: is missing']
      : estate.sites?.some(({ id }) => id === site)
        ? []
        : [`--site: there is no site "${site}" in the estate`]),
    ...(chance >= LEAST_CHANCE && chance <= 1 ? [] : ['--chance: must be a number over 0, and 1 at most']),
  ];
  const at = estate.sites?.find(({ id }) => id === site);
  const zone = at?.timeZone ?? estate.timeZone;
  const span = week === undefined ? weekAt(Date.now(), zone) : weekOfDate(week, zone);
  if (!span) wrong.push('--week: must be a date such as 2026-11-23');
  if (wrong.length > 0 || site === undefined || !span) return fail(wrong.join('\n'));
  const answer = enoughDesks(estate, site, span.fromMs, span.toMs, chance);
  if (json) {
    const halfHours = answer.halfHours.map(({ fromMs, ...each }) => ({ from: isoIn(fromMs, zone), ...each }));
    process.stdout.write(`${JSON.stringify({ ...answer, halfHours })}\n`);
    return 0;
  }
  const worst = worstOf(answer);
  process.stdout.write(
    [
      `${answer.desks} desks; ${answer.needed} keep the chance of finding none at ${typed} or less`,
      ...(worst
        ? [
            `worst: ${isoIn(worst.fromMs, zone)}, ${worst.expected.toFixed(1)} people expected, ${(worst.chance * 100).toFixed(2)} % find none`,
          ]
        : []),
      ...(at ? judgeDeskPromises(estate, at, span.fromMs) : []).map(
        (verdict) =>
          `${DESK_STANDING[verdict.standing].toLowerCase()}: ${sayDeskPromise(verdict.promise, estate.schedules)}; ${sayNeeded(verdict)}`,
      ),
      '',
    ].join('\n'),
  );
  return 0;
}
