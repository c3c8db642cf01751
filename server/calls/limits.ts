import { DateTime } from 'luxon';
import type { RowDataPacket } from 'mysql2/promise';
import { mayDial } from '../../core/calls/dialling';
import { leftToday, type UsedToday } from '../../core/calls/out';
import type { E164, Ms, Person } from '../../core/estate';
import {
  chargedMs,
  costOf,
  legCost,
  lineFor,
  readRecords,
  type CallRecord,
  type Tariff,
} from '../../core/records';
import { zoneNamed } from '../../core/zones';
import { isRefusal } from '../base';
import { inTransaction, type Queryable } from '../db';
import type { LiveEstate } from '../estate';
import type { Services } from '../http';
import { addRecord } from '../record';
import { tariffOf } from './tariffs';

/** Calls of one person in a day that are looked at. */
const MOST_CALLS = 5000;
/** No call out lasts longer. */
const LONGEST_MS: Ms = 4 * 3_600_000;
/** A server that was not heard of for so long is gone, and its calls with it, in s. */
const LOST_AFTER_S = 60;
/** So long after it has to be over a call's record may still come. */
const LATE_MS: Ms = 5 * 60_000;

/** The tariff by which calls are priced now; null: there is none. */
export const tariffNow = (services: Pick<Services, 'db'>): Promise<Tariff | null> =>
  tariffOf(services.db, null).then(
    ({ tariff }) => tariff,
    (error: unknown) => {
      if (isRefusal(error) && error.status === 404) return null;
      throw error;
    },
  );

/** When the day began in the organisation's zone. */
export const dayOf = (live: Pick<LiveEstate, 'estate'>, now: Date): DateTime =>
  DateTime.fromJSDate(now, { zone: zoneNamed(live.estate.timeZone) }).startOf('day');

/** The calls that somebody placed since a moment. */
async function callsOf(db: Queryable, person: Person, since: Date): Promise<readonly CallRecord[]> {
  const extensions = person.lines.map(({ extension }) => extension);
  if (extensions.length === 0) return [];
  const [rows] = await db.query<RowDataPacket[]>(
    'SELECT body FROM call_record WHERE from_number IN (?) AND started_at >= ? ORDER BY started_at, id LIMIT ?',
    [extensions, since, MOST_CALLS],
  );
  const read = readRecords(rows.map(({ body }) => JSON.parse(String(body)) as unknown));
  return read.ok ? read.records : [];
}

const isOutside = (endpoint: string): boolean => /^\+\d+$/.test(endpoint);

/** What calls over the public network come to. */
function usedIn(records: readonly CallRecord[], tariff: Tariff | null, timeZone: string): UsedToday {
  let ms = 0;
  for (const record of records)
    for (const leg of record.legs) if (isOutside(leg.endpoint)) ms += chargedMs(record, leg) ?? 0;
  return { ms, money: tariff ? costOf(tariff, records, timeZone).total : 0 };
}

/** What somebody has called today. */
export async function usedToday(
  services: Pick<Services, 'db' | 'now'>,
  live: Pick<LiveEstate, 'estate'>,
  person: Person,
  tariff: Tariff | null,
): Promise<UsedToday> {
  const since = dayOf(live, services.now()).toJSDate();
  return usedIn(await callsOf(services.db, person, since), tariff, live.estate.timeZone);
}

/** Whether nothing is left of somebody's day for a number, as far as calls have their records. */
export async function isUsedUp(
  services: Pick<Services, 'db' | 'now'>,
  live: LiveEstate,
  person: Person,
  { number }: { readonly number: E164 },
): Promise<boolean> {
  const limit = live.index.permissions.get(person.permission)?.dayLimit;
  if (!limit) return false;
  const tariff = await tariffNow(services);
  const day = dayOf(live, services.now()).toISODate() ?? '';
  const { trunk } = mayDial(person, number, live.estate);
  const line = tariff && lineFor(tariff, number, day, trunk);
  return leftToday(limit, await usedToday(services, live, person, tariff), line).mostMs === 0;
}

/** How long a call out may be; `refused`: the day's limit is reached. */
export type Granted = { readonly mostMs: Ms | null } | 'refused';

/**
 * Grants a call out by what somebody's permission leaves them of the day. What goes on, over whichever server, counts
 * as long as it may get until its record is there: two at once do not get the same minutes twice.
 */
export async function grantCall(
  services: Pick<Services, 'db' | 'now' | 'self'>,
  live: LiveEstate,
  person: Person,
  call: { readonly id: string; readonly number: E164; readonly trunk: string | null },
): Promise<Granted> {
  const limit = live.index.permissions.get(person.permission)?.dayLimit;
  if (!limit || (limit.minutes === undefined && limit.money === undefined)) return { mostMs: null };
  const now = services.now();
  const day = dayOf(live, now);
  const tariff = await tariffNow(services);
  const line = tariff && lineFor(tariff, call.number, day.toISODate() ?? '', call.trunk ?? undefined);
  return inTransaction(services.db, async (tx) => {
    await tx.execute('SELECT id FROM person WHERE id = ? FOR UPDATE', [person.id]);
    const records = await callsOf(tx, person, day.toJSDate());
    const recorded = new Set(records.map(({ id }) => id));
    const [rows] = await tx.query<RowDataPacket[]>(
      `SELECT call_grant.*, COALESCE(server_run.ended_at IS NOT NULL OR server_run.seen_at < UTC_TIMESTAMP(3) - INTERVAL ? SECOND,
         call_grant.run IS NOT NULL) AS is_lost
       FROM call_grant LEFT JOIN server_run ON server_run.id = call_grant.run WHERE person_id = ?`,
      [LOST_AFTER_S, person.id],
    );
    const isOver = ({ id, at, most_ms: mostMs, is_lost: isLost }: RowDataPacket) =>
      recorded.has(String(id)) ||
      Number(isLost) === 1 ||
      (at as Date).getTime() + Number(mostMs) + LATE_MS < now.getTime();
    const over = rows.filter(isOver).map(({ id }) => String(id));
    if (over.length > 0) await tx.query('DELETE FROM call_grant WHERE id IN (?)', [over]);
    const used = { ...usedIn(records, tariff, live.estate.timeZone) };
    for (const row of rows.filter((each) => !isOver(each))) {
      used.ms += Number(row.most_ms);
      used.money += Number(row.money);
    }
    const { mostMs } = leftToday(limit, used, line);
    if (mostMs === 0) {
      await noteReached(tx, person, day.toJSDate());
      return 'refused';
    }
    const granted = Math.min(LONGEST_MS, mostMs ?? LONGEST_MS);
    await tx.execute(
      'INSERT INTO call_grant (id, person_id, at, most_ms, money, run) VALUES (?, ?, ?, ?, ?, ?) ON DUPLICATE KEY UPDATE at = VALUES(at)',
      [call.id, person.id, now, granted, line ? legCost(line, granted).cost : 0, services.self.run],
    );
    return { mostMs: granted };
  });
}

/** That somebody has reached their limit is recorded once a day: the specialist is told by it. */
async function noteReached(tx: Queryable, { id, name }: Person, since: Date): Promise<void> {
  const [[row]] = await tx.query<RowDataPacket[]>(
    "SELECT COUNT(*) AS n FROM record_entry WHERE person_id = ? AND kind = 'limit-reached' AND at >= ?",
    [id, since],
  );
  if (Number(row?.n) === 0)
    await addRecord(tx, { who: 'Hostler', kind: 'limit-reached', personId: id, subject: name });
}

/**
 * A call that is over counts for as long as it went, until its record is there.
 * @param which one call, or all over a server whose phone system has ended
 */
export async function callOver(
  { db, now }: Pick<Services, 'db' | 'now'>,
  which: { readonly id: string } | { readonly run: number | null },
): Promise<void> {
  const [where, value] = 'id' in which ? ['id', which.id] : ['run', which.run];
  const went = 'LEAST(most_ms, GREATEST(0, TIMESTAMPDIFF(MICROSECOND, at, ?) DIV 1000))';
  await db.query(
    `UPDATE call_grant SET money = CEIL(money * ${went} / GREATEST(1, most_ms)), most_ms = ${went} WHERE ${where} = ?`,
    [now(), now(), value],
  );
}

/** A call that came to nothing before it was placed: what was granted to it is free again. */
export const giveBackGrant = async (db: Queryable, id: string): Promise<void> => {
  await db.query('DELETE FROM call_grant WHERE id = ?', [id]);
};

/** Who has reached their limit since a moment. */
export async function limitsReached(
  db: Queryable,
  since: Date,
): Promise<readonly { readonly person: string; readonly name: string }[]> {
  const [rows] = await db.query<RowDataPacket[]>(
    "SELECT DISTINCT person_id, subject FROM record_entry WHERE kind = 'limit-reached' AND at >= ? AND person_id IS NOT NULL ORDER BY subject LIMIT 50",
    [since],
  );
  return rows.map((row) => ({ person: String(row.person_id), name: String(row.subject) }));
}
