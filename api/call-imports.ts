import type { CallRecord, CallChoices, RowFault } from '../core/records';

/** What was found in a file. */
export interface ImportFound {
  readonly headings: readonly string[];
  readonly choices: CallChoices | null;
  /** Day and month could stand the other way round. */
  readonly isUnsure: boolean;
  readonly rows: number;
  readonly calls: number;
  readonly twice: number;
  /** Calls that are too old to be kept: they are left out. */
  readonly tooOld: number;
  /** The first and the last beginning of a call, ms since 1970; null: there is none. */
  readonly span: readonly [number, number] | null;
  readonly faults: readonly RowFault[];
  readonly faultCount: number;
  readonly sample: readonly CallRecord[];
  readonly words: readonly {
    readonly word: string;
    readonly key: string;
    readonly count: number;
    readonly means: string | null;
  }[];
  /** Why nothing can be read; null: it can. */
  readonly why: string | null;
}
