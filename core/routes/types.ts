import type { Ms, Peer, Rewrite, KeptRouteTable as TableOfEstate, Schedule } from '../estate';
import type { DigitMap } from './digit-map';

export {
  FORMS,
  type Branch,
  type Form,
  type NumberList,
  type Peer,
  type Rewrite,
  type Route,
  type RouteThen,
  type RouteWhen,
} from '../estate';

export interface RouteTable extends TableOfEstate {
  /** The schedules that routes ask for, as in the estate file. */
  readonly schedules?: readonly Schedule[];
}

/** A call as it enters the table, and how things stand. */
export interface RoutedCall {
  /** The peer that it comes from. */
  readonly from: string;
  /** Digits, with or without a leading `+`. */
  readonly dialled: string;
  readonly caller?: string;
  /** ms since 1970; needed where a route asks for a schedule. */
  readonly atMs?: number;
  readonly down?: readonly string[];
  readonly full?: readonly string[];
  /** Peers that send a call back, and how they change its number. */
  readonly sendsBack?: Readonly<Record<string, { readonly rewrite?: Rewrite }>>;
}

export type RouteEnd =
  | { readonly kind: 'peer'; readonly peer: string }
  | { readonly kind: 'refused'; readonly cause: number; readonly why: string }
  | { readonly kind: 'no-route'; readonly cause: 404 }
  | { readonly kind: 'loop'; readonly cause: 483 };
/** A route that did not act, and which condition failed. */
export interface Passed {
  readonly route: string;
  readonly because: string;
}
/** One step of a call through the table; what came of it, or what it branched into. */
export interface RouteTrace {
  /** The route that acted; null where none did. */
  readonly route: string | null;
  readonly number: string;
  readonly caller: string | null;
  readonly end: RouteEnd | null;
  /** The branches of a fork, the steps below a rewriting, the next pass of a call that was sent back. */
  readonly branches: readonly RouteTrace[];
  readonly passed: readonly Passed[];
  /** When a branch of a fork begins to ring, in ms. */
  readonly delayMs?: Ms;
}

/** A table made ready for tracing many calls. */
export interface CompiledTable {
  readonly table: RouteTable;
  readonly maps: ReadonlyMap<string, DigitMap>;
  readonly peers: ReadonlyMap<string, Peer>;
  readonly isListed: (list: string, number: string) => boolean;
  /**
   * The routes that fit a call, from the top, but for the hour, which is still to be looked at; null: every condition
   * of every route is.
   */
  readonly fitting: (from: string, number: string, caller: string | null) => readonly number[] | null;
}
