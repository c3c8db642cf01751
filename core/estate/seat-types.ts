import type { Confirm } from './confirm';
import type { E164, Ms } from './units';

/** Seats: somebody takes part in a service group at whichever phone they have today. */

/** Where a seat that nobody sits at passes its calls. */
export type SeatPassing =
  | { readonly passTo: { readonly number: E164 }; readonly confirm?: Confirm }
  | { readonly passTo: { readonly sip: string }; readonly confirm?: Confirm };
/** What a seat that nobody sits at plays: a recording’s id, and for how long keys are listened for afterwards. */
export interface SeatPlaying {
  readonly play: string;
  readonly thenMs?: Ms;
}

export interface Seat {
  readonly id: string;
  readonly name: string;
  /** What is dialled to sign on to it; called, it is nobody's number. */
  readonly extension: string;
  readonly callsAtOnce?: number;
  /** How long it rings in a group that goes by rank. */
  readonly ringMs?: Ms;
  readonly wrapUpMs?: Ms;
  /** After so many calls in a row that it did not take, it is paused. */
  readonly missesUntilPaused?: number;
  /** The outside phone stays connected from signing on to signing off. */
  readonly holdOpen?: boolean;
  /** null: somebody signs on to it. */
  readonly unattended?: SeatPassing | SeatPlaying | null;
}

export const SEAT_STATES = ['ready', 'paused', 'wrap-up', 'on-call', 'signed-off'] as const;
export type SeatState = (typeof SEAT_STATES)[number];

/** Where a seat's calls go while somebody is signed on to it: a phone of the estate, or one outside. */
export type SeatPhone = { readonly endpoint: string } | { readonly number: E164 } | { readonly sip: string };

export const DEFAULT_SEAT = {
  callsAtOnce: 1,
  ringMs: 20_000,
  wrapUpMs: 0,
  missesUntilPaused: 2,
  holdOpen: false,
  unattended: null,
} as const satisfies Partial<Seat>;
