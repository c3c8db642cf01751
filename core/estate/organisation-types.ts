import type { E164, Ms } from './units';

/** What is watched against toll fraud. */
export interface TollGuard {
  /** Beginnings of E.164 numbers, with `+`, that calls should never reach, beside premium numbers. */
  readonly prefixes: readonly E164[];
  /** How many outside numbers a person may have among their own targets. */
  readonly ownTargets?: number;
}

export interface Settings {
  /** The number that the organisation shows where nobody's own is shown. */
  readonly number?: E164;
  /** One ring and its pause, to turn rings into time. */
  readonly ringMs?: Ms;
  readonly confirmWithinMs?: Ms;
  readonly recordNameMs?: Ms;
  readonly hopLimit?: number;
  readonly move?: Partial<MoveTimes>;
  /** Where softphones register, by where they are; left out: with the stand-in. */
  readonly servers?: { readonly inside?: SipServer; readonly outside?: SipServer };
  readonly fraudProtection?: TollGuard;
  /** How long somebody stays signed on at a shared desk after the end of their shift, s; left out: 900. */
  readonly desks?: { readonly graceS?: number };
}

/** Where a SIP server listens. */
export interface SipServer {
  /** A name or address. */
  readonly host: string;
  readonly port: number;
  readonly transport: 'udp' | 'tcp' | 'tls';
}

/** How calls in progress are moved from phone to phone. */
export interface MoveTimes {
  /** How long a call that was hung up at one phone waits to be taken up at another; 0: it ends. */
  readonly heldMs: Ms;
  /** How long a phone rings that a call is sent to. */
  readonly sendForMs: Ms;
  /** Keys during a call at a phone of the public network: to the desk, and before a number to transfer to. */
  readonly toDesk: string;
  readonly transfer: string;
}

/** What a code of the organisation's makes the phone system do at once, where it is one that does something there. */
export const CODE_ACTS = ['twinning', 'sign-on', 'seat', 'withhold', 'messages'] as const;
export type CodeAct = (typeof CODE_ACTS)[number];
export interface ServiceCode {
  readonly code: string;
  /** In words, for those who dial it. */
  readonly does: string;
  readonly acts?: CodeAct;
}

export interface Dialling {
  /** ISO 3166-1 alpha-2. */
  readonly country: string;
  /** Area codes dialled as local. */
  readonly areaCodes: readonly string[];
  readonly outsideCode: string;
  readonly nationalPrefix: string;
  readonly localWithPrefix?: boolean;
  readonly internationalPrefix: string;
  readonly extensionDigits: number;
  /** Codes of the organisation's own: what is dialled, and what it does. */
  readonly codes?: readonly ServiceCode[];
}
