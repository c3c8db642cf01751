import type { E164, Ms, Schedule } from '../estate';
import type { DigitMap } from './digit-map';

/** The form in which a peer expects numbers. */
export const FORMS = ['e164', 'national', 'dialled', 'any'] as const;
export type Form = (typeof FORMS)[number];

/** A system that calls come from and are sent to: anything that speaks SIP. */
export interface Peer {
  readonly id: string;
  readonly name: string;
  readonly role?: string;
  readonly expects: Form;
  /** Calls at once. */
  readonly limit?: number;
}
export interface NumberList {
  readonly id: string;
  readonly name: string;
  readonly numbers: readonly E164[];
}
export interface Rewrite {
  /** How many leading characters are taken off. */
  readonly drop: number;
  readonly prepend: string;
}
/** When a route acts: all that is present must hold. */
export interface RouteWhen {
  readonly from?: readonly string[];
  readonly dialled?: {
    readonly prefixes?: readonly string[];
    /** A digit map (RFC 3435). */
    readonly map?: string;
    readonly minDigits?: number;
    readonly maxDigits?: number;
  };
  readonly caller?: { readonly prefixes: readonly string[] };
  readonly list?: { readonly id: string; readonly of: 'dialled' | 'caller' };
  readonly schedule?: { readonly id: string; readonly inside: boolean };
}
export interface Branch {
  readonly peer: string;
  readonly rewrite?: Rewrite;
  readonly delayMs?: Ms;
}
export type RouteThen =
  | {
      readonly send: {
        readonly peer: string;
        readonly rewrite?: Rewrite;
        readonly orElse?: readonly string[];
      };
    }
  | { readonly fork: { readonly branches: readonly Branch[] } }
  | { readonly rewrite: { readonly rewrite: Rewrite; readonly caller?: Rewrite } }
  | { readonly refuse: { readonly cause: number } };
export interface Route {
  readonly id: string;
  readonly name: string;
  readonly enabled: boolean;
  readonly when: RouteWhen;
  readonly then: RouteThen;
}
export interface RouteTable {
  readonly peers: readonly Peer[];
  readonly lists: readonly NumberList[];
  readonly routes: readonly Route[];
  /** Left out: 10. */
  readonly hopLimit?: number;
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
  readonly lists: ReadonlyMap<string, ReadonlySet<string>>;
}
