import type { Subject, Weight, Evidence } from '../core/assurance/checks';
import type { Call } from '../core/calls/engine';
import type { Drill, DrillResult } from '../core/calls/drills';

export interface Finding {
  readonly key: string;
  readonly check: string;
  readonly subject: Subject;
  readonly weight: Weight;
  readonly says: string;
  readonly evidence?: readonly Evidence[];
  readonly call?: Call;
  readonly mend: string | null;
  readonly isOpen: boolean;
  readonly mark: {
    readonly assignee: string | null;
    readonly putOffUntil: string | null;
    readonly acceptedWhy: string | null;
    readonly by: string;
  } | null;
}

export interface CheckWords {
  readonly id: string;
  readonly title: string;
  readonly looksFor: string;
  readonly why: string;
  readonly weight: Weight;
}

export interface Findings {
  readonly findings: readonly Finding[];
  readonly checks: readonly CheckWords[];
}

export interface MarkGiven {
  readonly key: string;
  readonly assignee?: string | null;
  readonly putOffUntil?: string | null;
  readonly acceptedWhy?: string | null;
}

export interface OwedRestart {
  readonly endpoint: string;
  readonly label: string;
  readonly person: string;
  readonly name: string;
  readonly says: string;
  readonly since: string;
  readonly restartAt: string | null;
}

export interface DrillNow {
  readonly drill: Drill;
  readonly whom: string;
  readonly ok: number;
  readonly failed: readonly DrillResult[];
}
