import type { RouteTable } from '../core/routes';
import type { NumberListFile } from '../core/formats';
import type { Permission, Dialling, Trunk, TollGuard } from '../core/estate';
import type { Ambiguity } from '../core/calls/dialling';

export type TableBody = Omit<RouteTable, 'lists' | 'schedules'>;

export interface ListHead {
  readonly id: string;
  readonly name: string;
  readonly count: number;
  readonly version: number;
  readonly hasPrevious: boolean;
  /** What the slate in work makes of it. */
  readonly onSlate?: 'added' | 'changed';
}

export interface TableAnswer {
  readonly table: TableBody;
  readonly version: number;
  readonly lists: readonly ListHead[];
}

export interface TablePage {
  readonly object: TableBody & { readonly name: string };
  readonly version: number;
  readonly lists: readonly ListHead[];
}

export interface ListPage extends ListHead {
  readonly matching: number;
  readonly numbers: readonly string[];
}

export interface ListPreview extends Omit<NumberListFile, 'numbers'> {
  readonly count: number;
  readonly kept: number;
  readonly added: { readonly count: number; readonly some: readonly string[] };
  readonly removed: { readonly count: number; readonly some: readonly string[] };
}

export interface HeldPermission extends Permission {
  readonly held: readonly { readonly id: string; readonly name: string }[];
}

export interface DiallingPage {
  readonly dialling: Dialling;
  readonly permissions: readonly HeldPermission[];
  readonly trunks: readonly Trunk[];
  readonly guard: TollGuard;
  readonly ambiguities: readonly Ambiguity[];
}
