import { DateTime } from 'luxon';
import { zoneNamed } from '../zones';
import type { CallRecord, RecordedLeg } from './types';

/** One line of a tariff. Money in hundred-thousandths of the currency. */
export interface TariffLine {
  /** Digits of E.164, with its plus. */
  readonly prefix: string;
  readonly name: string;
  readonly perMinute: number;
  readonly perCall: number;
  readonly firstS: number;
  readonly nextS: number;
  /** From this day on, YYYY-MM-DD; null: from the beginning. */
  readonly from: string | null;
  /** For calls over this trunk alone; null: over any. */
  readonly trunk: string | null;
}
export interface Tariff {
  /** ISO 4217. */
  readonly currency: string;
  readonly lines: readonly TariffLine[];
}

export interface NumberCost {
  readonly number: string;
  readonly name: string;
  readonly legs: number;
  readonly seconds: number;
  readonly total: number;
}
export interface Cost {
  readonly currency: string;
  /** Hundred-thousandths. */
  readonly total: number;
  readonly byNumber: readonly NumberCost[];
  /** Numbers for which the tariff has no line. */
  readonly unpriced: readonly string[];
}

/**
 * How long a leg is charged, ms: from its answer to its end. A leg that was connected may be written down up to the
 * moment of the connection, or up to the end of the talk: in the first case the talk comes on top.
 * @returns null where it was never answered
 */
export function chargedMs(record: CallRecord, leg: RecordedLeg): number | null {
  const isConnected = leg.end === 'connected';
  const isAnswered =
    isConnected || leg.answerMs !== undefined || leg.end === 'refused' || leg.end === 'not-confirmed';
  if (!isAnswered) return null;
  const answered = leg.answerMs ?? leg.endMs;
  return leg.endMs - answered + (isConnected && leg.endMs <= record.atMs ? record.talkMs : 0);
}

/** What a leg of such a length costs: intervals begun count whole, and it is rounded up once. */
export function legCost(
  { perMinute, perCall, firstS, nextS }: TariffLine,
  ms: number,
): { cost: number; seconds: number } {
  const seconds =
    ms <= firstS * 1000 ? firstS : firstS + Math.ceil((ms - firstS * 1000) / (nextS * 1000)) * nextS;
  return { cost: perCall + Number((BigInt(perMinute) * BigInt(seconds) + 59n) / 60n), seconds };
}

/** The line that counts: the longest prefix, one for this trunk before one for any, the latest that is in force. */
export function lineFor(
  tariff: Tariff,
  number: string,
  day: string,
  trunk: string | undefined,
): TariffLine | null {
  let best: TariffLine | null = null;
  for (const line of tariff.lines) {
    if (!number.startsWith(line.prefix) || (line.from !== null && line.from > day)) continue;
    if (line.trunk !== null && line.trunk !== trunk) continue;
    const isBetter =
      !best ||
      line.prefix.length > best.prefix.length ||
      (line.prefix.length === best.prefix.length && (line.trunk !== null) > (best.trunk !== null)) ||
      (line.prefix.length === best.prefix.length &&
        (line.trunk !== null) === (best.trunk !== null) &&
        (line.from ?? '') > (best.from ?? ''));
    if (isBetter) best = line;
  }
  return best;
}

/** What the legs of calls to numbers cost, the dearest first. @param timeZone in which the tariff's days begin */
export function costOf(tariff: Tariff, records: readonly CallRecord[], timeZone = 'UTC'): Cost {
  const zone = zoneNamed(timeZone);
  const numbers = new Map<string, NumberCost>();
  const unpriced = new Set<string>();
  for (const record of records) {
    let day: string | null = null;
    for (const leg of record.legs) {
      const ms = chargedMs(record, leg);
      if (ms === null || !/^\+\d+$/.test(leg.endpoint)) continue;
      day ??= DateTime.fromMillis(record.startMs, { zone }).toISODate() ?? '';
      const line = lineFor(tariff, leg.endpoint, day, leg.trunk);
      if (!line) {
        unpriced.add(leg.endpoint);
        continue;
      }
      const { cost, seconds } = legCost(line, ms);
      const before = numbers.get(leg.endpoint);
      numbers.set(leg.endpoint, {
        number: leg.endpoint,
        name: line.name,
        legs: (before?.legs ?? 0) + 1,
        seconds: (before?.seconds ?? 0) + seconds,
        total: (before?.total ?? 0) + cost,
      });
    }
  }
  const byNumber = [...numbers.values()].sort((a, b) => b.total - a.total || (a.number < b.number ? -1 : 1));
  return {
    currency: tariff.currency,
    total: byNumber.reduce((sum, { total }) => sum + total, 0),
    byNumber,
    unpriced: [...unpriced].sort(),
  };
}
