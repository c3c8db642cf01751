import type { PromiseKind, ReachPromise } from '../../estate';
import type { Call } from '../../calls/engine';

export type { PromiseKind, ReachPromise } from '../../estate';

export const PROMISE_KINDS: readonly PromiseKind[] = [
  'own-mailbox',
  'no-carrier-voicemail',
  'no-cut-off',
  'rings-within',
  'no-silence',
  'wait-at-most',
  'one-lost',
  'only-inside',
  'may-dial',
  'no-loop',
  'no-leaver',
  'no-stranger',
];

/** What the proof goes through. */
export interface ProofScope {
  /** How far a carrier's times may lie from those of the estate: 0.2 is a fifth less to a fifth more. */
  readonly spread: number;
  /** The first moment, ms since 1970; the proof covers the 53 weeks from here. */
  readonly fromMs: number;
  /** Every status that a rule names, or only the person's own of now. */
  readonly everyStatus: boolean;
  /** Leaves nothing out that was gone through in another way; slower, for checking. */
  readonly everything?: boolean;
  /** The most calls to run for one person; left out: so many that a proof takes a minute or two at most. */
  readonly mostRuns?: number;
}

/** Whether a promise holds; where it does not, the smallest call that breaks it, and how. */
export interface Proof {
  readonly promise: ReachPromise;
  readonly holds: boolean;
  readonly broken: Breach | null;
}

export interface Breach {
  /** A call that can be tried. */
  readonly call: Call;
  /** The person's status in that call, where it is another than now. */
  readonly status: string;
  readonly why: string;
}

export interface ProofRun {
  readonly proofs: readonly Proof[];
  /** How many cases were gone through. */
  readonly cases: number;
  /** False where there were more cases than the limit; then what holds is not proved. */
  readonly complete: boolean;
}
