import type { PlaceBasis, PlaceFault } from '../core/emergency';
import type { Civic, EndpointKind } from '../core/estate';

/** A phone that emergency calls can be placed from, with the place that would be sent. */
export interface SafetyRow {
  readonly endpoint: string;
  readonly label: string;
  readonly kind: EndpointKind;
  readonly person: string;
  readonly name: string;
  readonly basis: PlaceBasis;
  /** The place on one line; null: there is none to send. */
  readonly place: string | null;
  readonly site: string | null;
  readonly siteName: string | null;
  readonly faults: readonly PlaceFault[];
  /** The number that is shown; null: the person has no direct one. */
  readonly callBack: string | null;
  readonly trunk: string | null;
  /** Of what was said: when, and by whom. */
  readonly said: { readonly on: string; readonly by: string } | null;
}
export interface SafetyPage {
  /** What is dialled in an emergency. */
  readonly numbers: readonly string[];
  readonly rows: readonly SafetyRow[];
}
/** Softphones and outside phones of one's own, with where they are. */
export interface OwnPlaces {
  readonly phones: readonly {
    readonly endpoint: string;
    readonly label: string;
    /** Where it is taken to be now. */
    readonly place: string | null;
    readonly civic: Civic | null;
    readonly faults: readonly PlaceFault[];
    /** Whether it can be said: a phone at a site is where the site is. */
    readonly maySay: boolean;
  }[];
}

/** What became of an emergency call that was tried over the stand-ins. */
export interface EmergencyTry {
  /** As the emergency desk shows it; null: the call never came there. */
  readonly arrived: {
    readonly number: string;
    readonly callerId: string | null;
    readonly place: string | null;
    readonly fault: string | null;
    readonly geolocation: string | null;
  } | null;
  /** The phones that a call back rang; null: there was no number to call back. */
  readonly rang: readonly { readonly endpoint: string; readonly says: string }[] | null;
  readonly rangThis: boolean;
}
