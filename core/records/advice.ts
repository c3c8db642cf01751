import type { Ms } from '../estate';
import { levelChange, quantile, Z95, type CurveStep } from '../statistics';
import type { CallRecord, RecordedLeg } from './types';

/** Fewer answers than these say little, and it is said. */
export const FEW_ANSWERS = 30;

/** The last step at or before a time; null: nothing has happened by then. */
const stepAt = (curve: readonly CurveStep[], ms: Ms): CurveStep | null =>
  curve.findLast(({ atMs }) => atMs <= ms) ?? null;
/** The share answered by a time. */
export const shareAt = (curve: readonly CurveStep[], ms: Ms): number => stepAt(curve, ms)?.share ?? 0;

/** What ringing longer brings: a share, with its 95 % interval. */
export interface Gain {
  readonly share: number;
  readonly low: number;
  readonly high: number;
}

/**
 * What share of all that ring is answered between two times. The interval by the variance of Greenwood of each end and
 * of both together, as the two are of the same curve.
 */
export function gainOf(curve: readonly CurveStep[], fromMs: Ms, toMs: Ms): Gain {
  const [from, to] = [1 - shareAt(curve, fromMs), 1 - shareAt(curve, toMs)];
  const share = from - to;
  const sum = (ms: Ms) =>
    curve.reduce(
      (all, { atMs, atRisk, answered }) =>
        atMs > ms || atRisk === answered ? all : all + answered / (atRisk * (atRisk - answered)),
      0,
    );
  // S(to) = S(from) · q: the variance of S(from)·(1 − q) by the delta method, the two factors being independent.
  const [before, until] = [sum(fromMs), sum(toMs)];
  const variance = share ** 2 * before + to ** 2 * Math.max(0, until - before);
  const width = Z95 * Math.sqrt(variance);
  return { share, low: Math.max(0, share - width), high: Math.min(1, share + width) };
}

/** The shortest time by which a share is answered; null: it is not reached. */
export const timeForShare = (curve: readonly CurveStep[], share: number): Ms | null =>
  curve.find((step) => step.share >= share)?.atMs ?? null;

/** What was measured of one thing, ms. */
export interface Measured {
  readonly n: number;
  readonly q10: Ms;
  readonly median: Ms;
  readonly q90: Ms;
  readonly q95: Ms;
  readonly least: Ms;
  /** The clearest change of level in the order of the calls, where there is one. */
  readonly changed: Changed | null;
}
/** Another level since a call; null: later than any phone was let ring. */
export interface Changed {
  readonly before: Ms | null;
  readonly after: Ms | null;
  readonly sinceMs: number;
  /** How likely so clear a change is by accident. */
  readonly p: number;
}
/** How carriers of one prefix take calls. */
export interface CarrierSeen {
  readonly prefix: string;
  readonly setup: Measured | null;
  /** From dialling to the voicemail of one that is off. */
  readonly offAnswer: Measured | null;
  /** From the first ring to the carrier’s voicemail. */
  readonly pickUp: Measured | null;
}

interface Seen {
  readonly atMs: number;
  readonly ms: Ms;
}
/** A change of level is told of where it is this clear, and this large. */
const CLEAR_P = 0.001;
const LARGE_MS = 1000;

/** Later than any phone was let ring. */
const LATER = Number.MAX_SAFE_INTEGER;

/**
 * The clearest change of level. Phones that rang for longer than most were taken after, and were not taken, tell that
 * it would have been later; those that rang for less tell nothing.
 * @param untaken how long phones rang that nobody and nothing answered
 */
function changeOf(seen: readonly Seen[], untaken: readonly Seen[]): Changed | null {
  if (seen.length === 0) return null;
  const sorted = seen.map(({ ms }) => ms).sort((a, b) => a - b);
  const least = quantile(sorted, 0.9);
  const all = [
    ...seen,
    ...untaken.flatMap(({ atMs, ms }) => (ms >= least ? [{ atMs, ms: LATER }] : [])),
  ].sort((a, b) => a.atMs - b.atMs);
  const change = levelChange(all.map(({ ms }) => ms));
  if (!change || change.p >= CLEAR_P || Math.abs(change.after - change.before) < LARGE_MS) return null;
  const told = (ms: Ms) => (ms >= LATER / 2 ? null : ms);
  return {
    before: told(change.before),
    after: told(change.after),
    sinceMs: all[change.at]!.atMs,
    p: change.p,
  };
}

function measured(seen: readonly Seen[], untaken: readonly Seen[] = []): Measured | null {
  if (seen.length === 0) return null;
  const sorted = seen.map(({ ms }) => ms).sort((a, b) => a - b);
  const q = (share: number) => Math.round(quantile(sorted, share));
  return {
    n: seen.length,
    least: sorted[0]!,
    q10: q(0.1),
    median: q(0.5),
    q90: q(0.9),
    q95: q(0.95),
    changed: changeOf(seen, untaken),
  };
}

/** Whether a leg was taken by the voicemail of a carrier, and not by a person. */
const isVoicemail = ({ outcome, answeredBy }: CallRecord, { end, endpoint }: RecordedLeg): boolean =>
  end === 'before-guard' ||
  (outcome === 'carrier-voicemail' && end === 'connected' && (answeredBy ?? endpoint) === endpoint);

/** Ends after which it is known only that nothing had answered until then. */
const UNTAKEN: readonly string[] = ['no-answer', 'given-up', 'answered-elsewhere', 'caller-gone'];

/**
 * What records say of each carrier: set-up, voicemail of one that is off, voicemail after ringing.
 * @param prefixOf the prefix that stands for the carrier of the phone that was dialled; null: it has none
 */
export function carrierTimesOf(
  records: readonly CallRecord[],
  prefixOf: (endpoint: string) => string | null,
): readonly CarrierSeen[] {
  const of = new Map<string, Record<'setup' | 'offAnswer' | 'pickUp' | 'untaken', Seen[]>>();
  for (const record of records)
    for (const leg of record.legs) {
      const prefix = prefixOf(leg.endpoint);
      if (prefix === null) continue;
      const lists = of.get(prefix) ?? { setup: [], offAnswer: [], pickUp: [], untaken: [] };
      of.set(prefix, lists);
      const seen = (ms: Ms): Seen => ({ atMs: record.startMs, ms });
      if (leg.alertMs !== null) lists.setup.push(seen(leg.alertMs - leg.dialledMs));
      if (leg.alertMs !== null && UNTAKEN.includes(leg.end))
        lists.untaken.push(seen(leg.endMs - leg.alertMs));
      if (!isVoicemail(record, leg)) continue;
      const answered = leg.answerMs ?? leg.endMs;
      if (leg.alertMs === null) lists.offAnswer.push(seen(answered - leg.dialledMs));
      else lists.pickUp.push(seen(answered - leg.alertMs));
    }
  return [...of]
    .map(([prefix, { setup, offAnswer, pickUp, untaken }]) => ({
      prefix,
      setup: measured(setup),
      offAnswer: measured(offAnswer),
      pickUp: measured(pickUp, untaken),
    }))
    .sort((a, b) => (b.setup?.n ?? 0) - (a.setup?.n ?? 0) || (a.prefix < b.prefix ? -1 : 1));
}
