import type { Estate } from '../core/estate';
import type { LeftOut } from '../core/editing';
import type { DropOut } from '../core/assurance/impact';
import type { ReachState } from '../core/calls/views';

export interface TemplateSummary {
  readonly id: string;
  readonly name: string;
  readonly note: string;
  readonly followers: number;
  readonly departed: number;
}

export interface Follower {
  readonly id: string;
  readonly name: string;
  readonly extension: string;
  readonly departures: readonly string[];
}

export interface Followers {
  readonly people: readonly Follower[];
  /** What calls for them can come to; null while nobody follows. */
  readonly slice: Estate | null;
}

export interface TemplatePreview {
  readonly id: string;
  readonly name: string;
  readonly version: number;
  readonly changes: number;
  readonly follows: boolean;
  readonly left: readonly LeftOut[];
  /** Phones that rang before and do not ring any more, at all or at some hours. */
  readonly drops: readonly DropOut[];
  readonly before: ReachState;
  readonly after: ReachState;
  readonly why: string;
}
