import type { OutcomeKind } from '../core/calls/engine';
import type { WayToCall } from '../core/calls/out';
import type { Strip } from '../core/calls/views';
import type { LegBeside } from '../core/records';
import type { ImportFound } from './call-imports';

/** Whether a call went as the estate of then has it; `unsure`: not enough is known of it. */
export const WENT = ['planned', 'otherwise', 'unsure'] as const;
export type Went = (typeof WENT)[number];

/** A call that went, as it is listed. Times in ms from its beginning. */
export interface CallRow {
  readonly id: string;
  /** By which it is found. */
  readonly key: string;
  /** null: not looked at yet */
  readonly went: Went | null;
  readonly isImported: boolean;
  /** ISO 8601 */
  readonly at: string;
  /** null: withheld */
  readonly from: string | null;
  readonly to: string;
  /** Who or what was called; null: nobody of the organisation. */
  readonly toName: string | null;
  readonly outcome: OutcomeKind;
  readonly atMs: number;
  readonly talkMs: number;
  readonly answeredBy: string | null;
  readonly legs: readonly {
    readonly name: string;
    readonly dialledMs: number;
    readonly alertMs: number | null;
    readonly endMs: number;
    /** How it ended, in words. */
    readonly end: string;
  }[];
}
export interface CallsPage {
  readonly calls: readonly CallRow[];
  /** The key of the call to go on after; null: these were the last. */
  readonly next: string | null;
}

/** A call as it went beside the same call as it should have gone. */
export interface CallExplained {
  readonly call: CallRow;
  readonly went: Went;
  /** The verdict, in one sentence. */
  readonly says: string;
  /** What explains the difference by itself; null: there is none, or nothing does. */
  readonly reason: string | null;
  /** What else is known of then: how long a status lasted, since when the plan was so. */
  readonly then: readonly string[];
  readonly legs: readonly { readonly how: LegBeside['how']; readonly says: string }[];
  /** Phones of whoever was called that did not ring, and why, where it went as planned. */
  readonly silent: readonly { readonly endpoint: string; readonly name: string; readonly why: string }[];
  readonly wentStrip: Strip;
  readonly plannedStrip: Strip;
  /** The setting that decides, as a link of the screens takes it; null: none. */
  readonly person: string | null;
  /** How many of its messages are kept, where it is asked about by itself. */
  readonly messages?: number;
}
/** Calls around a moment to one person, each with its verdict. */
export interface CallsAround {
  readonly calls: readonly CallExplained[];
  /** Whether there were more. */
  readonly isMore: boolean;
}

/** A call that is going on now. */
export interface CallGoing {
  readonly id: string;
  readonly at: string;
  readonly from: string | null;
  readonly to: string;
  readonly toName: string | null;
  readonly forMs: number;
  /** How long they have talked; null: nobody has answered yet. */
  readonly talkMs: number | null;
  /** Where it rings, or who has it, in words; null: nowhere. */
  readonly where: string | null;
  /** By what it goes: whose rule, or that it is a call out that was asked for. */
  readonly rule: string | null;
  /** Set for a call out over an access number, after a code, or that calls somebody back. */
  readonly step?: 'asks' | 'rings-own' | 'rings' | 'talks';
}

/** A file of calls that is being taken in, or was. */
export interface CallImport {
  readonly id: number;
  readonly name: string;
  readonly who: string;
  readonly at: string;
  readonly state: 'sending' | 'looking' | 'looked' | 'taking' | 'stopped' | 'taken' | 'failed' | 'removed';
  readonly bytes: number;
  /** Rows gone through, and calls written, so far. */
  readonly rows: number;
  readonly calls: number;
  /** Calls that were not there before. */
  readonly added: number;
  /** null: the file was not looked through yet. */
  readonly found: Omit<ImportFound, 'sample'> | null;
  readonly sample: readonly CallRow[];
}

/** How a number can be called as the organisation, by whoever asks. */
export interface CallingPage {
  /** As it was read; null: none was typed. */
  readonly number: string | null;
  /** The best first. */
  readonly ways: readonly WayToCall[];
  /** Of the prices; null: there is no tariff. */
  readonly currency: string | null;
  readonly open: readonly {
    readonly id: string;
    /** null: it is asked for at the phone. */
    readonly number: string | null;
    readonly step: 'rings-you' | 'asks-key' | 'asks-number' | 'calls-them' | 'talks' | 'over';
    readonly why: string | null;
  }[];
}

/** A call to an access number, as it is asked about or tried. */
export interface AccessAsked {
  /** E.164; null: withheld. */
  readonly from: string | null;
  /** The carrier has verified it. */
  readonly isVerified?: boolean;
  /** Hung up before the answer. */
  readonly hangsUp?: boolean;
  /** What is typed, one after the other. */
  readonly typed?: readonly string[];
}

/** What comes of a call to an access number, as it is computed. */
export interface AccessPrediction {
  /** What is said there, in order. */
  readonly says: readonly string[];
  /** What is called in the end, and which number it sees; null: nothing. */
  readonly calls: { readonly number: string; readonly shows: string | null } | null;
  /** What it rests on. */
  readonly note: string | null;
}

/** The same, tried over real SIP. */
export interface AccessTry extends AccessPrediction {
  readonly isAsPredicted: boolean;
}
