import type { RowDataPacket } from 'mysql2/promise';
import { compileEstate, runCall, type EstateIndex } from '../../core/calls/engine';
import { applyEntries, type SlateEntry } from '../../core/changes/slate';
import type { Estate } from '../../core/estate';
import {
  carrierPrefix,
  carrierTimesOf,
  channelsTaken,
  costOf,
  effectCounter,
  ringingOf,
  trafficOf,
  callOf,
  type CallRecord,
  type RecordsEffect,
} from '../../core/records';
import { kaplanMeier, type Lifetime } from '../../core/statistics';
import { zoneNamed } from '../../core/zones';
import { readShared } from '../base';
import { connect } from '../db';
import type { CallsResults, CallsTask } from './tasks';

const AT_ONCE = 5000;

/** Goes through the calls of a span, the first first; what is kept was checked when it came. */
async function eachCall(task: CallsTask, see: (record: CallRecord) => void): Promise<void> {
  const connection = await connect(task.db, {
    timezone: 'Z',
    charset: 'utf8mb4',
    jsonStrings: true,
  });
  try {
    const last: { at: Date; id: string }[] = [];
    for (;;) {
      const [before] = last;
      const [rows]: [RowDataPacket[], unknown] = await connection.query<RowDataPacket[]>(
        `SELECT started_at, id, body FROM call_record WHERE started_at >= ? AND started_at < ?
         ${before ? 'AND (started_at > ? OR (started_at = ? AND id > ?))' : ''} ORDER BY started_at, id LIMIT ${AT_ONCE}`,
        [
          before?.at ?? new Date(task.fromMs),
          new Date(task.toMs),
          ...(before ? [before.at, before.at, before.id] : []),
        ],
      );
      for (const row of rows) {
        const { startAt: _startAt, ...record } = JSON.parse(String(row.body)) as CallRecord & {
          startAt: string;
        };
        see({ ...record, startMs: (row.started_at as Date).getTime() });
      }
      const end = rows.at(-1);
      if (!end || rows.length < AT_ONCE) return;
      last[0] = { at: end.started_at as Date, id: String(end.id) };
    }
  } finally {
    await connection.end();
  }
}

async function times(task: CallsTask & { kind: 'times' }): Promise<CallsResults['times']> {
  const [only, to] = [task.endpoints && new Set(task.endpoints), task.to && new Set(task.to)];
  const zone = zoneNamed(task.timeZone);
  const lifetimes: Lifetime[] = [];
  await eachCall(task, (record) => {
    if (to && !to.has(record.to)) return;
    if (task.hours) {
      const hour = Math.floor((record.startMs / 60_000 + zone.offset(record.startMs)) / 60) % 24;
      const [from, until] = task.hours;
      const isIn = from < until ? hour >= from && hour < until : hour >= from || hour < until;
      if (!isIn) return;
    }
    for (const leg of record.legs) {
      const lifetime = !only || only.has(leg.endpoint) ? ringingOf(record, leg) : null;
      if (lifetime) lifetimes.push(lifetime);
    }
  });
  return {
    n: lifetimes.length,
    answered: lifetimes.filter(({ happened }) => happened).length,
    curve: kaplanMeier(lifetimes),
  };
}

const indexOf = (shared: SharedArrayBuffer, entries: readonly SlateEntry[] = []): EstateIndex => {
  const estate = readShared<Estate>(shared);
  return compileEstate(entries.length > 0 ? applyEntries(estate, entries) : estate);
};
const all = async (task: CallsTask): Promise<readonly CallRecord[]> => {
  const records: CallRecord[] = [];
  await eachCall(task, (record) => records.push(record));
  return records;
};

async function carriers(task: CallsTask & { kind: 'carriers' }): Promise<CallsResults['carriers']> {
  const index = indexOf(task.estate);
  const prefixes = new Map<string, string | null>();
  const prefixOf = (endpoint: string) => {
    const known = prefixes.get(endpoint);
    if (known !== undefined) return known;
    const number = index.endpoints.get(endpoint)?.number ?? (endpoint.startsWith('+') ? endpoint : null);
    const prefix = number === null ? null : carrierPrefix(number);
    prefixes.set(endpoint, prefix);
    return prefix;
  };
  return carrierTimesOf(await all(task), prefixOf);
}

async function traffic(task: CallsTask & { kind: 'traffic' }): Promise<CallsResults['traffic']> {
  const index = indexOf(task.estate);
  const records = await all(task);
  const now = trafficOf(index, records);
  if (!task.entries) return { now, added: null };
  // The same calls under the other estate, each phone doing as it did.
  const after = indexOf(task.estate, task.entries);
  const again = records.map((record): CallRecord => {
    const { outcome, legs } = runCall(after, callOf(after, record));
    return { ...record, outcome: outcome.kind, atMs: outcome.atMs, legs };
  });
  return { now, added: addedByDay(index, after, records, again) };
}

/** What is taken more at the busiest hour of each day, in Erlangs. */
function addedByDay(
  before: EstateIndex,
  after: EstateIndex,
  records: readonly CallRecord[],
  again: readonly CallRecord[],
): NonNullable<CallsResults['traffic']['added']> {
  const HOUR_MS = 3_600_000;
  const zone = zoneNamed(before.estate.timeZone);
  const sums = new Map<string, Map<string, [number, number]>>();
  const add = (index: EstateIndex, some: readonly CallRecord[], which: 0 | 1) => {
    for (const record of some)
      for (const { trunk, fromMs, toMs } of channelsTaken(index, record)) {
        const local = fromMs + zone.offset(fromMs) * 60_000;
        const hour = new Date(local).toISOString().slice(0, 13);
        const of = sums.get(trunk) ?? new Map<string, [number, number]>();
        sums.set(trunk, of);
        const pair = of.get(hour) ?? [0, 0];
        of.set(hour, pair);
        pair[which] += (toMs - fromMs) / HOUR_MS;
      }
  };
  add(before, records, 0);
  add(after, again, 1);
  return [...sums].map(([trunk, hours]) => {
    const days = new Map<string, [number, number]>();
    for (const [hour, [was, is]] of hours) {
      const day = days.get(hour.slice(0, 10)) ?? [0, 0];
      days.set(hour.slice(0, 10), [Math.max(day[0], was), Math.max(day[1], is)]);
    }
    return { trunk, byDay: [...days].sort().map(([, [was, is]]) => is - was) };
  });
}

async function cost(task: CallsTask & { kind: 'cost' }): Promise<CallsResults['cost']> {
  const index = indexOf(task.estate);
  const records = (await all(task)).map((record) => ({
    ...record,
    legs: record.legs.map((leg) => ({
      ...leg,
      owner: index.endpoints.get(leg.endpoint)?.owner?.id ?? '',
      endpoint: index.endpoints.get(leg.endpoint)?.number ?? leg.endpoint,
    })),
  }));
  const { timeZone } = index.estate;
  const byOwner = new Map<string, CallRecord[]>();
  for (const record of records)
    for (const owner of new Set(record.legs.map((leg) => leg.owner))) {
      if (owner === '') continue;
      const own = byOwner.get(owner) ?? [];
      byOwner.set(owner, own);
      own.push({ ...record, legs: record.legs.filter((leg) => leg.owner === owner) });
    }
  return {
    cost: costOf(task.tariff, records, timeZone),
    people: [...byOwner]
      .map(([person, own]) => {
        const sum = costOf(task.tariff, own, timeZone);
        return { person, total: sum.total, legs: sum.byNumber.reduce((count, { legs }) => count + legs, 0) };
      })
      .filter(({ legs }) => legs > 0)
      .sort((a, b) => b.total - a.total || (a.person < b.person ? -1 : 1)),
  };
}

async function effect(task: CallsTask & { kind: 'effect' }): Promise<RecordsEffect> {
  const counter = effectCounter(indexOf(task.estate), indexOf(task.estate, task.entries));
  await eachCall(task, counter.add);
  return counter.effect();
}

export = (task: CallsTask): Promise<CallsResults[keyof CallsResults]> => {
  switch (task.kind) {
    case 'times':
      return times(task);
    case 'carriers':
      return carriers(task);
    case 'traffic':
      return traffic(task);
    case 'cost':
      return cost(task);
    case 'effect':
      return effect(task);
  }
};
