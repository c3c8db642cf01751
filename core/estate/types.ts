/**
 * The estate: what one organisation has, as the open file `hostler-estate/1` defines it.
 * These types describe the file as it is written; a field marked optional may be left out and then has the
 * value that `defaults.ts` gives. All durations are whole milliseconds, all numbers E.164 with a leading `+`.
 */
import type { Confirm } from './confirm';
import type { SaidPlace } from './civic-types';
import type { AccessNumber, DayLimit, Screening, Showing } from './access-types';
import type { Desk, RosterEntry } from './desk-types';
import type { Device, Site } from './device-types';
import type { AppPath, ServerFile } from './network-types';
import type { Dialling, Settings } from './organisation-types';
import type { Seat } from './seat-types';
import type { KeptRouteTable } from './table-types';
import type { E164, Ms, ScheduleTest } from './units';

export type { E164, Ms, ScheduleTest } from './units';

export type PersonId = string;
export type EndpointId = string;
export type ScheduleId = string;
export type TemplateId = string;

export const NUMBER_CLASSES = [
  'local',
  'national',
  'mobile',
  'toll-free',
  'premium',
  'international',
] as const;
export type NumberClass = (typeof NUMBER_CLASSES)[number];

export const ENDPOINT_KINDS = [
  'desk',
  'desktop-app',
  'mobile-app',
  'remote-desk',
  'hot-desk',
  'mobile',
  'landline',
  'sip',
] as const;
export type EndpointKind = (typeof ENDPOINT_KINDS)[number];

export const WEEKDAYS = ['mon', 'tue', 'wed', 'thu', 'fri', 'sat', 'sun'] as const;
export type Weekday = (typeof WEEKDAYS)[number];

export const ARRIVALS = ['direct', 'menu', 'group', 'forwarded'] as const;
export type Arrival = (typeof ARRIVALS)[number];

export { CONFIRMS, type Confirm } from './confirm';

export const CALLER_CLASSES = ['internal', 'external', 'anonymous', 'listed'] as const;
export type CallerClass = (typeof CALLER_CLASSES)[number];

export const GROUP_MODES = ['simultaneous', 'linear', 'circular', 'longest-idle', 'by-rank'] as const;
export type GroupMode = (typeof GROUP_MODES)[number];

export interface Permission {
  readonly id: string;
  readonly name: string;
  readonly allow: readonly NumberClass[];
  readonly allowPrefixes?: readonly string[];
  readonly denyPrefixes?: readonly string[];
  /** How much whoever has it may call a day; left out: as much as they like. */
  readonly dayLimit?: DayLimit;
}

export interface Trunk {
  readonly id: string;
  readonly name: string;
  readonly channels: number;
  readonly carries: readonly NumberClass[];
  /** Left out: its carrier lets every number show. */
  readonly screening?: Screening;
}

export interface WeeklySpan {
  readonly days: readonly Weekday[];
  /** "HH:MM", half open; `to` at or before `from` runs past midnight. */
  readonly from: string;
  readonly to: string;
}

export interface OpenSpan {
  /** "YYYY-MM-DD" */
  readonly date: string;
  readonly from: string;
  readonly to: string;
}

export interface Schedule {
  readonly id: ScheduleId;
  readonly name: string;
  readonly timeZone: string;
  readonly weekly: readonly WeeklySpan[];
  readonly closed?: readonly string[];
  readonly open?: readonly OpenSpan[];
}

export interface Status {
  readonly id: string;
  readonly name: string;
}

export interface CallerTest {
  readonly class: CallerClass;
  /** E.164 prefixes or extensions, for `listed`. */
  readonly numbers?: readonly string[];
}

export interface When {
  readonly status?: readonly string[];
  readonly schedule?: ScheduleTest;
  readonly line?: readonly string[];
  readonly caller?: CallerTest;
  readonly arrival?: readonly Arrival[];
}

/** Where a colleague's plan, mailbox or phone gets calls that are not theirs. */
export interface Agreed {
  /** The date ("YYYY-MM-DD") on which the colleague agreed. */
  readonly agreedOn?: string;
}
export type SimpleEnding =
  | ({ readonly kind: 'mailbox'; readonly person?: PersonId } & Agreed)
  | ({ readonly kind: 'person'; readonly person: PersonId } & Agreed)
  | ({ readonly kind: 'endpoint'; readonly endpoint: EndpointId; readonly present?: string } & Agreed)
  | { readonly kind: 'number'; readonly number: E164; readonly present?: string }
  | { readonly kind: 'sip'; readonly uri: string }
  | { readonly kind: 'group'; readonly group: string }
  | { readonly kind: 'menu'; readonly menu: string }
  | { readonly kind: 'hang-up'; readonly message: string };
export type QueueEnding = { readonly kind: 'queue'; readonly maxMs: Ms; readonly then: SimpleEnding };
/** What happens when the stages are through. A queue stands only where a Treatment or a Group ends. */
export type Ending = SimpleEnding | QueueEnding;

export interface RingTarget {
  readonly endpoint: EndpointId;
  readonly enabled?: boolean;
  /** Off because the whole phone was switched off: switched on again, it rings where it rang before. */
  readonly switchedOff?: boolean;
  readonly delayMs?: Ms;
  /** The guard: an answer sooner than this after dialling does not count. */
  readonly acceptAfterMs?: Ms;
  readonly giveUpAfterMs?: Ms | null;
  readonly confirm?: Confirm;
  /** `caller` or an E.164 of the organisation. */
  readonly present?: string;
  readonly arrivals?: readonly Arrival[];
  readonly schedule?: ScheduleTest;
  readonly whileRegistered?: EndpointId;
  readonly unlessRegistered?: EndpointId;
  /** A softphone rings only where the line of its site was measured at this MOS or better; one never measured rings. */
  readonly onlyQuality?: number;
  /** The date ("YYYY-MM-DD") on which a colleague agreed that their phone rings here. */
  readonly agreedOn?: string;
}

export interface Choice<E> {
  readonly key: string;
  readonly then: E;
}

export interface RingStage {
  readonly ring: readonly RingTarget[];
  readonly forMs: Ms;
}
/** What a greeting tells the caller that a key does. */
export interface GreetingKey {
  readonly key: string;
  readonly leads: SaidLead;
  /** The person, group or menu that is named. */
  readonly whom?: string;
}
export const SAID_LEADS = ['find-me', 'mailbox', 'person', 'group', 'menu', 'number', 'hang-up'] as const;
export type SaidLead = (typeof SAID_LEADS)[number];
/** A greeting as it is recorded: what it says, for comparing with what happens. */
export interface Greeting {
  readonly text?: string;
  readonly says: readonly GreetingKey[];
}
export interface OfferStage {
  readonly offer: {
    readonly greeting?: Greeting;
    readonly greetingMs: Ms;
    readonly waitMs: Ms;
    readonly choices: readonly Choice<'next' | SimpleEnding>[];
  };
}
export interface CodeStage {
  readonly code: { readonly digits: string; readonly withinMs: Ms; readonly wrong: SimpleEnding };
}
export type Stage = RingStage | OfferStage | CodeStage;

export interface Treatment {
  readonly stages: readonly Stage[];
  readonly ending: Ending;
  /** Left out: as `ending`. */
  readonly busy?: Ending;
}

export interface Rule extends Treatment {
  readonly id: string;
  readonly name: string;
  readonly when: When;
}

export interface Plan {
  readonly rules: readonly Rule[];
  readonly otherwise: Treatment;
}

export interface Line {
  readonly id: string;
  readonly extension: string;
  readonly numbers: readonly E164[];
  readonly forwardAll?: SimpleEnding | null;
  /** When `forwardAll` ends by itself, ISO 8601 with offset; left out: when somebody ends it. */
  readonly forwardUntil?: string;
  /** What `forwardAll` is from then on. */
  readonly forwardAfter?: SimpleEnding | null;
}

export interface Endpoint {
  readonly id: EndpointId;
  readonly label: string;
  readonly kind: EndpointKind;
  readonly number?: E164;
  readonly afterAnswer?: string;
  readonly uri?: string;
  readonly setupMs?: Ms;
  /** The carrier's voicemail, from alerting; null: none. */
  readonly mailboxAfterMs?: Ms | null;
  /** How soon that voicemail answers, from dialling, when the phone is off or out of coverage. */
  readonly offAnswerMs?: Ms;
  readonly wakes?: boolean;
  readonly wakeMs?: Ms;
  /** Of a mobile or landline: whether a call from its number counts as one of its owner’s, from inside. */
  readonly knownAs?: boolean;
  /** Of a softphone: how it gets through from outside. */
  readonly path?: AppPath;
  /** Of a softphone or a phone outside: where it is, as somebody said. */
  readonly place?: SaidPlace;
}

export interface Mailbox {
  readonly enabled?: boolean;
  readonly copyTo?: readonly PersonId[];
  readonly greeting?: Greeting;
}

export interface Person {
  readonly id: PersonId;
  readonly name: string;
  readonly status: string;
  readonly permission: string;
  readonly maxCalls: number;
  /** The template that the plan was started from and is held against. */
  readonly template?: TemplateId;
  readonly mailbox?: Mailbox;
  readonly lines: readonly Line[];
  readonly endpoints: readonly Endpoint[];
  /** From which of their phones they place calls while they have a status; of statuses that are not named none is chosen. */
  readonly callsFrom?: readonly { readonly status: string; readonly endpoint: EndpointId }[];
  /** When they come to which site, to sit at a shared desk there. */
  readonly roster?: readonly RosterEntry[];
  /** Which number shows on calls that they place as the organisation; left out: their own direct number. */
  readonly showing?: readonly Showing[];
  /** What they read at a phone (RFC 5646), where its model speaks it; left out: the phone’s own language. */
  readonly language?: string;
  readonly plan: Plan;
}

/** A plan to start people from; `template.ts` says how its places are filled with what each has of their own. */
export interface Template {
  readonly id: TemplateId;
  readonly name: string;
  /** Whom it is for. */
  readonly note?: string;
  readonly plan: Plan;
}

/** A seat's rank decides where the group goes by rank: 1 comes first, 9 last; left out: 1. */
export interface SeatMember {
  readonly seat: string;
  readonly rank?: number;
}
export type Member = { readonly person: PersonId } | { readonly endpoint: EndpointId } | SeatMember;

/** The id of whoever a member is. */
export const memberId = (member: Member): string =>
  'person' in member ? member.person : 'endpoint' in member ? member.endpoint : member.seat;

export interface Group {
  readonly id: string;
  readonly name: string;
  readonly extension: string;
  readonly numbers?: readonly E164[];
  readonly mode: GroupMode;
  readonly members: readonly Member[];
  readonly ringMs: Ms;
  readonly permission: string;
  readonly ending: Ending;
}

export interface MenuRule {
  readonly id: string;
  readonly when: Pick<When, 'schedule' | 'caller'>;
  readonly greeting?: Greeting;
  readonly greetingMs: Ms;
  readonly waitMs: Ms;
  readonly choices: readonly Choice<SimpleEnding>[];
  readonly otherwise: SimpleEnding;
}

export interface Menu {
  readonly id: string;
  readonly name: string;
  readonly extension: string;
  readonly numbers?: readonly E164[];
  readonly permission: string;
  readonly rules: readonly MenuRule[];
}

/** A statement that must hold in every case. Times in ms. */
export type ReachPromise =
  | { readonly kind: 'own-mailbox'; readonly withinMs: Ms }
  /** `spread`: how far carriers' times may lie from those of the estate; 0.2 is a fifth less to a fifth more. */
  | { readonly kind: 'no-carrier-voicemail'; readonly spread?: number }
  | { readonly kind: 'no-cut-off'; readonly withinMs: Ms }
  | { readonly kind: 'only-inside'; readonly schedule: ScheduleId }
  | { readonly kind: 'rings-within'; readonly withinMs: Ms }
  | { readonly kind: 'no-silence'; readonly longestMs: Ms }
  | { readonly kind: 'no-loop' }
  | { readonly kind: 'one-lost' }
  | { readonly kind: 'wait-at-most'; readonly longestMs: Ms }
  | { readonly kind: 'may-dial' }
  | { readonly kind: 'no-leaver'; readonly status: string }
  | { readonly kind: 'no-stranger'; readonly allowed: readonly PersonId[] };
export type PromiseKind = ReachPromise['kind'];

/** A promise that is kept an eye on, for everybody or for some. */
export interface KeptPromise {
  readonly id: string;
  readonly promise: ReachPromise;
  /** Left out: everybody. */
  readonly people?: readonly PersonId[];
}

export const ESTATE_FORMAT = 'hostler-estate/1';

export interface Estate {
  readonly format: typeof ESTATE_FORMAT;
  readonly name: string;
  readonly timeZone: string;
  readonly settings?: Settings;
  readonly dialling: Dialling;
  readonly permissions: readonly Permission[];
  readonly trunks: readonly Trunk[];
  readonly schedules: readonly Schedule[];
  readonly statuses: readonly Status[];
  readonly people: readonly Person[];
  readonly groups: readonly Group[];
  readonly menus: readonly Menu[];
  readonly promises?: readonly KeptPromise[];
  readonly templates?: readonly Template[];
  /** Where phones stand, and the phones as things. */
  readonly sites?: readonly Site[];
  readonly devices?: readonly Device[];
  /** The organisation's own: phone system, border controller, STUN, TURN and VPN servers. */
  readonly servers?: readonly ServerFile[];
  /** Shared desks, each with a phone. */
  readonly desks?: readonly Desk[];
  /** Seats of service groups, for whoever is signed on to them. */
  readonly seats?: readonly Seat[];
  /** Numbers that staff ring from outside to call on from there. */
  readonly accessNumbers?: readonly AccessNumber[];
  /** The route table of the systems that are joined; its schedules are those of the estate. */
  readonly routing?: KeptRouteTable;
}

/** Something wrong in an input, with the path of the field (`people[3].lines[0].extension`). */
export interface Fault {
  readonly path: string;
  readonly message: string;
  /** What is wrong, where something is decided by it: never by what the message says. */
  readonly code?: FaultCode;
}
/** `twice`: something that must be one of its kind stands twice. */
export type FaultCode = 'twice';
