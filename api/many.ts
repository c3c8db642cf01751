import type { LeftOut } from '../core/editing';
import type { DropOut } from '../core/assurance/impact';
import type { ReachState } from '../core/calls/views';

/** What a change made to several at once does to one of them. */
export interface ManyRow {
  readonly id: string;
  readonly name: string;
  readonly version: number;
  /** How many settings change; 0: it is as it would be already. */
  readonly changes: number;
  /** Of a template: what in it this person has nothing for. */
  readonly left: readonly LeftOut[];
  /** Of a template: phones that rang before and do not ring any more, at all or at some hours. */
  readonly drops: readonly DropOut[];
  readonly before: ReachState;
  readonly after: ReachState;
  readonly why: string;
}

export interface ManyLook {
  readonly rows: readonly ManyRow[];
}

/** What became of it: live, or on a slate that waits to be looked at. */
export type ManyDone =
  | { readonly slate: number; readonly live: true; readonly changed: number }
  | { readonly slate: number; readonly live: false; readonly message: string };
