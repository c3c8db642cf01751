import type { Ms } from '../estate';
import type { Call, Trace } from '../calls/engine';
import type { CallRecord, RecordedLeg } from './types';

/** A call that came to an outcome, as the phone system that steered it knows it. Times in ms from its beginning. */
export interface CallWent {
  readonly id: string;
  /** ms since 1970. */
  readonly startMs: number;
  readonly call: Call;
  readonly trace: Trace;
  /** When the outcome came, and when all of it was over. */
  readonly settledMs: Ms;
  readonly overMs: Ms;
  /** By the leg, counted from 0 in the order dialled. */
  readonly answeredMs?: ReadonlyMap<number, Ms>;
  readonly trunks?: ReadonlyMap<number, string>;
  readonly trunkIn?: string;
  readonly system?: string;
}

/** Outcomes after which something is talked or listened to. */
const TALKS: readonly string[] = ['answered', 'mailbox', 'played', 'carrier-voicemail'];

/** A call that went over this phone system, as call records have it (docs/formats.md). */
export function recordOfCall(went: CallWent): CallRecord {
  const { id, startMs, call, trace, answeredMs, trunks, trunkIn, system } = went;
  const { outcome } = trace;
  return {
    id,
    startMs,
    from: call.from,
    to: call.to,
    ...(call.arrival ? { arrival: call.arrival } : {}),
    outcome: outcome.kind,
    atMs: outcome.atMs,
    ...('endpoint' in outcome
      ? { answeredBy: outcome.endpoint }
      : 'seat' in outcome
        ? { answeredBy: outcome.seat }
        : {}),
    talkMs: TALKS.includes(outcome.kind) ? Math.max(0, Math.round(went.overMs - went.settledMs)) : 0,
    legs: trace.legs.map((leg, nth): RecordedLeg => {
      const answerMs = answeredMs?.get(nth);
      const trunk = trunks?.get(nth);
      const isKnown = answerMs !== undefined && answerMs >= (leg.alertMs ?? 0) && answerMs <= leg.endMs;
      return {
        ...leg,
        ...(isKnown ? { answerMs: Math.round(answerMs) } : {}),
        ...(trunk === undefined ? {} : { trunk }),
      };
    }),
    source: 'live',
    ...(system === undefined ? {} : { system }),
    ...(trunkIn === undefined ? {} : { trunkIn }),
  };
}

/** A record as one line of JSON, without the line's end. */
export function recordLine({ id, startMs, ...rest }: CallRecord): string {
  return JSON.stringify({ id, startAt: new Date(startMs).toISOString(), ...rest });
}
