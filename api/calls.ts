import type { OutcomeKind } from '../core/calls/engine';

/** Whether a call went as the estate of then has it; `unsure`: not enough is known of it. */
export const WENT = ['planned', 'otherwise', 'unsure'] as const;
export type Went = (typeof WENT)[number];

/** A call that went, as it is listed. Times in ms from its beginning. */
export interface CallRow {
  readonly id: string;
  /** By which it is found. */
  readonly key: string;
  /** null: not looked at yet */
  readonly went: Went | null;
  readonly isImported: boolean;
  /** ISO 8601 */
  readonly at: string;
  /** null: withheld */
  readonly from: string | null;
  readonly to: string;
  /** Who or what was called; null: nobody of the organisation. */
  readonly toName: string | null;
  readonly outcome: OutcomeKind;
  readonly atMs: number;
  readonly talkMs: number;
  readonly answeredBy: string | null;
  readonly legs: readonly {
    readonly name: string;
    readonly dialledMs: number;
    readonly alertMs: number | null;
    readonly endMs: number;
    /** How it ended, in words. */
    readonly end: string;
  }[];
}
export interface CallsPage {
  readonly calls: readonly CallRow[];
  /** The key of the call to go on after; null: these were the last. */
  readonly next: string | null;
}
