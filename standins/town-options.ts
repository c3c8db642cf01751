import type { PhoneModel } from '../core/devices/phones';
import type { EmergencyAnswer, SystemOptions } from './system';
import type { FromStandins } from './messages';

/** What the stand-ins of an organisation are opened with. */
export interface TownOptions {
  readonly port: number;
  /** The port that was to be used, where `port` is another. */
  readonly wanted?: number;
  readonly tls?: { readonly key: string; readonly cert: string };
  /** How many phones stand in at most: each has sockets of its own. */
  readonly mostPhones?: number;
  /** How long the phone of a shared desk takes to start again, ms; left out: as long as its model does. */
  readonly restartsForMs?: (model: PhoneModel | undefined) => number;
  /** The time by which stand-in routers forget, s; left out: as it goes by. */
  readonly routersTime?: () => number;
  readonly tell: (message: FromStandins) => void;
  /** Keeps the records of calls; left out: nobody does. */
  readonly keep?: SystemOptions['keep'];
  /** Does what a code is for. */
  readonly onCode?: SystemOptions['onCode'];
  readonly onAccess?: SystemOptions['onAccess'];
  readonly onAccessHungUp?: SystemOptions['onAccessHungUp'];
  /** What is sent with an emergency call from a phone; left out: nothing is known. */
  readonly placeOf?: (endpoint: string) => Promise<EmergencyAnswer>;
  /** Who knows people's PINs. */
  readonly pins?: SystemOptions['pins'];
}
