import type { NumberForms } from './forms';
import type { Rewrite } from './types';

export const FINDING_KINDS = [
  'never-fires',
  'partly-covered',
  'fork-bypassed',
  'wrong-form',
  'empties-number',
  'no-way-out',
  'goes-round',
  'list-overlap',
  'list-number-not-E.164',
  'unknown-peer',
  'unknown-list',
] as const;
export type RouteFindingKind = (typeof FINDING_KINDS)[number];

/** A call that shows a finding, ready to be traced. */
export interface ExampleCall {
  readonly from: string;
  readonly dialled: string;
  readonly caller?: string;
  /** ms since 1970, where a schedule counts. */
  readonly atMs?: number;
  /** The peers that send it back, as `RoutedCall` has it. */
  readonly sendsBack?: Readonly<Record<string, { readonly rewrite?: Rewrite }>>;
}

/** A change to the table that ends a finding. */
export type TableMend =
  | { readonly kind: 'move'; readonly route: string; readonly before: string }
  | { readonly kind: 'remove'; readonly route: string }
  /** The rewriting of a route, or of one branch of its fork. */
  | { readonly kind: 'rewrite'; readonly route: string; readonly branch?: number; readonly rewrite: Rewrite }
  /** A route is for calls from these peers only. */
  | { readonly kind: 'from'; readonly route: string; readonly from: readonly string[] }
  | { readonly kind: 'number'; readonly list: string; readonly number: string; readonly becomes: string };

/** Something wrong in a table, or worth knowing of it. */
export interface RouteFinding {
  readonly kind: RouteFindingKind;
  /** `fault`: something does not happen that the table says; `risk`: look at it; `note`: how the table works. */
  readonly weight: 'fault' | 'risk' | 'note';
  readonly says: string;
  readonly route?: string;
  /** The routes that act instead. */
  readonly by?: readonly string[];
  /** The smallest number that shows it: shorter first, then by its digits. */
  readonly example?: string;
  readonly call?: ExampleCall;
  /** The number in the form in which the route meets it, where it was rewritten before. */
  readonly met?: string;
  /** The number as it is sent. */
  readonly sent?: string;
  readonly peer?: string;
  readonly list?: string;
  readonly lists?: readonly string[];
  /** How many numbers of a list. */
  readonly count?: number;
  /** A call that goes round: from which peer it came, the route that took it, the number sent, and to whom. */
  readonly path?: readonly LoopStep[];
  readonly mend?: TableMend;
}
export interface LoopStep {
  readonly from: string;
  readonly route: string;
  readonly number: string;
  readonly to: string;
}

/** What is asked of an analysis beside the table itself. */
export interface AnalyseOptions {
  /** From when on schedules are looked at, for 53 weeks; ms since 1970. */
  readonly fromMs: number;
  /** Peers that send calls back, and how they change the number; it goes before what the table says of them. */
  readonly sendsBack?: Readonly<Record<string, { readonly rewrite?: Rewrite | undefined }>>;
  /** What somebody may dial, as digit maps by the peer that the call comes from; left out: any number, from any peer. */
  readonly dialled?: readonly { readonly from: string; readonly map: string }[];
  /** How the organisation writes numbers, for better mends. */
  readonly plan?: NumberForms;
}
export interface Analysis {
  readonly findings: readonly RouteFinding[];
  /** False where the conditions tangle so that not all was gone through. */
  readonly complete: boolean;
}
