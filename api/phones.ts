import type { EndpointKind, Settings, Socket } from '../core/estate';
import type { SoundNotes } from '../core/devices/phones';
import type { Strip } from '../core/calls/views';
import type { Departure } from '../core/calls/live';
import type { WayLost } from '../core/network';

export interface Registration {
  readonly user: string;
  readonly endpoint: string | null;
  readonly contact: string;
  readonly from: { readonly transport: 'udp' | 'tcp' | 'tls'; readonly host: string; readonly port: number };
  /** Where its router is seen by the networks of the sites; null: it stands behind none. */
  readonly seen: Socket | null;
  readonly sinceMs: number;
  readonly refreshedMs: number;
  readonly expiresMs: number;
  readonly roundTripMs: number | null;
  readonly userAgent: string;
  readonly asleep: boolean;
}

export interface LostPhone {
  readonly user: string;
  readonly endpoint: string | null;
  readonly lostMs: number;
  readonly why: 'removed' | 'expired' | 'refused';
  readonly detail: string;
}

export type PhoneDoes =
  | 'ready'
  | 'answers'
  | 'off'
  | 'asleep'
  | 'no-coverage'
  | 'busy'
  | 'do-not-disturb'
  | 'answers-by-itself'
  | 'wrong-password'
  | 'old-firmware'
  | 'bare';

export interface PhoneRow {
  readonly endpoint: string;
  readonly label: string;
  readonly kind: EndpointKind;
  readonly person: string;
  readonly name: string;
  readonly extension: string | null;
  readonly does: PhoneDoes;
  readonly answerAfterMs: number | null;
}

export interface SystemPlace {
  readonly realm: string;
  /** The port that was to be used; another one was taken where it was in use. 0: any. */
  readonly wanted: number;
  readonly address: string;
  readonly udp: number;
  readonly tcp: number;
  readonly tls: number;
}

export interface Phones {
  readonly place: SystemPlace | null;
  readonly registrations: readonly Registration[];
  readonly lost: readonly LostPhone[];
  /** What the routers of phones let go of last. */
  readonly waysLost: readonly WayLost[];
  /** What people have ticked for the apps on their mobiles. */
  readonly checks: readonly { readonly endpoint: string; readonly item: string; readonly doneAt: string }[];
  readonly phones: readonly PhoneRow[];
}

export interface AccountValues {
  readonly user: string;
  readonly server: string | null;
  readonly realm: string | null;
  readonly ports: { readonly udp: number; readonly tcp: number; readonly tls: number } | null;
  readonly password?: string;
  /** Where softphones register by where they are, as the organisation has set it. */
  readonly servers?: NonNullable<Settings['servers']>;
  readonly notes?: SoundNotes;
  /** From which phones their person places calls, as a sentence. */
  readonly placing?: string;
}

/** A try over the stand-ins, as far as it has come. */
export interface LiveView {
  readonly id: string;
  readonly state: 'running' | 'done' | 'failed';
  readonly speed: number;
  readonly why: string | null;
  readonly predicted: Strip;
  readonly seen: Strip | null;
  readonly departures: readonly Departure[] | null;
  readonly toleranceMs: number | null;
  readonly sound: { readonly fromCaller: number; readonly fromCalled: number } | null;
  readonly heard: readonly string[] | null;
  readonly status: number | null;
  readonly messages: number | null;
}

/** When a phone was registered and when no more, the latest first. */
export interface RegistrationHistory {
  readonly changes: readonly {
    readonly at: string;
    readonly state: 'registered' | 'removed' | 'expired' | 'stopped';
    readonly transport: string | null;
  }[];
}

/** What came to a group by the calls that went, over the last days. */
export interface GroupLoadPage {
  readonly days: number;
  readonly calls: number;
  /** Days on which any call came. */
  readonly onDays: number;
  /** Mean talk and mean time until it was answered, s, of those answered; null: none was. */
  readonly talkS: number | null;
  readonly answerS: number | null;
  /** Calls in each half hour of a day, on average of the days on which any came; those without calls are left out. */
  readonly slots: readonly { readonly at: string; readonly calls: number }[];
}
