import type { Call, OutcomeKind } from '../../calls/engine';
import type { Start } from '../../changes/slate';

/** What happens in a case, beside the moment and the caller. */
export type CaseKind =
  | 'nobody'
  | 'answers'
  | 'off'
  | 'signed-out'
  | 'rejects'
  | 'all-off'
  | 'engaged'
  | 'seat-answers'
  | 'seats-on'
  | 'press'
  | 'code';

/** Where a call ends, as seen from whom it was for. */
export interface End {
  readonly kind: OutcomeKind;
  /** `own`: at a phone or in the mailbox of whom it was for; else a person's id. */
  readonly who: string | null;
  /** Why it failed, or what the caller hears. */
  readonly detail: string;
}

/** When in the week a difference shows. */
export type Times =
  | { readonly kind: 'any' }
  | { readonly kind: 'inside' | 'outside'; readonly schedule: string }
  | { readonly kind: 'some' };

/** One way in which calls to one person, group or menu end differently. */
export interface Change {
  readonly start: Start;
  readonly name: string;
  readonly caseKind: CaseKind;
  /** At which phone, by its kind, or which key. */
  readonly at: string;
  readonly status: string | null;
  /** The extension that is called, where the person has several. */
  readonly line: string | null;
  readonly from: End;
  readonly to: End;
  /** The same ending at another time: how much later, in ms, in the call that shows it; else 0. */
  readonly laterMs: number;
  readonly times: Times;
  /** Calls that are not from outside, where only those differ. */
  readonly callers: 'any' | 'outside' | 'inside' | 'withheld' | 'listed';
  /** A call that shows it, before and after. */
  readonly call: Call;
}

/** Differences of the same kind, for all whom they meet. */
export interface ImpactGroup {
  readonly key: string;
  readonly says: string;
  /** Worst first: calls that are lost now, other endings, times. */
  readonly weight: 'lost' | 'other' | 'time' | 'better';
  readonly changes: readonly Change[];
}
