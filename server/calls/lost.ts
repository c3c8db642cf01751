import { DateTime } from 'luxon';
import type { RowDataPacket } from 'mysql2/promise';
import type { LostPage, RuleCalls } from '../../api/records';
import { LOST_OUTCOMES } from '../../core/records';
import { wilson } from '../../core/statistics';
import { zoneNamed } from '../../core/zones';
import { calledAt } from '../collected';
import type { Services } from '../http';
import { DAY_MS, span } from './analysis';
import { nightRows } from './night';

/** Calls that were lost: by week, by how, by who was called, by hour. */
export async function lostPage(services: Services, days: number): Promise<LostPage> {
  const { db, store } = services;
  const { estate, index } = await store.current();
  const { fromMs, toMs } = span(services, days);
  const zone = zoneNamed(estate.timeZone);
  const [rows] = await db.query<RowDataPacket[]>(
    `SELECT FLOOR(UNIX_TIMESTAMP(started_at) / 3600) AS hour, to_number, outcome, COUNT(*) AS n
     FROM call_record WHERE started_at >= ? AND started_at < ? GROUP BY 1, 2, 3`,
    [new Date(fromMs), new Date(toMs)],
  );
  const weeks = new Map<string, [number, number]>();
  const kinds = new Map<string, number>();
  const people = new Map<string, [number, number]>();
  const hours = Array.from({ length: 24 }, (): [number, number] => [0, 0]);
  for (const row of rows) {
    const n = Number(row.n);
    const isLost = LOST_OUTCOMES.some((kind) => kind === row.outcome);
    const ms = Number(row.hour) * 3_600_000;
    const local = new Date(ms + zone.offset(ms) * 60_000);
    const monday = new Date(local.getTime() - ((local.getUTCDay() + 6) % 7) * DAY_MS)
      .toISOString()
      .slice(0, 10);
    const add = (pair: [number, number]) => {
      pair[0] += n;
      if (isLost) pair[1] += n;
      return pair;
    };
    weeks.set(monday, add(weeks.get(monday) ?? [0, 0]));
    const to = String(row.to_number);
    people.set(to, add(people.get(to) ?? [0, 0]));
    add(hours[local.getUTCHours()]!);
    if (isLost) kinds.set(String(row.outcome), (kinds.get(String(row.outcome)) ?? 0) + n);
  }
  return {
    weeks: [...weeks].sort().map(([from, [calls, lost]]) => ({
      from,
      calls,
      lost,
      ...(wilson(lost, calls) ?? { low: 0, high: 1 }),
    })),
    kinds: [...kinds].sort((a, b) => b[1] - a[1]).map(([outcome, calls]) => ({ outcome, calls })),
    people: [...people]
      .filter(([, [, lost]]) => lost > 0)
      .sort((a, b) => b[1][1] - a[1][1])
      .slice(0, 30)
      .map(([to, [calls, lost]]) => {
        const called = calledAt(index, to);
        return { to, name: called?.name ?? to, person: called?.person ?? null, calls, lost };
      }),
    hours: hours.map(([calls, lost], hour) => ({ hour, calls, lost })),
    ...(await rulesIn(services, fromMs, toMs)),
  };
}

const MOST_RULES = 30;
/** Lost calls by rule, of the days that were looked through. */
async function rulesIn(
  { db, store }: Pick<Services, 'db' | 'store'>,
  fromMs: number,
  toMs: number,
): Promise<Pick<LostPage, 'rules' | 'daysLooked'>> {
  const { index, estate } = await store.current();
  const dayAt = (ms: number) =>
    DateTime.fromMillis(ms, { zone: zoneNamed(estate.timeZone) }).toISODate() ?? '';
  const nights = (await nightRows(db)).filter(
    ({ day, rules }) => rules !== undefined && day >= dayAt(fromMs) && day <= dayAt(toMs),
  );
  const all = new Map<string, RuleCalls>();
  for (const each of nights.flatMap(({ rules = [] }) => rules)) {
    const key = `${each.person} ${each.rule ?? ''}`;
    const before = all.get(key);
    all.set(key, {
      ...each,
      calls: each.calls + (before?.calls ?? 0),
      lost: each.lost + (before?.lost ?? 0),
    });
  }
  return {
    rules: [...all.values()]
      .filter(({ lost }) => lost > 0)
      .sort((a, b) => b.lost - a.lost || b.calls - a.calls)
      .slice(0, MOST_RULES)
      .map((each) => ({ ...each, name: index.people.get(each.person)?.name ?? each.person })),
    daysLooked: nights.length,
  };
}
