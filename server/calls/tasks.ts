import type { SlateEntry } from '../../core/changes/slate';
import type { CarrierSeen, Cost, RecordsEffect, Tariff, TrunkTraffic } from '../../core/records';
import type { CurveStep } from '../../core/statistics';
import type { DbConfig } from '../db';

/** Some of the calls that are kept, with what is to be made of them. */
export type CallsTask = {
  readonly db: Omit<DbConfig, 'owner' | 'keeper'>;
  readonly fromMs: number;
  readonly toMs: number;
} & (
  | {
      readonly kind: 'times';
      readonly endpoints: readonly string[] | null;
      readonly to: readonly string[] | null;
      readonly hours: readonly [number, number] | null;
      readonly timeZone: string;
    }
  | { readonly kind: 'carriers'; readonly estate: SharedArrayBuffer }
  | {
      readonly kind: 'traffic';
      readonly estate: SharedArrayBuffer;
      readonly entries: readonly SlateEntry[] | null;
    }
  | { readonly kind: 'cost'; readonly estate: SharedArrayBuffer; readonly tariff: Tariff }
  | { readonly kind: 'effect'; readonly estate: SharedArrayBuffer; readonly entries: readonly SlateEntry[] }
);
export interface CallsResults {
  readonly times: { readonly n: number; readonly answered: number; readonly curve: readonly CurveStep[] };
  readonly carriers: readonly CarrierSeen[];
  readonly traffic: {
    readonly now: readonly TrunkTraffic[];
    readonly added: readonly { readonly trunk: string; readonly byDay: readonly number[] }[] | null;
  };
  readonly cost: {
    readonly cost: Cost;
    readonly people: readonly { readonly person: string; readonly legs: number; readonly total: number }[];
  };
  readonly effect: RecordsEffect;
}
