import type { Estate, Person } from '../core/estate';
import type { EstateIndex } from '../core/calls/engine';
import type { SeatOn } from '../core/seats';
import type {
  AccessOrder,
  AccessTried,
  AccountOf,
  EmergencyTried,
  PhoneSetting,
  RoundSounds,
} from './messages';
import type { ProvisioningOrder } from './phones/provisioning';
import type { CallBack, RoundCall } from './system';

/** The stand-ins that stand by themselves: the phone system, the carrier, and a phone for each that registers. */
export interface Town {
  readonly setEstate: (estate: Estate) => Promise<void>;
  /** People of the estate who are others now. */
  readonly setPeople: (people: readonly Person[]) => Promise<void>;
  readonly setAccounts: (accounts: readonly AccountOf[]) => Promise<void>;
  /** Who is at which seat of a group. */
  readonly setSeats: (seats: readonly SeatOn[]) => void;
  readonly setPhones: (settings: readonly PhoneSetting[]) => Promise<void>;
  /** Phones that start again: they sign off, and register anew. */
  readonly restart: (endpoints: readonly string[]) => Promise<void>;
  /** A phone out of its box, which asks for its settings; one that was there in its place goes. */
  readonly plugIn: (order: ProvisioningOrder) => Promise<void>;
  /** Phones that have are provisioned before: what they know. */
  readonly setProvisioned: (orders: readonly ProvisioningOrder[]) => void;
  /** Phones that are told that their settings have changed. */
  readonly notify: (endpoints: readonly string[]) => void;
  /** Dials a code at a phone. @returns what was heard; null: the phone is not there */
  readonly press: (pressed: {
    readonly endpoint: string;
    readonly code: string;
    readonly typed: readonly string[];
  }) => Promise<readonly string[] | null>;
  /** The recording of a round, and calls that play it: of each is told once how it ended. */
  readonly setSound: (id: string, muLaw: Uint8Array) => void;
  readonly callListed: (call: Omit<RoundCall, 'muLaw' | 'keys'>, sounds: RoundSounds) => void;
  /** Calls somebody back, and tells how far it has come. */
  readonly callBack: (order: CallBack) => void;
  /** Dials an emergency number at a phone, and has the desk call back. @returns null: the phone is not there */
  readonly tryEmergency: (tried: {
    readonly endpoint: string;
    readonly number: string;
  }) => Promise<EmergencyTried | null>;
  /** Calls an access number from outside. */
  readonly tryAccess: (order: AccessOrder) => Promise<AccessTried>;
  readonly index: () => EstateIndex | null;
  readonly close: () => Promise<void>;
}
