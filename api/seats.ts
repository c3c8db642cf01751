import type { SeatPhone, SeatState } from '../core/estate';
import type { SeatLine } from '../core/seats';

/** Who is at a seat now. Times ISO 8601. */
export interface SeatSitting {
  readonly person: string;
  readonly name: string;
  readonly at: SeatPhone;
  /** The phone in words; a private number is masked where it has to be. */
  readonly phone: string;
  readonly since: string;
  readonly state: SeatState;
  readonly why: string | null;
  /** Signed off once its call has ended. */
  readonly leaving: boolean;
  /** Who is signed on then; null: nobody. */
  readonly next: string | null;
  readonly misses: number;
  readonly calls: number;
  readonly idleSince: string;
  readonly wrapUntil: string | null;
  /** How the phone stands that is to stay connected; null: it is not to. */
  readonly line: SeatLine | null;
}
export interface SeatStatesPage {
  /** By the seat's id; of a seat that nobody is at there is none. */
  readonly seats: Readonly<Record<string, SeatSitting>>;
}
/** A call that was offered to a seat. */
export interface SeatOffered {
  readonly at: string;
  readonly name: string;
  readonly rangMs: number | null;
  readonly end: string;
  readonly talkedMs: number | null;
}
export interface SeatNowPage {
  readonly sitting: SeatSitting | null;
  readonly offered: readonly SeatOffered[];
  readonly hasPassword: boolean;
}
/** The seats that somebody can sign on to from their own page. */
export interface OwnSeats {
  readonly seats: readonly {
    readonly id: string;
    readonly name: string;
    readonly groups: readonly string[];
    readonly takenBy: string | null;
    readonly mine: SeatSitting | null;
    readonly needsPassword: boolean;
  }[];
  readonly phones: readonly { readonly id: string; readonly label: string; readonly number: string | null }[];
}
