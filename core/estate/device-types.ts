import type { DeskPromise } from './desk-types';
import type { Civic } from './civic-types';
import type { NatMethod, PathSettings, SipAlg, SiteNetwork } from './network-types';

export const SITE_KINDS = ['office', 'branch', 'home'] as const;
export type SiteKind = (typeof SITE_KINDS)[number];

/** A place where phones stand. */
export interface Site {
  readonly id: string;
  readonly name: string;
  readonly kind: SiteKind;
  /** Told to those who come in an emergency. */
  readonly address?: string;
  /** Its address as it is sent in an emergency (RFC 5139); `address` is for reading. */
  readonly civic?: Civic;
  /** The trunk that reaches the emergency services of its place; left out: any. */
  readonly emergencyTrunk?: string;
  /** Ranges of its own outside addresses (RFC 4632). */
  readonly addressRanges?: readonly string[];
  /** IANA name; left out: the organisation's. */
  readonly timeZone?: string;
  /** What its router does to SIP; left out: nothing. */
  readonly sipAlg?: SipAlg;
  /** Whether its outside address stays the same; left out: it does not. */
  readonly stableAddress?: boolean;
  /** Its phones reach the phone system through one of them. */
  readonly relay?: {
    /** The device that relays. */
    readonly device: string;
    /** Whether it stays on when everybody has gone home. */
    readonly alwaysOn: boolean;
  };
  /** What stands between it and the internet; left out: not known. */
  readonly network?: SiteNetwork;
  /** Its line as it was measured; left out: it was not. */
  readonly line?: SiteLine;
  /** What is held about its shared desks. */
  readonly deskPromises?: readonly DeskPromise[];
}

/** A line as it was measured, one way. */
export interface SiteLine {
  /** When, ISO 8601. */
  readonly at: string;
  /** Mean, ms. */
  readonly delayMs: number;
  /** Standard deviation, ms. */
  readonly jitterMs: number;
  /** Percent. */
  readonly lossPercent: number;
  /** Mean length of a run of lost packets; left out: 1. */
  readonly burst?: number;
}

export const KEY_USES = ['line', 'watch', 'call', 'twinning', 'sign-on'] as const;
export type KeyUse = (typeof KEY_USES)[number];

/** What a key of a phone is for. */
export interface PhoneKey {
  /** Which of the phone's keys, from 1. */
  readonly at: number;
  readonly use: KeyUse;
  /** `line`: an extension of whose phone it is. */
  readonly extension?: string;
  /** `watch`: the colleague whose state its lamp shows, and who is called by it. */
  readonly person?: string;
  /** `call`: what is dialled. */
  readonly number?: string;
  /** What stands beside it; left out: what it is for says it. */
  readonly label?: string;
}

/** One telephone, as a thing: what it is, where it stands and what runs on it. */
export interface Device {
  readonly id: string;
  readonly name: string;
  /** A model of the catalogue. */
  readonly model: string;
  /** EUI-48 as twelve hexadecimal digits in capitals, without separators. */
  readonly macAddress?: string;
  /** The endpoint it is used as; left out: none yet. */
  readonly endpoint?: string;
  readonly site?: string;
  /** What it runs, as numbers with dots; left out: not known. */
  readonly firmware?: string;
  /** Whether the password it came with has been changed. */
  readonly passwordChanged?: boolean;
  /** How it gets to the phone system from outside; left out: it stands inside. */
  readonly natMethod?: NatMethod;
  /** Whether the phone system lets it in from outside. */
  readonly remoteRegistration?: boolean;
  /** How its keys are laid out, where that is done from here; keys that are not named do nothing. */
  readonly keys?: readonly PhoneKey[];
  /** Of a shared desk: who is signed on, and since when (ISO 8601 with offset). */
  readonly signedOn?: { readonly person: string; readonly since: string };
  /** How it gets out of its site's network. */
  readonly path?: PathSettings;
}
