import { kaplanMeier, type CurveStep, type Lifetime } from '../statistics';
import type { CallRecord, RecordedLeg } from './types';

/**
 * How long a leg rang, and whether a person then answered: one who refused to take the call has answered too. What a
 * carrier's voicemail took, and all that ended otherwise, tells only how long nobody answered.
 * @returns null where it never rang
 */
export function ringingOf(record: CallRecord, leg: RecordedLeg): Lifetime | null {
  const { alertMs, answerMs, endMs, end, endpoint } = leg;
  if (alertMs === null) return null;
  const isVoicemail =
    record.outcome === 'carrier-voicemail' &&
    end === 'connected' &&
    (record.answeredBy === undefined || record.answeredBy === endpoint);
  const happened = (end === 'connected' && !isVoicemail) || end === 'refused';
  return { ms: (happened ? (answerMs ?? endMs) : endMs) - alertMs, happened };
}

/** How soon legs are answered after they begin to ring. */
export interface AnswerTimes {
  /** Legs that rang, and those that were answered. */
  readonly n: number;
  readonly answered: number;
  readonly curve: readonly CurveStep[];
}

/** How soon the legs of records are answered, of one endpoint if it is named. */
export function answerTimes(records: readonly CallRecord[], endpoint?: string): AnswerTimes {
  const times = records.flatMap((record) =>
    record.legs.flatMap((leg) => {
      const lifetime = endpoint === undefined || leg.endpoint === endpoint ? ringingOf(record, leg) : null;
      return lifetime ? [lifetime] : [];
    }),
  );
  return {
    n: times.length,
    answered: times.filter(({ happened }) => happened).length,
    curve: kaplanMeier(times),
  };
}
