import type { Logger } from 'pino';
import type { SystemPlace } from '../../api/phones';
import type { ProvisioningOrder } from '../../standins/phones/provisioning';
import type { RoundCallEnded } from '../../standins/system';
import type { Db } from '../db';
import type { EstateStore } from '../estate';
import type { Keyring } from '../secrets';
import type { Questions } from './questions';
import type { SeatSources } from './seats';
import type { OpenSystem } from './system';
import type { KeepsWhatGoes } from './types';

export interface SwitchboardOptions extends Questions, SeatSources {
  readonly db: Db;
  readonly store: EstateStore;
  readonly secrets: Keyring;
  readonly log: Logger;
  /** The phones that have are provisioned before, and what they know. */
  readonly provisioning?: () => Promise<readonly ProvisioningOrder[]>;
  /** Where the phone system leaves the records of calls; left out: nowhere. */
  readonly spool?: string;
  /** Keeps calls and registrations; left out: nobody does. */
  readonly collect?: KeepsWhatGoes;
  /** Watches what another server keeps; left out: nobody does. */
  readonly watch?: KeepsWhatGoes;
  /** How the phone system is come to; left out: this server has one of its own. */
  readonly open?: OpenSystem;
  /** Who is signed on at which shared desk, by the desk’s id; and what changes whenever that does. */
  readonly signedOn?: {
    readonly read: () => Promise<ReadonlyMap<string, string>>;
    readonly stamp: () => Promise<string>;
  };
  /** Told of the phones that a call was at, once it is over. */
  readonly onUsed?: (endpoints: readonly string[]) => void;
  /** Told how a call of a round ended. */
  readonly onListed?: (id: string, ended: RoundCallEnded) => void;
  /** Told that a call back is over. */
  readonly onBackOver?: (id: string) => void;
  /** Told once the phone system listens. */
  readonly onPlace?: (place: SystemPlace) => void;
}
