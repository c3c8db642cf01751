import type { ListRow, NumberState, RoundPlan } from '../core/rounds';

export const ROUND_STATES = ['draft', 'asked', 'approved', 'running', 'paused', 'stopped', 'done'] as const;
/** `asked`: approval was asked for. */
export type RoundState = (typeof ROUND_STATES)[number];

export interface RecordingRow {
  readonly id: number;
  readonly name: string;
  readonly ms: number;
  readonly madeBy: string;
  readonly madeAt: string;
}
export interface RecordingsPage {
  readonly recordings: readonly RecordingRow[];
}

/** How many numbers of a list stand how. */
export type RoundCounts = Readonly<Partial<Record<NumberState, number>>>;

export interface RoundRow {
  readonly id: number;
  readonly name: string;
  readonly state: RoundState;
  readonly counts: RoundCounts;
  /** Numbers of the list, those that are not called among them. */
  readonly total: number;
  readonly madeAt: string;
  readonly startedAt: string | null;
  readonly endedAt: string | null;
}
export interface RoundsPage {
  readonly rounds: readonly RoundRow[];
  readonly removed: readonly { readonly id: number; readonly name: string }[];
}

export interface RoundPage extends RoundRow {
  readonly plan: RoundPlan;
  readonly version: number;
  readonly recording: RecordingRow | null;
  /** What keys besides 1 and 9 play; null: the message again. */
  readonly keys: readonly { readonly key: string; readonly recording: RecordingRow | null }[];
  readonly listName: string | null;
  readonly askedBy: string | null;
  readonly approvedBy: string | null;
  readonly approvedAt: string | null;
  /** What is missing before approval can be asked for. */
  readonly missing: readonly string[];
  /** Why whoever looks cannot approve it; null: they can. */
  readonly whyNotApprove: string | null;
  /** When the next number may be called, where none may now; ISO 8601. */
  readonly nextAt: string | null;
  /** Calls that the trunks carry at once beside those kept free. */
  readonly channels: number;
  readonly permissions: readonly { readonly id: string; readonly name: string }[];
}

export interface RoundNumber extends Omit<ListRow, 'state' | 'fields'> {
  readonly state: NumberState;
  readonly tries: number;
  readonly calledAt: string | null;
  readonly againAt: string | null;
}
export interface RoundNumbersPage {
  readonly numbers: readonly RoundNumber[];
  /** The line to go on after; null: these were the last. */
  readonly next: number | null;
}

export interface NeverCallPage {
  readonly numbers: readonly {
    readonly number: string;
    readonly since: string;
    readonly who: string;
    readonly why: string;
  }[];
  readonly total: number;
}
