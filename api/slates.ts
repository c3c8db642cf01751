import type { EntryKind, ToldChange } from '../core/changes/slate';
import type { Fault, Route } from '../core/estate';
import type { ImpactGroup } from '../core/assurance/impact';
import type { TableChange } from '../core/routes';
import type { DrillResult } from '../core/calls/drills';

export interface Slate {
  readonly id: number;
  readonly name: string;
  readonly owner: string;
  readonly shared: boolean;
  readonly note: string;
  readonly state: 'work' | 'timed' | 'held' | 'applied' | 'dropped';
  readonly dueAt: string | null;
  readonly heldWhy: string | null;
  readonly overrule: string | null;
  readonly updatedAt: string;
  readonly appliedAt: string | null;
  readonly appliedBy: string | null;
  readonly version: number;
  readonly size: number;
  readonly createdAt: string;
}

export interface ShownEntry {
  readonly kind: EntryKind;
  readonly id: string;
  readonly name: string;
  readonly action: 'add' | 'change' | 'remove';
  readonly why: string;
  readonly addedBy: string;
  readonly addedAt: string;
  readonly changes: readonly ToldChange[];
  readonly more: number;
  readonly stale: { readonly changes: readonly ToldChange[] } | null;
  readonly faults: readonly Fault[];
}

export interface ImpactState {
  readonly key: string;
  readonly state: 'running' | 'done' | 'cancelled' | 'failed';
  readonly done: number;
  readonly total: number;
  readonly groups: readonly ImpactGroup[];
  readonly table: TableGroups | null;
  readonly tookMs: number | null;
}

export interface TableGroup extends Pick<TableChange, 'weight' | 'call' | 'was' | 'is'> {
  readonly says: string;
}

export interface TableGroups {
  readonly groups: readonly TableGroup[];
  readonly more: number;
  readonly tried: number;
  readonly complete: boolean;
  readonly was: readonly Route[];
  readonly is: readonly Route[];
  readonly peers: readonly { readonly id: string; readonly name: string }[];
}

export interface SlatePage {
  readonly slate: Slate;
  readonly entries: readonly ShownEntry[];
  readonly more: number;
  readonly stale: number;
  readonly faults: readonly Fault[];
  readonly impact: ImpactState | null;
  readonly clashes?: readonly { readonly name: string; readonly paths: readonly string[] }[];
  /** Only how long a long slate is: what is on it, and what stands in its way, was not looked at. */
  readonly isBrief?: true;
}

/** Why a slate could not be put live. Nothing was written. */
export type Refused =
  | { readonly kind: 'gone' }
  /** Others changed what it rests on again and again while it was looked through. */
  | { readonly kind: 'busy' }
  | {
      readonly kind: 'stale';
      readonly stale: readonly {
        readonly kind: string;
        readonly id: string;
        readonly name: string;
        readonly theirs: unknown;
      }[];
    }
  | { readonly kind: 'faults'; readonly faults: readonly Fault[] }
  | { readonly kind: 'drills'; readonly failed: readonly DrillResult[] }
  | { readonly kind: 'empty' };

export interface SlatePatch {
  readonly name?: string;
  readonly note?: string;
  readonly owner?: string;
  readonly shared?: boolean;
  readonly dueAt?: string | null;
  /** `YYYY-MM-DDTHH:MM` in the organisation's zone. */
  readonly dueLocal?: string;
}
