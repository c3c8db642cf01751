import type { CodeAct, E164, Ms, Server } from '../../core/estate';
import type { CallEnd } from '../../core/rounds';
import type { CallRecord } from '../../core/records';
import type { Call, EstateIndex, Trace } from '../../core/calls/engine';
import type { SeatLine } from '../../core/seats';
import type { MessagesWaiting, SipRequest } from '../../core/wire/sip';
import type { Carried, SipNode } from '../sip/node';
import type { Clock } from '../sip/clock';
import type { Peer, TransportOptions } from '../sip/transport';
import type { Pins } from './confirm';
import type { HeldPhones, HeldWish } from './held-types';
import type { Mailboxes } from './mailboxes';
import type { Binding, RegistrarEvent } from './registrar';
import type { WaitingLines } from './waiting';

/** How a server treats a phone that stands behind routers (`core/network`, servers). */
export interface ServerManner extends Pick<Server, 'contactFromSource' | 'latches' | 'ice' | 'mediaPort'> {
  /** What it says of its own address. */
  readonly writes: string;
  /** Where its sound is; left out: at its own address. */
  readonly soundAt?: string;
  /** Calls that can be there at once, at every second port from that of its sound on; left out: one. */
  readonly soundPorts?: number;
}

/** Who may register or place calls. */
export interface SystemAccount {
  readonly user: string;
  readonly password: string;
  /** The endpoint that registers with it; null for a trunk, over which calls from outside come. */
  readonly endpoint: string | null;
  /** The shared desk whose phone it is. */
  readonly desk?: string;
}

/** What happened in the system, for whoever watches it. */
export type SystemEvent =
  | { readonly kind: 'registration'; readonly event: RegistrarEvent }
  | {
      readonly kind: 'call-began';
      readonly id: string;
      readonly call: Call;
      readonly by: string;
      /** ms since 1970. */
      readonly startMs: number;
    }
  | { readonly kind: 'call-went-on'; readonly id: string; readonly trace: Trace; readonly atMs: Ms }
  | { readonly kind: 'call-settled'; readonly id: string; readonly trace: Trace }
  | { readonly kind: 'call-over'; readonly id: string; readonly sound: SoundHeard }
  /** How far a call out has come that the plans of nobody steer; null: it is over. */
  | { readonly kind: 'call-out'; readonly id: string; readonly at: CallOutAt | null }
  | { readonly kind: 'call-ladder'; readonly ladder: CallLadder }
  /** How the phone of a seat stands that is to stay connected; null: it is not to any more. */
  | { readonly kind: 'seat-held'; readonly seat: string; readonly at: SeatLine | null }
  /** Somebody’s mailbox has more or fewer messages than before. */
  | { readonly kind: 'messages-waiting'; readonly person: string; readonly waiting: MessagesWaiting };

/** A call out over an access number or after a code, or a call back, as far as it has come. Times in ms since 1970. */
export interface CallOutAt {
  readonly by: 'access' | 'code' | 'back';
  /** Who calls: the extension, where it is known; else the number that they call from, if it is not withheld. */
  readonly from: string | null;
  readonly to: string;
  readonly startMs: number;
  /** `asks`: something is to be typed; `rings-own`: the caller's own mobile rings. */
  readonly step: 'asks' | 'rings-own' | 'rings' | 'talks';
  /** When the two began to talk; null: they do not yet. */
  readonly talksMs: number | null;
}

/** The messages of a call over all its legs, as the phone system sent or got them. */
export interface CallLadder {
  readonly id: string;
  /** When its record says that it began, ms since 1970. */
  readonly startMs: number;
  /** Times in ms from its beginning: what came before it was taken a little less than 0. */
  readonly messages: readonly Carried[];
}

/** How many packets of sound came from either side while they were connected. */
export interface SoundHeard {
  readonly fromCaller: number;
  readonly fromCalled: number;
}

/** One call that the system has taken. */
export interface LiveCall {
  readonly id: string;
  /** Whether a BYE belongs to this call; if so it has been dealt with. */
  readonly takesBye: (bye: SipRequest, from: Peer) => boolean;
  /** Does what tells a side that the call is over, once its record is kept; left out: at once. */
  readonly afterKept?: (then: () => void) => void;
  readonly close: () => void;
}

/** What is said to whoever dialled a code; if something is asked, they type it and end with `#`. */
export interface CodeReply {
  readonly says: string;
  readonly asks: boolean;
  /** What is played after it, as µ-law; heard to its end, more is said. */
  readonly plays?: { readonly muLaw: Uint8Array; readonly onHeard: () => void };
  /** The number that is called then, for whoever typed it. */
  readonly dials?: DialOut;
  /** The extension that is called then. */
  readonly dialsIn?: CallIn;
}

/** A call inside, for somebody who rang in from outside. */
export interface CallIn {
  /** Their extension; null: they have none. */
  readonly from: string | null;
  readonly to: string;
}

/** A call out to the public network for somebody of the organisation. */
export interface DialOut {
  readonly person: string;
  /** Who calls, as records have it. */
  readonly extension: string;
  readonly number: E164;
  /** The number that is shown; null: there is none. */
  readonly callerId: E164 | null;
  readonly isWithheld: boolean;
  /** How long they may talk; null: as long as they like. */
  readonly mostMs: Ms | null;
}

/** A call that came to an access number, and what has been typed there. */
export interface AccessCalled {
  /** The call, of which what was typed before is known. */
  readonly call: string;
  readonly access: string;
  readonly from: string | null;
  readonly isVerified: boolean;
  /** What was typed last; null: nothing yet. */
  readonly typed: string | null;
}

/** What is sent with an emergency call: the number to call back, and the place of the phone as PIDF-LO. */
export interface EmergencyAnswer {
  readonly callerId: E164 | null;
  readonly pidf: string | null;
}

/** A code that was dialled at a phone of the organisation. */
export interface CodeDialled {
  /** The call by which it was. */
  readonly call: string;
  readonly endpoint: string;
  /** The shared desk whose phone it is. */
  readonly desk?: string;
  readonly code: string;
  /** Messages are played by the phone system itself. */
  readonly act: Exclude<CodeAct, 'messages'>;
  /** What was typed, one for each question. */
  readonly typed: readonly string[];
}

export interface SystemOptions extends Pick<
  TransportOptions,
  'address' | 'port' | 'tlsPort' | 'transports' | 'tls'
> {
  readonly realm?: string;
  /** The estate by which calls are steered, as it is when a call arrives. */
  readonly estate: () => EstateIndex;
  readonly account: (user: string) => SystemAccount | null;
  /** The user names under which an endpoint may be registered. */
  readonly userOf: (endpoint: string) => string;
  /** Where calls to public numbers go; null: nowhere. */
  readonly carrier: Peer | null;
  readonly clock: Clock;
  /** The moment that a call which arrives now is taken to arrive at, ISO 8601 with offset. */
  readonly at: () => string;
  /** Calls from inside come by the trunk too, as where one call alone is tried; left out: who shows an extension there is nobody. */
  readonly insideByTrunk?: boolean;
  /** How calls are taken to come; left out: direct. */
  readonly arrival?: Call['arrival'];
  /** What stands around every call besides the calls of this system itself. */
  readonly world?: Call['world'];
  /** Who is at which seat as a call arrives; left out: nobody. */
  readonly seats?: () => NonNullable<Call['world']>['seats'];
  /** The sound of a recording that a seat plays, as µ-law; left out, or null: it is said by its name. */
  readonly soundOf?: (recording: string) => Uint8Array | null;
  /** How it treats the phone of an account that stands behind routers; null, or left out: as one at the machine. */
  readonly mannerTo?: (user: string) => ServerManner | null;
  /** Whether it answers where a request came from, whatever that says: always, or to some. */
  readonly answersToSource?: boolean | ((from: Peer) => boolean);
  /** Wakes the app behind a push id, as a push service would. */
  readonly wake?: (pushId: string) => void;
  /** Who knows the PINs by which people take calls; left out: none is asked for. */
  readonly pins?: Pins;
  /** Does what one of the organisation's codes is for; left out: codes are numbers like others. */
  readonly onCode?: (dialled: CodeDialled) => Promise<CodeReply>;
  /** Says what is asked next of a call to an access number; left out: they are numbers like others. */
  readonly onAccess?: (called: AccessCalled) => Promise<CodeReply>;
  /** Somebody hung up at an access number before it was answered. */
  readonly onAccessHungUp?: (called: Omit<AccessCalled, 'typed'>) => void;
  /** Where emergency calls go, and what is known of a phone that places one; left out: they are numbers like others. */
  readonly emergency?: {
    readonly desk: Peer;
    readonly known: (endpoint: string) => Promise<EmergencyAnswer>;
  };
  readonly onEvent?: (event: SystemEvent) => void;
  /** Keeps the record of a call; its end is told to nobody before that. Left out: no records are kept. */
  readonly keep?: (record: CallRecord) => Promise<void>;
  readonly onCarried?: (carried: Carried) => void;
  /** Told how many requests were put off of late, for more came than could be answered in time. */
  readonly onShed?: (times: number) => void;
  readonly log?: (line: string) => void;
  readonly mostCalls?: number;
  readonly mostTransactions?: number;
}

/** A call of a round: one number that is to hear a recording. */
export interface RoundCall {
  readonly id: string;
  readonly number: E164;
  /** The number that is shown; null: it is withheld. */
  readonly callerId: E164 | null;
  readonly ringMs: Ms;
  /** Channels of its trunk that are kept free for people. */
  readonly keepFree: number;
  /** The recording, as µ-law. */
  readonly muLaw: Uint8Array;
  /** What keys besides 1 and 9 play, as µ-law; null: the recording again. */
  readonly keys?: Readonly<Record<string, Uint8Array | null>>;
}
export interface RoundCallEnded {
  readonly end: CallEnd;
  /** The keys that played something, in their order; left out: none. */
  readonly keys?: string;
  /** How much of the recording was played last, in ms. */
  readonly playedMs: Ms;
}

/** Somebody is called back at their own mobile, and then connected with a number. */
export interface CallBack {
  readonly id: string;
  readonly person: string;
  /** Who calls, as records have it. */
  readonly extension: string;
  readonly endpoint: string;
  readonly mobile: E164;
  /** null: it is asked for at the mobile, as the access number that was rung does. */
  readonly number: E164 | null;
  readonly access?: string;
  /** The number that both sides see; null: there is none. */
  readonly callerId: E164 | null;
  /** The one that is called does not see it, for this call. */
  readonly isWithheld: boolean;
  /** How long they may talk; null: as long as they like. */
  readonly mostMs: Ms | null;
}
export type CallBackStep = 'rings-you' | 'asks-key' | 'asks-number' | 'calls-them' | 'talks' | 'over';
export interface CallBackAt {
  readonly step: CallBackStep;
  /** Why it ended; null: it has not, or both have talked. */
  readonly why: string | null;
}

/** The stand-in phone system. */
export interface PhoneSystem {
  readonly node: SipNode;
  readonly bindings: (endpoint: string) => readonly Binding[];
  readonly allBindings: () => readonly Binding[];
  readonly callsInProgress: () => number;
  /** Calls somebody back at their own mobile. @param onStep told of each step, `over` once */
  readonly callBack: (order: CallBack, onStep: (at: CallBackAt) => void) => void;
  /** Places a call of a round. @param onEnd told once how it ended */
  readonly callListed: (order: RoundCall, onEnd: (ended: RoundCallEnded) => void) => void;
  /** Takes a user's registrations away, as when a password was changed. */
  readonly forget: (user: string) => void;
  /** Tells the devices of an endpoint that their settings have changed. */
  readonly notifyProfile: (endpoint: string) => void;
  /** Tells the phones whose mailbox is another than it was: after somebody signed on or off at one. */
  readonly tellMessages: () => void;
  /** Keeps the phones outside of those at seats connected. */
  readonly holdPhones: (wishes: readonly HeldWish[]) => void;
  readonly close: () => Promise<void>;
}

/** What a call needs of the system around it. */
export interface CallHost {
  readonly options: SystemOptions;
  readonly index: EstateIndex;
  readonly node: SipNode;
  readonly bindingsOf: (endpoint: string) => readonly Binding[];
  /** Resolves when an app that was woken has registered again. */
  readonly woken: (binding: Binding) => Promise<void>;
  readonly channels: Map<string, number>;
  readonly active: Map<string, number>;
  readonly groupLast: Map<string, number>;
  readonly waiting: WaitingLines;
  readonly mailboxes: Mailboxes;
  readonly held: HeldPhones;
  readonly tell: (event: SystemEvent) => void;
  /** The Call-ID of a leg that is about to be called. */
  readonly onLeg: (callId: string) => void;
}
