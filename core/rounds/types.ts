import type { E164 } from '../estate';

/** The keys that play something; 1 and 9 have their meaning in every round. */
export const ROUND_KEYS = ['2', '3', '4', '5', '6', '7', '8', '0'] as const;
/** What a key does while a round's message is heard, or after it. */
export interface RoundKey {
  readonly key: (typeof ROUND_KEYS)[number];
  /** The recording that it plays; null: the message again. */
  readonly play: number | null;
}

/** How a list is called: one recording to everybody on it. */
export interface RoundPlan {
  readonly name: string;
  /** The recording that is played; null: none is chosen yet. */
  readonly recording: number | null;
  /** What keys besides 1 and 9 do; left out: nothing. */
  readonly keys?: readonly RoundKey[];
  /** Calls in progress at most, 1 to 50. */
  readonly atOnce: number;
  /** Times that a number is called at most, 1 to 5. */
  readonly tries: number;
  /** Minutes between two tries of one number. */
  readonly pauseMinutes: number;
  /** Seconds that a phone rings at most. */
  readonly ringS: number;
  /** Hours of the called person's own day, `HH:MM`; both alike: at any hour. */
  readonly hours: { readonly from: string; readonly to: string };
  /** What numbers may be called, by its id. */
  readonly permission: string;
  /** The number that is shown to those called; null: it is withheld. */
  readonly callerId: E164 | null;
  /** Channels of a trunk that are kept free for people. */
  readonly keepFree: number;
}

export const NUMBER_STATES = [
  'waiting',
  'not-allowed-now',
  'calling',
  'heard',
  'voicemail-left',
  'busy',
  'no-answer',
  'refused',
  'bad-number',
  'never-call',
  'unknown',
] as const;
/**
 * How a number of a list stands. `not-allowed-now`: it waits for the hours in which it may be called; `unknown`: it was
 * being called when the phone system or the server ended, and is never called again.
 */
export type NumberState = (typeof NUMBER_STATES)[number];
/** As it is kept: whether the hours allow a call now is looked up whenever it is asked for. */
export type KeptState = Exclude<NumberState, 'not-allowed-now'>;

/** A row of the list as it is taken up. */
export interface ListRow {
  /** Line of the file, from 1. */
  readonly line: number;
  /** As it stands in the file. */
  readonly shown: string;
  readonly number: E164 | null;
  readonly name: string;
  /** IANA zone of the called person; null: none can be told. */
  readonly zone: string | null;
  /** The other columns of the file, by their headings. */
  readonly fields: Readonly<Record<string, string>>;
  readonly state: Extract<KeptState, 'waiting' | 'refused' | 'bad-number' | 'never-call'>;
  /** Why it is not called, in words; empty: it is. */
  readonly why: string;
}

export const CALL_ENDS = [
  'key-1',
  'key-9',
  'listened',
  'voicemail',
  'hung-up',
  'busy',
  'no-answer',
  'rejected',
  'unreachable',
  'no-such-number',
  'no-channel',
  'lost',
] as const;
/**
 * How one call of a round ended. `hung-up`: before the end of the recording; `no-channel`: it was not placed, for every
 * channel was taken; `lost`: nobody knows.
 */
export type CallEnd = (typeof CALL_ENDS)[number];
