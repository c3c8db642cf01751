import type { Estate } from '../core/estate';

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
