import type { RelayLoss } from '../core/devices/relay';
import type { NetworkFile, TriedWay } from '../core/network';
import type { Device, Estate, Site } from '../core/estate';

/** What becomes of calls when the branch relay of a site stops. */
export interface RelayPage {
  readonly losses: readonly RelayLoss[];
}

/** A phone of a network that is to be tried behind stand-in routers; the network as in a file (docs/formats.md). */
export interface WayAsked {
  readonly network: NetworkFile;
  readonly phone: string;
}
/** What came of it. */
export interface WayTry {
  readonly tried: TriedWay;
}

/** What the ways of phones through networks are computed from. */
export interface NetworksPage {
  readonly sites: readonly Site[];
  readonly servers: NonNullable<Estate['servers']>;
  readonly devices: readonly Device[];
  /** People with the softphones of theirs that are used at a site, and with the phones that devices are used as. */
  readonly people: Estate['people'];
}
