import type { CallRecord, CallChoices } from '../../core/records';
import type { ImportFound } from '../../api/call-imports';

/** What a process that reads a file of calls is told first. */
export interface ImportTask {
  /** JSON lines; else a table. */
  readonly isLines: boolean;
  /** Whether calls are handed on; else the file is only looked through. */
  readonly isTaking: boolean;
  /** So many calls were taken in before. */
  readonly skip: number;
  /** What was said of columns and the rest; left out: guessed. */
  readonly choices: Partial<CallChoices> | null;
  readonly timeZone: string;
  /** Calls that began before this would be deleted again, ms since 1970. */
  readonly keptFromMs: number;
  readonly dialling: unknown;
  /** Phones by what a file may call them: their number, their owner’s extension. */
  readonly phones: readonly (readonly [string, string])[];
}

export type ToImport =
  | { readonly kind: 'task'; readonly task: ImportTask }
  /** null: there was no more. */
  | { readonly kind: 'part'; readonly bytes: Uint8Array | null }
  | { readonly kind: 'on' }
  | { readonly kind: 'stop' };

export type FromImport =
  | { readonly kind: 'more' }
  | { readonly kind: 'at'; readonly rows: number }
  | {
      readonly kind: 'calls';
      readonly records: readonly CallRecord[];
      readonly rows: number;
      readonly calls: number;
    }
  | { readonly kind: 'done'; readonly found: ImportFound }
  | { readonly kind: 'failed'; readonly why: string };
