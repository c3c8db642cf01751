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
  /** The trunk of the estate by which the peer is reached. */
  readonly trunk?: string;
  /** The peer can send calls back to the table, their numbers changed so: an analysis looks for calls that go round. */
  readonly sendsBack?: { readonly rewrite?: Rewrite };
}
export interface NumberList {
  readonly id: string;
  readonly name: string;
  /** E.164, with a leading `+`. */
  readonly numbers: readonly string[];
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
  /** ms */
  readonly delayMs?: number;
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
export interface KeptRouteTable {
  readonly peers: readonly Peer[];
  readonly lists: readonly NumberList[];
  readonly routes: readonly Route[];
  /** The peer that the organisation's own lines are on: what they dial enters the table from it. */
  readonly lines?: string;
  /** Left out: 10. */
  readonly hopLimit?: number;
}
