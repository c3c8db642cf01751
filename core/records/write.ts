import type { Ms } from '../estate';
import type { Call, Trace, World } from '../calls/engine';
import { behaviours } from './replay';
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
  /** What was around the call that its legs do not tell. */
  readonly around?: World;
}

/** How everything behaved, where more than the legs tell is known: whole, so that the call can be run again by it. */
function worldKept(around: World | undefined, record: CallRecord, trace: Trace): World | undefined {
  if (!around) return undefined;
  const { endpoints = {}, groupLast = {}, seats, ...rest } = around;
  // Of groups that the call never came to, whose turn it was tells nothing.
  const groups = new Set(trace.path.flatMap((step) => ('group' in step ? [step.group] : [])));
  const turns = Object.fromEntries(Object.entries(groupLast).filter(([id]) => groups.has(id)));
  const told: World = {
    ...rest,
    ...(Object.keys(turns).length > 0 ? { groupLast: turns } : {}),
    ...(groups.size > 0 && seats && Object.keys(seats).length > 0 ? { seats } : {}),
  };
  const tells = [endpoints, ...Object.values(told)].some(
    (part) => part !== undefined && Object.keys(part as object).length > 0,
  );
  return tells ? { ...told, endpoints: { ...endpoints, ...behaviours(record) } } : undefined;
}

/** Outcomes after which something is talked or listened to. */
const TALKS: readonly string[] = ['answered', 'mailbox', 'played', 'carrier-voicemail'];

/** A call that went over this phone system, as call records have it (docs/formats.md). */
export function recordOfCall(went: CallWent): CallRecord {
  const { id, startMs, call, trace, answeredMs, trunks, trunkIn, system } = went;
  const { outcome } = trace;
  const record: CallRecord = {
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
  const world = worldKept(went.around, record, trace);
  return world ? { ...record, world } : record;
}

/** A record as one line of JSON, without the line's end. */
export function recordLine({ id, startMs, ...rest }: CallRecord): string {
  return JSON.stringify({ id, startAt: new Date(startMs).toISOString(), ...rest });
}
