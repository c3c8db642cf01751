import type { E164, Estate, Ms, Person, Socket } from '../core/estate';
import type { Call, Trace } from '../core/calls/engine';
import type { PartyNames } from '../core/calls/live';
import type { Network, TriedWay, WayLost } from '../core/network';
import type { SeatOn } from '../core/seats';
import type { MessagesWaiting } from '../core/wire/sip';
import type { LiveResult } from './live';
import type { ProvisioningOrder } from './phones/provisioning';
import type { RelayPlace } from './turn';
import type { Peer, TransportName } from './sip/transport';
import type { EmergencyArrived } from './phones/emergency-desk';
import type {
  AccessCalled,
  CallBack,
  CallBackAt,
  CallLadder,
  CodeDialled,
  CodeReply,
  EmergencyAnswer,
  PinVerdict,
  RoundCall,
  RoundCallEnded,
  SystemEvent,
} from './system';

/** What the stand-in of a phone does, for good, until it is told otherwise. */
export const PHONE_MANNERS = [
  'ready',
  'answers',
  'off',
  'asleep',
  'no-coverage',
  'busy',
  'do-not-disturb',
  'answers-by-itself',
  'wrong-password',
  'old-firmware',
  'bare',
] as const;
export type PhoneManner = (typeof PHONE_MANNERS)[number];

export interface PhoneSetting {
  readonly endpoint: string;
  readonly does: PhoneManner;
  /** From alerting, for one that answers. */
  readonly answerAfterMs: Ms | null;
}

export interface AccountOf {
  readonly user: string;
  /** Of a shared desk’s phone: the phone of whoever is signed on, else the desk’s own, which is nobody’s. */
  readonly endpoint: string | null;
  readonly password: string;
  /** The shared desk whose phone it is. */
  readonly desk?: string;
}

/** One device that is registered, as the server tells it on. Times in ms since 1970. */
export interface Registration {
  readonly user: string;
  readonly endpoint: string | null;
  readonly contact: string;
  readonly from: Peer;
  /** Where its router is seen by the networks of the sites; null: it stands at the machine. */
  readonly seen: Socket | null;
  readonly sinceMs: number;
  readonly refreshedMs: number;
  readonly expiresMs: number;
  readonly roundTripMs: number | null;
  readonly userAgent: string;
  readonly asleep: boolean;
}

export interface LiveOrder {
  readonly id: string;
  readonly call: Call;
  readonly speed: number;
  /** The person called as if with another status. */
  readonly asIf: { readonly person: string; readonly status: string } | null;
}

/** A person's PIN as it was typed at a phone; null: whether one is set at all. */
export interface PinAsked {
  readonly person: string;
  /** The phone where it was typed. */
  readonly at?: string;
  readonly typed: string | null;
}
/** `none`: no PIN is set; `asked`: one is. */
export type PinAnswer = PinVerdict | 'none' | 'asked';

/** What became of an emergency call that was tried. */
export interface EmergencyTried {
  /** What arrived at the emergency desk; null: the call never came there. */
  readonly arrived: EmergencyArrived | null;
  /** The phones that a call back rang; null: there was no number to call back. */
  readonly rang: readonly string[] | null;
}

/** A call to an access number that is tried: by whom, and what is typed. */
export interface AccessOrder {
  readonly number: E164;
  /** null: withheld. */
  readonly from: string | null;
  readonly isVerified: boolean;
  readonly typed: readonly string[];
  /** Hung up before the answer. */
  readonly hangsUp: boolean;
  /** How long the caller lets it ring, and stays once it is answered; left out: until all is typed and heard. */
  readonly stays?: { readonly ringMs: Ms; readonly talkMs: Ms };
}
/** What came of it. */
export interface AccessTried {
  readonly heard: readonly string[];
  /** What was called in the end, and which number that saw; null: nothing. */
  readonly called: { readonly number: string; readonly saw: string | null } | null;
}

/** What a call of a round plays, by the names of recordings. */
export interface RoundSounds {
  readonly message: string;
  /** By key; null: the message again. */
  readonly keys: Readonly<Record<string, string | null>>;
}

/** What the server asks of the stand-ins. */
export type ToStandins =
  | { readonly kind: 'estate'; readonly estate: Estate }
  /** People of the estate who are others now; nothing else of it is. */
  | { readonly kind: 'people'; readonly people: readonly Person[] }
  | { readonly kind: 'accounts'; readonly accounts: readonly AccountOf[] }
  /** Who is at which seat. */
  | { readonly kind: 'seats'; readonly seats: readonly SeatOn[] }
  | { readonly kind: 'phones'; readonly settings: readonly PhoneSetting[] }
  | { readonly kind: 'live'; readonly order: LiveOrder }
  | { readonly kind: 'stop-live'; readonly id: string }
  /** Phones that are to start again, as after their plug was pulled and put back. */
  | { readonly kind: 'restart'; readonly endpoints: readonly string[] }
  /** A phone that is plugged in and sets itself up; and those that have done so before. */
  | { readonly kind: 'plug-in'; readonly order: ProvisioningOrder }
  | { readonly kind: 'self-set'; readonly orders: readonly ProvisioningOrder[] }
  /** Phones that are told that their settings have changed. */
  | { readonly kind: 'notify'; readonly endpoints: readonly string[] }
  | { readonly kind: 'code-reply'; readonly id: string; readonly reply: CodeReply }
  /** A call to an access number, as a try. */
  | { readonly kind: 'access-try'; readonly id: string; readonly order: AccessOrder }
  /** A phone of a network that is tried behind stand-in routers. */
  | { readonly kind: 'way-try'; readonly id: string; readonly network: Network; readonly phone: string }
  | { readonly kind: 'pin-reply'; readonly id: string; readonly answer: PinAnswer }
  | { readonly kind: 'emergency-reply'; readonly id: string; readonly reply: EmergencyAnswer }
  /** An emergency number that is dialled at the stand-in of a phone, as a try. */
  | {
      readonly kind: 'emergency-try';
      readonly id: string;
      readonly endpoint: string;
      readonly number: string;
    }
  /** The recording of a round, which its calls name. */
  | { readonly kind: 'round-sound'; readonly sound: string; readonly muLaw: Uint8Array }
  | {
      readonly kind: 'round-call';
      readonly call: Omit<RoundCall, 'muLaw' | 'keys'>;
      readonly sounds: RoundSounds;
    }
  /** Somebody is called back at their own mobile, then connected with a number. */
  | { readonly kind: 'call-back'; readonly order: CallBack }
  /** A key of a phone that is pressed: what it dials, and what is typed when something is asked. */
  | {
      readonly kind: 'press';
      readonly id: string;
      readonly endpoint: string;
      readonly code: string;
      readonly typed: readonly string[];
    };

/** What the stand-ins tell the server. */
export type FromStandins =
  | {
      readonly kind: 'ready';
      readonly local: Readonly<Record<TransportName, Peer>>;
      readonly realm: string;
      /** The port that was to be used. */
      readonly wanted: number;
    }
  /** The relay stands too: it may be missing where its port cannot be had. */
  | { readonly kind: 'relay'; readonly place: RelayPlace }
  | { readonly kind: 'registered'; readonly registration: Registration }
  | {
      readonly kind: 'unregistered';
      readonly user: string;
      readonly contact: string;
      readonly why: 'removed' | 'expired';
    }
  | { readonly kind: 'refused'; readonly user: string; readonly from: Peer; readonly why: string }
  /** What happens in calls, as the phone system tells it. */
  | Exclude<SystemEvent, { readonly kind: 'registration' | 'call-ladder' }>
  | { readonly kind: 'call-ladder'; readonly ladder: CallLadder; readonly names: PartyNames }
  | { readonly kind: 'live-began'; readonly id: string; readonly predicted: Trace }
  | { readonly kind: 'live-went-on'; readonly id: string; readonly trace: Trace; readonly atMs: Ms }
  | { readonly kind: 'live-done'; readonly id: string; readonly done: LiveResult }
  | { readonly kind: 'live-failed'; readonly id: string; readonly why: string }
  | {
      readonly kind: 'set-itself-up';
      readonly endpoint: string;
      readonly ok: boolean;
      readonly why: string | null;
    }
  | { readonly kind: 'code'; readonly id: string; readonly dialled: CodeDialled }
  /** What is asked next of a call to an access number. */
  | { readonly kind: 'access'; readonly id: string; readonly called: AccessCalled }
  | { readonly kind: 'access-hung-up'; readonly called: Omit<AccessCalled, 'typed'> }
  | { readonly kind: 'access-tried'; readonly id: string; readonly tried: AccessTried | null }
  | { readonly kind: 'way-tried'; readonly id: string; readonly tried: TriedWay | null }
  | { readonly kind: 'pin'; readonly id: string; readonly asked: PinAsked }
  /** What is to be sent with an emergency call from a phone. */
  | { readonly kind: 'emergency'; readonly id: string; readonly endpoint: string }
  | { readonly kind: 'emergency-tried'; readonly id: string; readonly tried: EmergencyTried | null }
  /** What was heard after a key was pressed; null: the phone is not there. */
  | { readonly kind: 'pressed'; readonly id: string; readonly heard: readonly string[] | null }
  /** How far a call back has come. */
  | { readonly kind: 'call-back'; readonly id: string; readonly at: CallBackAt }
  | { readonly kind: 'round-called'; readonly id: string; readonly ended: RoundCallEnded }
  /** The lamp of a phone, as it was told of its mailbox. */
  | { readonly kind: 'lamp'; readonly endpoint: string; readonly waiting: MessagesWaiting }
  | { readonly kind: 'way-lost'; readonly lost: WayLost }
  /** So many requests were put off of late, for more came than could be answered in time. */
  | { readonly kind: 'overloaded'; readonly times: number }
  | { readonly kind: 'log'; readonly line: string };

/** By which name the phone system knows the sound of a recording. */
export const soundName = (recording: string | number): string => `recording ${recording}`;

/** What is said to whoever dialled a code: it is done, or something is to be typed first. */
export const codeTells = (says: string): CodeReply => ({ says, asks: false });
export const codeAsks = (says: string): CodeReply => ({ says, asks: true });
