import type { ImpactGroup } from '../core/assurance/impact';
import type { ReachPromise } from '../core/estate';

/** Calls that end differently, in one sentence, and whose. */
export interface EffectOnCalls {
  readonly says: string;
  readonly weight: ImpactGroup['weight'];
  readonly who: readonly string[];
}

/** A promise that held and is broken now. */
export interface BrokenPromise {
  readonly person: string;
  readonly name: string;
  readonly promise: ReachPromise;
  readonly why: string;
}

/** A drill that passed and fails now. */
export interface FailedDrill {
  readonly id: string;
  readonly name: string;
  readonly why: string;
}

/** What a change does before it is live. */
export interface Effect {
  /** Worst first. */
  readonly calls: readonly EffectOnCalls[];
  readonly more: number;
  readonly promises: readonly BrokenPromise[];
  readonly drills: readonly FailedDrill[];
  /** Whether calls and promises were gone through in the time there is; if not, what it does is not known. */
  readonly through: boolean;
  /** Whose calls it can touch. */
  readonly touched: number;
  /** Of how many people whom it can touch the promises were gone through, and of how many not. */
  readonly proved: number;
  readonly unproved: number;
  /** What was not gone through in the time there is, in words. */
  readonly open: readonly string[];
}
