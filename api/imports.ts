import type { StaffColumns, PlacedFault, PlannedRow } from '../core/formats';

export interface ImportStatus {
  readonly id: number;
  readonly state: 'reading' | 'read' | 'writing' | 'written' | 'failed';
  readonly done: number;
  readonly total: number;
  readonly readAs: string | null;
  readonly summary: {
    readonly encoding?: string;
    readonly delimiter?: string;
    readonly headings?: readonly string[];
    readonly columns?: StaffColumns;
    readonly faults: readonly PlacedFault[];
    readonly counts?: Readonly<Record<PlannedRow['action'], number>>;
    readonly failed?: string;
  } | null;
}
