import type { Ms, PersonId } from '../../estate';
import type { Call, Outcome, OutcomeKind } from '../engine';

/** Whom a drill stands for: one line, or everybody who follows a template. */
export type StandsFor =
  | { readonly person: PersonId }
  | { readonly group: string }
  | { readonly menu: string }
  | { readonly template: string };

/** How the call must end. */
export interface Expected {
  readonly kind: OutcomeKind;
  /** Whose phone or mailbox: a person's id, or `own` for whom the drill stands. Left out: whoever. */
  readonly person?: PersonId | 'own';
  /** At which phone: an endpoint's id, or a place (`own:mobile:1`). */
  readonly endpoint?: string;
  /** The soonest and the latest that it may end; left out: any time. */
  readonly fromMs?: Ms;
  readonly byMs?: Ms;
}

/** A try that was kept with the result expected. */
export interface Drill {
  readonly id: string;
  readonly name: string;
  readonly standsFor: StandsFor;
  /**
   * The call without whom it is for. For a template its endpoints are places, and the person who is called is `own`.
   */
  readonly call: Omit<Call, 'to'>;
  /** The person's status in the drill, where it is another than now. */
  readonly status?: string;
  readonly expect: Expected;
}

export const DRILLS_FORMAT = 'hostler-drills/1';
export interface DrillFile {
  readonly format: typeof DRILLS_FORMAT;
  readonly drills: readonly Drill[];
}

/** One run of a drill, for one person, group or menu. */
export interface DrillResult {
  readonly drill: string;
  readonly name: string;
  readonly for: { readonly kind: 'person' | 'group' | 'menu'; readonly id: string; readonly name: string };
  readonly ok: boolean;
  /** What was expected and what happened. */
  readonly says: string;
  /** The call as it was run; null: there is nobody to call. */
  readonly call: Call | null;
  readonly outcome: Outcome | null;
}
