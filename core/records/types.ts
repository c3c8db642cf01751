import type { Arrival, Ms } from '../estate';
import type { LegEnd, OutcomeKind, World } from '../calls/engine';

/** One leg of a call that went. Times in ms from dialling. */
export interface RecordedLeg {
  /** An endpoint's id, or the number itself. */
  readonly endpoint: string;
  readonly dialledMs: Ms;
  readonly alertMs: Ms | null;
  /** When it was answered, where that is known: before a confirmation. */
  readonly answerMs?: Ms;
  readonly endMs: Ms;
  readonly end: LegEnd;
  readonly trunk?: string;
}

/** A call that went over a phone system. */
export interface CallRecord {
  readonly id: string;
  /** When it began, ms since 1970. */
  readonly startMs: number;
  /** E.164, an extension, or null for a withheld number. */
  readonly from: string | null;
  /** As it was dialled in. */
  readonly to: string;
  readonly arrival?: Arrival;
  readonly outcome: OutcomeKind;
  /** When the outcome came, ms from the beginning. */
  readonly atMs: Ms;
  readonly answeredBy?: string;
  readonly talkMs: Ms;
  readonly legs: readonly RecordedLeg[];
  readonly source?: 'live' | 'import';
  readonly system?: string;
  readonly trunkIn?: string;
  /** How everything behaved, where it is known. */
  readonly world?: World;
}
