import type { Ms } from '../../core/estate';
import type { Call, Trace } from '../../core/calls/engine';
import type {
  AccessOrder,
  AccessTried,
  EmergencyTried,
  LiveOrder,
  Registration,
} from '../../standins/messages';
import type { Network, TriedWay, WayLost } from '../../core/network';
import type { SeatLine } from '../../core/seats';
import type { MessagesWaiting } from '../../core/wire/sip';
import type { LiveResult } from '../../standins/live';
import type { PartyNames } from '../../core/calls/live';
import type { CallBack, CallLadder, CallOutAt, RoundCall } from '../../standins/system';
import type { CallBackNow } from './backs';
import type { ListedSounds } from './listed';
import type { RelayPlace } from '../../standins/turn/relay';
import type { ProvisioningOrder } from '../../standins/phones/provisioning';
import type { LostPhone, SystemPlace } from '../../api/phones';

/** A try over the stand-ins, as far as it has come. */
export interface LiveTry {
  readonly id: string;
  readonly who: string;
  readonly call: Call;
  readonly speed: number;
  readonly asIf: LiveOrder['asIf'];
  readonly startedAt: string;
  readonly state: 'running' | 'done' | 'failed';
  readonly predicted: Trace | null;
  readonly seen: Trace | null;
  readonly atMs: Ms;
  readonly done: LiveResult | null;
  readonly why: string | null;
}

export type PhonesEvent =
  | { readonly kind: 'registrations' }
  | { readonly kind: 'live'; readonly live: LiveTry };

/** The server's side of the phone system and its stand-ins. */
export interface Switchboard {
  /** Where the phone system is; null while it does not run. */
  readonly place: () => SystemPlace | null;
  /** Whether this server runs it, not another one of its machine. */
  readonly runsHere: () => boolean;
  /** Where the relay is, with what its credentials are made of; null: there is none. */
  readonly relay: () => RelayPlace | null;
  readonly registrations: () => readonly Registration[];
  readonly lost: () => readonly LostPhone[];
  /** Messages that wait in somebody’s mailbox. */
  readonly waiting: (person: string) => MessagesWaiting;
  /** Whether the lamp of a phone is lit; `desk/ID` for that of a shared desk. */
  readonly isLit: (endpoint: string) => boolean;
  readonly subscribe: (hear: (event: PhonesEvent) => void) => () => void;
  /** What the routers of phones let go of last, one packet a phone. */
  readonly waysLost: () => readonly WayLost[];
  /** Endpoints that have a call now, and `desk/ID` for the phones of shared desks. */
  readonly inCalls: () => ReadonlySet<string>;
  /** How the phone of a seat stands that is to stay connected; null: it is not to. */
  readonly heldAt: (seat: string) => SeatLine | null;
  /** Somebody signed on or off at a seat, or its state changed: the phone system is told soon. */
  readonly seatsChanged: () => void;
  /** Somebody signed on or off at a shared desk: the phone system is told soon. */
  readonly signOnsChanged: () => void;
  /** Reads accounts and phones' settings again and passes them on. */
  readonly refresh: () => Promise<void>;
  /** Has the stand-ins of phones start again. */
  readonly restart: (endpoints: readonly string[]) => void;
  /** Plugs the stand-in of a phone in, which then sets itself up. @returns false: no stand-ins run */
  readonly plugIn: (order: Omit<ProvisioningOrder, 'settings'>) => boolean;
  /** Tells phones that their settings have changed. */
  readonly notify: (endpoints: readonly string[]) => void;
  /** Dials a code at the stand-in of a phone. @returns what was heard there; null: it is not there */
  readonly press: (
    endpoint: string,
    code: string,
    typed: readonly string[],
  ) => Promise<readonly string[] | null>;
  /** Calls somebody back at their mobile. @returns false: the phone system is not up */
  readonly callBack: (order: CallBack) => boolean;
  /** The calls back of a person that go on, or ended of late. */
  readonly callsBack: (person: string) => readonly CallBackNow[];
  /**
   * Places a call of a round; `onListed` is told how it ended.
   * @param sounds the recordings, which are passed on once
   * @returns false: no phone system runs, and nothing was placed
   */
  readonly callListed: (call: Omit<RoundCall, 'muLaw' | 'keys'>, sounds: ListedSounds) => boolean;
  /** Dials an emergency number at the stand-in of a phone. @returns null: it is not there */
  readonly tryEmergency: (endpoint: string, number: string) => Promise<EmergencyTried | null>;
  /** Calls an access number from outside. @returns null: the phone system is not up */
  readonly tryAccess: (order: AccessOrder) => Promise<AccessTried | null>;
  /** Tries a phone of a network behind stand-in routers; null: it could not be. */
  readonly tryWay: (network: Network, phone: string) => Promise<TriedWay | null>;
  readonly startTry: (who: string, order: Omit<LiveOrder, 'id'>) => Promise<LiveTry | null>;
  readonly stopTry: (id: string) => void;
  readonly liveTry: (id: string) => LiveTry | null;
  readonly close: () => Promise<void>;
}

/** Told of all that cannot be collected afterwards; it never makes the phone system wait. */
export interface KeepsWhatGoes {
  readonly registration: (change: {
    readonly user: string;
    readonly endpoint: string | null;
    readonly state: 'registered' | 'removed' | 'expired' | 'stopped';
    readonly transport: string | null;
  }) => void;
  /** @param startMs since 1970 */
  readonly callBegan: (id: string, call: Call, startMs: number) => void;
  readonly callWentOn: (id: string, trace: Trace) => void;
  readonly callSettled: (id: string, trace: Trace) => void;
  readonly callOver: (id: string) => void;
  /** How far a call out has come that no plan steers; null: it is over. */
  readonly callOut: (id: string, at: CallOutAt | null) => void;
  /** The messages of a call whose record is kept. @param names who each address is */
  readonly ladder: (ladder: CallLadder, names: PartyNames) => void;
  /** The phone system ended: calls that it carried are over. */
  readonly systemEnded: () => void;
}
