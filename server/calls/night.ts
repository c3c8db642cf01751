import { DateTime } from 'luxon';
import type { ResultSetHeader, RowDataPacket } from 'mysql2/promise';
import type { Logger } from 'pino';
import type { NightRow, RuleCalls } from '../../api/records';
import { endpointName, type EstateIndex, type Trace } from '../../core/calls/engine';
import { MODELS } from '../../core/devices/phones';
import {
  LOST_OUTCOMES,
  patternsOf,
  trunkOfLeg,
  type CallRecord,
  type Explained,
  type Trait,
  type TraitCall,
} from '../../core/records';
import { zoneNamed } from '../../core/zones';
import { recordIn } from '../collected';
import { aboutError, onceAMinute } from '../base';
import { fromJson, inTransaction, toJson, type Db } from '../db';
import type { Services } from '../http';
import { signsOf } from './analysis';
import { explainRecord } from './explain';
import { openPast, type Past } from './then';

type Needs = Pick<Services, 'db' | 'store' | 'now'>;

/** A look that another server began and has not ended within this is begun again. */
const DEAD_AFTER_S = 900;
const AT_ONCE = 500;
const MOST_CALLS = 200_000;
/** Days are caught up with at most so far back. */
const MOST_DAYS_BACK = 45;
const PER_LOOK = 1;

/** The day that a moment lies in, by the organisation’s clock, and when it begins and ends. */
function dayOf(ms: number, timeZone: string, back = 0) {
  const day = DateTime.fromMillis(ms, { zone: zoneNamed(timeZone) })
    .startOf('day')
    .minus({ days: back });
  return { name: day.toISODate() ?? '', fromMs: day.toMillis(), toMs: day.plus({ days: 1 }).toMillis() };
}

/** Takes a day for itself; whichever server is first has it, and one that is silent for long loses it. */
async function claim(db: Db, day: string, now: Date): Promise<boolean> {
  const [made] = await db.execute<ResultSetHeader>(
    'INSERT IGNORE INTO call_night (day, begun_at) VALUES (?, ?)',
    [day, now],
  );
  if (made.affectedRows > 0) return true;
  const [taken] = await db.execute<ResultSetHeader>(
    `UPDATE call_night SET begun_at = ?
     WHERE day = ? AND done_at IS NULL AND begun_at < ? - INTERVAL ${DEAD_AFTER_S} SECOND`,
    [now, day, now],
  );
  return taken.affectedRows > 0;
}

/**
 * Looks through the calls of each day that is over, once over all servers: how many went as planned, and what the
 * others have in common.
 * @returns the days that were looked through now
 */
export async function lookThroughNights(services: Needs): Promise<readonly string[]> {
  const { db, store, now } = services;
  const { timeZone } = (await store.current()).estate;
  const nowMs = now().getTime();
  const [[first]] = await db.query<RowDataPacket[]>('SELECT MIN(started_at) AS at FROM call_record');
  if (!first?.at) return [];
  const [rows] = await db.query<RowDataPacket[]>(
    `SELECT DATE_FORMAT(day, '%Y-%m-%d') AS day FROM call_night
     WHERE done_at IS NOT NULL OR begun_at > ? - INTERVAL ${DEAD_AFTER_S} SECOND`,
    [now()],
  );
  const known = new Set(rows.map(({ day }) => String(day)));
  const done: string[] = [];
  for (let back = 1; back <= MOST_DAYS_BACK && done.length < PER_LOOK; back += 1) {
    const day = dayOf(nowMs, timeZone, back);
    if (known.has(day.name) || day.toMs <= (first.at as Date).getTime()) continue;
    if (!(await claim(db, day.name, now()))) continue;
    const looked = await lookThrough(services, day);
    const found = back === 1 ? { ...looked, signs: await signsOf(services) } : looked;
    await db.execute('UPDATE call_night SET done_at = ?, found = ? WHERE day = ?', [
      now(),
      toJson(found),
      day.name,
    ]);
    done.push(day.name);
  }
  return done;
}

const hourAt = (ms: number, timeZone: string): string =>
  DateTime.fromMillis(ms, { zone: zoneNamed(timeZone) }).toFormat('HH');

/**
 * What a call had: the phones that it came to or should have, their models, sites and firmware, its trunks, its hour,
 * and each trunk in that hour.
 */
function traitsOf(index: EstateIndex, record: CallRecord, explained: Explained): readonly Trait[] {
  const { devices = [], sites = [], trunks, timeZone } = index.estate;
  const phones = [...new Set(explained.legs.map(({ endpoint }) => endpoint))];
  const own = phones.flatMap((id) => devices.find(({ endpoint }) => endpoint === id) ?? []);
  const named = (kind: string, id: string | undefined, name?: string): Trait[] =>
    id === undefined ? [] : [{ kind, id, name: name ?? id }];
  const hour = hourAt(record.startMs, timeZone);
  const hours = `${hour}:00 to ${hour}:59`;
  const carried = new Set(
    explained.legs.flatMap(({ planned, went }) =>
      [planned, went].flatMap((leg) => (leg ? (trunkOfLeg(index, leg) ?? []) : [])),
    ),
  );
  return [
    ...phones.flatMap((id) => named('phone', id, endpointName(index, id))),
    ...own.flatMap(({ model, site, firmware }) => {
      const name = MODELS.find(({ id }) => id === model)?.name;
      return [
        ...named('model', model, name),
        ...named('site', site, sites.find(({ id }) => id === site)?.name),
        ...named('firmware', firmware === undefined ? undefined : `${name ?? model} ${firmware}`),
      ];
    }),
    ...[...carried].flatMap((trunk) => {
      const name = trunks.find(({ id }) => id === trunk)?.name ?? trunk;
      return [
        ...named('trunk', trunk, name),
        ...named('trunk at that hour', `${trunk} ${hour}`, `${name}, ${hours}`),
      ];
    }),
    ...named('system', record.system),
    ...named('hour', hour, hours),
  ];
}

async function lookThrough(
  services: Needs,
  { name, fromMs, toMs }: ReturnType<typeof dayOf>,
): Promise<NightRow> {
  const { db, store } = services;
  const past: Past = await openPast(db, (await store.current()).estate.timeZone);
  const counts = { planned: 0, otherwise: 0, unsure: 0 };
  const reasons = new Map<string, number>();
  const traits: TraitCall[] = [];
  const rules = rulesOf();
  let last: { at: Date; id: string } | null = null;
  for (let gone = 0; gone < MOST_CALLS; gone += AT_ONCE) {
    const values: readonly unknown[] = last
      ? [last.at, new Date(toMs), last.at, last.at, last.id]
      : [new Date(fromMs), new Date(toMs)];
    const [rows]: [RowDataPacket[], unknown] = await db.query<RowDataPacket[]>(
      `SELECT started_at, id, body FROM call_record WHERE started_at >= ? AND started_at < ?
       ${last ? 'AND (started_at > ? OR (started_at = ? AND id > ?))' : ''} ORDER BY started_at, id LIMIT ${AT_ONCE}`,
      [...values],
    );
    const went = new Map<string, (readonly [Date, string])[]>();
    for (const row of rows) {
      const record = recordIn(row.body);
      const explained = record && (await explainRecord(past, record));
      if (!record || !explained) continue;
      counts[explained.went] += 1;
      const key = [row.started_at as Date, record.id] as const;
      went.set(explained.went, [...(went.get(explained.went) ?? []), key]);
      if (explained.reason) reasons.set(explained.reason.says, (reasons.get(explained.reason.says) ?? 0) + 1);
      const index = (await past.at(record.startMs))?.index;
      if (index) rules.add(index, explained.planned, record);
      if (index && explained.went !== 'unsure')
        traits.push({ isOdd: explained.went === 'otherwise', traits: traitsOf(index, record, explained) });
    }
    await inTransaction(db, async (tx) => {
      for (const [how, keys] of went)
        await tx.query('UPDATE call_record SET went = ? WHERE (started_at, id) IN (?)', [how, keys]);
    });
    const end = rows.at(-1);
    if (!end || rows.length < AT_ONCE) break;
    last = { at: end.started_at as Date, id: String(end.id) };
  }
  return {
    day: name,
    calls: counts.planned + counts.otherwise + counts.unsure,
    ...counts,
    patterns: patternsOf(traits).slice(0, 12),
    reasons: [...reasons]
      .map(([says, calls]) => ({ says, calls }))
      .sort((a, b) => b.calls - a.calls)
      .slice(0, 12),
    rules: rules.most(),
  };
}

const MOST_RULES = 200;
/** Counts calls by the last rule that had them: a call that nobody got was lost by that one. */
function rulesOf() {
  const known = new Map<string, { -readonly [K in keyof RuleCalls]: RuleCalls[K] }>();
  return {
    add: (index: EstateIndex, { path }: Trace, { outcome }: CallRecord): void => {
      const last = path.findLast((step) => 'person' in step);
      const person = last && 'person' in last ? index.people.get(last.person) : undefined;
      if (!last || !('rule' in last) || !person) return;
      const rule = person.plan.rules.find(({ id }) => id === last.rule);
      const key = `${person.id} ${rule?.id ?? ''}`;
      const count = known.get(key) ?? {
        person: person.id,
        rule: rule?.id ?? null,
        ruleName: rule?.name ?? 'default rule',
        calls: 0,
        lost: 0,
      };
      count.calls += 1;
      if (LOST_OUTCOMES.some((kind) => kind === outcome)) count.lost += 1;
      known.set(key, count);
    },
    most: (): readonly RuleCalls[] =>
      [...known.values()].sort((a, b) => b.lost - a.lost || b.calls - a.calls).slice(0, MOST_RULES),
  };
}

const LOOK_EVERY_MS = 60_000;
/** Days that were missed are caught up with at leisure: whoever uses the server comes first. */
const FIRST_MS = 15_000;
const SOON_MS = 6000;

/** Looks through each day once it is over, until it is stopped. */
export function watchNights(services: () => Needs, log: Logger): () => void {
  const say = onceAMinute(log);
  let timer: ReturnType<typeof setTimeout> | null = null;
  let closed = false;
  const again = (ms: number) => {
    if (!closed) timer = setTimeout(() => void look(), ms);
  };
  async function look(): Promise<void> {
    try {
      const days = await lookThroughNights(services());
      again(days.length > 0 ? SOON_MS : LOOK_EVERY_MS);
    } catch (error) {
      if (!closed) say('the calls of a day could not be looked through', { err: aboutError(error) });
      again(LOOK_EVERY_MS);
    }
  }
  again(FIRST_MS);
  return () => {
    closed = true;
    if (timer) clearTimeout(timer);
  };
}

const MOST_NIGHTS = 60;
/** What the nights have found, the latest first. */
export async function nightRows(db: Db): Promise<readonly NightRow[]> {
  const [rows] = await db.query<RowDataPacket[]>(
    'SELECT found FROM call_night WHERE done_at IS NOT NULL ORDER BY day DESC LIMIT ?',
    [MOST_NIGHTS],
  );
  return rows.flatMap(({ found }) => fromJson<NightRow>(found as string) ?? []);
}
