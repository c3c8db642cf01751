import type { SettingRef, Arrival, EndpointId, Ms, PersonId, SeatPhone, SeatState } from '../../estate';

export const ENDPOINT_STATES = [
  'ready',
  'unregistered',
  'asleep',
  'off',
  'busy',
  'do-not-disturb',
  'auto-answer',
] as const;
export type EndpointState = (typeof ENDPOINT_STATES)[number];

/** How one endpoint behaves in one call; what is left out is as the estate has it. Times in ms. */
export interface EndpointBehaviour {
  readonly state?: EndpointState;
  readonly setupMs?: Ms;
  readonly answerAfterMs?: Ms | null;
  readonly rejectAfterMs?: Ms | null;
  readonly mailboxAfterMs?: Ms | null;
  readonly offAnswerMs?: Ms;
  /** From the answer to the key that accepts; null: never. */
  readonly pressAfterMs?: Ms | null;
  readonly refuseAfterMs?: Ms | null;
}

export interface Press {
  readonly key: string;
  readonly afterMs: Ms;
}

/** Who is signed on to a seat, at which phone, and how it stands; what is left out: nobody, `signed-off`, 0. */
export interface SeatInCall {
  readonly person?: PersonId;
  readonly at?: SeatPhone;
  readonly state?: SeatState;
  /** How many calls it has. */
  readonly calls?: number;
  readonly idleMs?: Ms;
}

/** How everything behaves in one call. */
export interface World {
  readonly endpoints?: Readonly<Record<EndpointId, EndpointBehaviour>>;
  readonly activeCalls?: Readonly<Record<PersonId, number>>;
  readonly trunkUse?: Readonly<Record<string, number>>;
  /** By menu id, or `offer` for all offers. */
  readonly presses?: Readonly<Record<string, Press>>;
  readonly code?: { readonly digits: string; readonly afterMs: Ms };
  readonly groupLast?: Readonly<Record<string, number>>;
  readonly idleMs?: Readonly<Record<string, Ms>>;
  /** By the id of the seat. */
  readonly seats?: Readonly<Record<string, SeatInCall>>;
}

export interface Call {
  /** E.164, an extension, or null for a withheld number. */
  readonly from: string | null;
  /** An extension or an E.164 number of the organisation. */
  readonly to: string;
  /** ISO 8601 with offset. */
  readonly at: string;
  readonly arrival?: Arrival;
  /** null: the caller waits for ever. */
  readonly patienceMs?: Ms | null;
  readonly world?: World;
}

export type FailureWord =
  | 'bad-number'
  | 'not-permitted'
  | 'no-route'
  | 'no-channel'
  | 'unregistered'
  | 'unreachable'
  | 'busy'
  | 'do-not-disturb'
  | 'rejected'
  | 'given-up'
  | 'before-guard';

export type LegEnd =
  | FailureWord
  | 'refused'
  | 'not-confirmed'
  | 'no-answer'
  | 'answered-elsewhere'
  | 'caller-gone'
  | 'connected';

/** All of them, for what is read from outside. */
export const LEG_ENDS: readonly LegEnd[] = Object.keys({
  'bad-number': 0,
  'not-permitted': 0,
  'no-route': 0,
  'no-channel': 0,
  unregistered: 0,
  unreachable: 0,
  busy: 0,
  'do-not-disturb': 0,
  rejected: 0,
  'given-up': 0,
  'before-guard': 0,
  refused: 0,
  'not-confirmed': 0,
  'no-answer': 0,
  'answered-elsewhere': 0,
  'caller-gone': 0,
  connected: 0,
} satisfies Record<LegEnd, 0>) as LegEnd[];

/** Ends of legs that were never dialled. */
export const NOT_DIALLED_ENDS: readonly LegEnd[] = [
  'bad-number',
  'not-permitted',
  'no-route',
  'no-channel',
  'unregistered',
];

export interface Leg {
  /** An endpoint's id; the number or URI itself where an ending names one. */
  readonly endpoint: string;
  readonly dialledMs: Ms;
  readonly alertMs: Ms | null;
  readonly endMs: Ms;
  readonly end: LegEnd;
}

export type Outcome =
  | {
      readonly kind: 'answered' | 'carrier-voicemail';
      readonly atMs: Ms;
      readonly endpoint: string;
      readonly person?: PersonId;
    }
  | { readonly kind: 'mailbox'; readonly atMs: Ms; readonly person: PersonId }
  /** A seat that nobody sits at played something. */
  | { readonly kind: 'played'; readonly atMs: Ms; readonly seat: string }
  | { readonly kind: 'hung-up'; readonly atMs: Ms; readonly message: string }
  | { readonly kind: 'abandoned' | 'unanswered'; readonly atMs: Ms }
  | { readonly kind: 'loop'; readonly atMs: Ms; readonly person?: PersonId }
  | { readonly kind: 'failed'; readonly atMs: Ms; readonly reason: string };
export type OutcomeKind = Outcome['kind'];
/** Outcomes in which nobody of the organisation has the call, and nobody will hear of it. */
const LOST_KINDS: readonly OutcomeKind[] = ['carrier-voicemail', 'loop', 'failed', 'unanswered'];
export const isLost = (kind: OutcomeKind): boolean => LOST_KINDS.includes(kind);

export const OUTCOME_KINDS: readonly OutcomeKind[] = [
  'answered',
  'mailbox',
  'played',
  'carrier-voicemail',
  'hung-up',
  'abandoned',
  'unanswered',
  'loop',
  'failed',
];

export type PathStep =
  | { readonly person: PersonId; readonly rule: string }
  | { readonly group: string }
  | { readonly menu: string; readonly rule: string };

export type CallEventKind =
  | 'arrives'
  | 'rule'
  | 'group'
  | 'menu'
  | 'stage'
  | 'skipped'
  | 'record-name'
  | 'dialled'
  | 'not-dialled'
  | 'alerting'
  | 'answered'
  | 'voicemail'
  | 'accepted'
  | 'leg-ended'
  | 'stage-ended'
  | 'offer'
  | 'pressed'
  | 'code'
  | 'queue'
  | 'ending'
  | 'outcome';

/** One step of a call, with a sentence that says why and names the setting behind it. */
export interface CallEvent {
  readonly atMs: Ms;
  readonly kind: CallEventKind;
  readonly text: string;
  readonly endpoint?: string;
  readonly person?: PersonId;
  /** Where the setting stands that decided this step, as a path in the estate by ids. */
  readonly setting?: SettingRef;
  /** Of what is left out: the reason by itself, as it stands in the sentence. */
  readonly why?: string;
}

export interface Trace {
  readonly outcome: Outcome;
  readonly legs: readonly Leg[];
  readonly events: readonly CallEvent[];
  readonly path: readonly PathStep[];
  readonly trunkMs: Ms;
}
