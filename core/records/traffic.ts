import { DateTime } from 'luxon';
import { NOT_DIALLED_ENDS, type EstateIndex } from '../calls/engine';
import { trunksFor } from '../calls/dialling';
import type { Ms } from '../estate';
import { erlangBRepeated, serversFor } from '../statistics';
import { zoneNamed } from '../zones';
import type { CallRecord, RecordedLeg } from './types';

/** A channel of a trunk that was taken for a while. Times in ms since 1970. */
export interface Taken {
  readonly trunk: string;
  readonly fromMs: number;
  readonly toMs: number;
  /** Whether it is a second channel of a call that had come in over a trunk: twinning takes two. */
  readonly isSecond: boolean;
}

/** The trunk of a leg to the public network: as it was written down, else the first that carries such numbers. */
export function trunkOfLeg(index: EstateIndex, leg: Pick<RecordedLeg, 'endpoint' | 'trunk'>): string | null {
  if (leg.trunk !== undefined) return leg.trunk;
  const number =
    index.endpoints.get(leg.endpoint)?.number ?? (/^\+\d+$/.test(leg.endpoint) ? leg.endpoint : null);
  if (number === null) return null;
  const kind = index.classOf(number);
  return kind === 'bad-number' ? null : (trunksFor(index.estate.trunks, kind)[0]?.id ?? null);
}

/** The trunk that calls from outside come in over, where the record does not say it: the first there is. */
const inbound = ({ estate }: EstateIndex, record: CallRecord): string | null => {
  if (record.trunkIn !== undefined) return record.trunkIn;
  const isOutside = record.from === null || record.from.startsWith('+');
  return isOutside ? (estate.trunks.find(({ channels }) => channels > 0)?.id ?? null) : null;
};

/** When a leg let go of its channel: one that was connected has it until the talk is over. */
const legOverMs = (record: CallRecord, leg: RecordedLeg): Ms =>
  leg.endMs + (leg.end === 'connected' && leg.endMs <= record.atMs ? record.talkMs : 0);

/** The channels that a call took. */
export function channelsTaken(index: EstateIndex, record: CallRecord): readonly Taken[] {
  const { startMs } = record;
  const taken: Taken[] = [];
  const came = inbound(index, record);
  if (came !== null)
    taken.push({
      trunk: came,
      fromMs: startMs,
      toMs: startMs + record.atMs + record.talkMs,
      isSecond: false,
    });
  for (const leg of record.legs) {
    if (leg.dialledMs === leg.endMs && NOT_DIALLED_ENDS.includes(leg.end)) continue;
    const trunk = trunkOfLeg(index, leg);
    if (trunk === null) continue;
    const toMs = startMs + legOverMs(record, leg);
    taken.push({ trunk, fromMs: startMs + leg.dialledMs, toMs, isSecond: came !== null });
  }
  return taken;
}

/** What a trunk carried in one hour of one day. */
export interface TrunkHour {
  /** "YYYY-MM-DD" and 0 to 23, by the estate’s clock. */
  readonly day: string;
  readonly hour: number;
  /** Channels taken on average: Erlangs. */
  readonly erlangs: number;
  /** Of these by second channels. */
  readonly second: number;
  /** The most at once. */
  readonly peak: number;
  /** Legs that found no channel. */
  readonly blocked: number;
}
export interface TrunkTraffic {
  readonly trunk: string;
  readonly channels: number;
  /** By hour of the day: the mean and the most over the days. */
  readonly byHour: readonly { readonly hour: number; readonly mean: number; readonly most: number }[];
  /** The busiest hours, the busiest first. */
  readonly busiest: readonly TrunkHour[];
  readonly blocked: number;
  readonly secondShare: number;
  /** Channels at which no more than one call in a hundred finds none, in the busiest hour there was; null: over 10,000. */
  readonly channelsForOne: number | null;
  /** What share finds none in that hour as it is, those who try again counted. */
  readonly blockedNow: number;
}

const HOUR_MS = 3_600_000;
const MOST_BUSIEST = 10;
/** Of those who find no channel so many try again. */
const TRY_AGAIN = 0.5;

interface HourSum {
  taken: number;
  second: number;
  readonly ends: [atMs: number, by: number][];
  blocked: number;
}

/** What trunks carried, hour by hour. @returns only trunks of the estate, in its order */
export function trafficOf(index: EstateIndex, records: readonly CallRecord[]): readonly TrunkTraffic[] {
  const zone = zoneNamed(index.estate.timeZone);
  const hours = new Map<string, Map<number, HourSum>>();
  const hourOf = (trunk: string, atMs: number) => {
    // Zones are set off by whole minutes: an hour of the clock begins where its offset says.
    const shift = zone.offset(atMs) * 60_000;
    const hour = Math.floor((atMs + shift) / HOUR_MS) * HOUR_MS - shift;
    const of = hours.get(trunk) ?? new Map<number, HourSum>();
    hours.set(trunk, of);
    const known = of.get(hour) ?? { taken: 0, second: 0, ends: [], blocked: 0 };
    of.set(hour, known);
    return { known, hour };
  };
  for (const record of records) {
    for (const { trunk, fromMs, toMs, isSecond } of channelsTaken(index, record))
      for (let atMs = fromMs; atMs < toMs;) {
        const { known, hour } = hourOf(trunk, atMs);
        const until = Math.min(toMs, hour + HOUR_MS);
        known.taken += until - atMs;
        if (isSecond) known.second += until - atMs;
        known.ends.push([atMs, 1], [until, -1]);
        atMs = until;
      }
    for (const leg of record.legs) {
      if (leg.end !== 'no-channel' && leg.end !== 'no-route') continue;
      const trunk = trunkOfLeg(index, leg);
      if (trunk !== null) hourOf(trunk, record.startMs + leg.dialledMs).known.blocked += 1;
    }
  }
  const days = new Set([...hours.values()].flatMap((of) => [...of.keys()].map((ms) => dayAt(ms, zone).day)));
  return index.estate.trunks.flatMap(({ id, channels }) => {
    const of = hours.get(id);
    return of ? [trunkTraffic(id, channels, of, zone, days.size)] : [];
  });
}

const dayAt = (ms: number, zone: ReturnType<typeof zoneNamed>) => {
  const at = DateTime.fromMillis(ms, { zone });
  return { day: at.toISODate() ?? '', hour: at.hour };
};

function trunkTraffic(
  trunk: string,
  channels: number,
  of: ReadonlyMap<number, HourSum>,
  zone: ReturnType<typeof zoneNamed>,
  days: number,
): TrunkTraffic {
  const all = [...of].map(([ms, { taken, second, ends, blocked }]): TrunkHour => ({
    ...dayAt(ms, zone),
    erlangs: taken / HOUR_MS,
    second: second / HOUR_MS,
    peak: mostAtOnce(ends),
    blocked,
  }));
  const byHour = Array.from({ length: 24 }, (_, hour) => {
    const own = all.filter((each) => each.hour === hour).map(({ erlangs }) => erlangs);
    return {
      hour,
      mean: own.reduce((sum, each) => sum + each, 0) / Math.max(1, days),
      most: own.reduce((most, each) => Math.max(most, each), 0),
    };
  });
  const busiest = [...all].sort((a, b) => b.erlangs - a.erlangs).slice(0, MOST_BUSIEST);
  const most = busiest[0]?.erlangs ?? 0;
  const sum = (what: (hour: TrunkHour) => number) => all.reduce((total, each) => total + what(each), 0);
  return {
    trunk,
    channels,
    byHour,
    busiest,
    blocked: sum(({ blocked }) => blocked),
    secondShare:
      sum(({ second }) => second) /
      Math.max(
        Number.MIN_VALUE,
        sum(({ erlangs }) => erlangs),
      ),
    channelsForOne: serversFor(most, 0.01),
    blockedNow: erlangBRepeated(channels, most, TRY_AGAIN).blocked,
  };
}

function mostAtOnce(ends: readonly (readonly [number, number])[]): number {
  let [now, most] = [0, 0];
  // What ends at a moment lets go before what begins then takes.
  for (const [, by] of [...ends].sort((a, b) => a[0] - b[0] || a[1] - b[1])) {
    now += by;
    most = Math.max(most, now);
  }
  return most;
}
