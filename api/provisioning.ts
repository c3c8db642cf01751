import type { Credential, ProvisioningState, ProvisioningPolicy } from '../core/devices/provisioning';
import type { MessagesWaiting } from '../core/wire/sip';

export interface ProvisionedRow {
  readonly address: string;
  readonly device: string;
  readonly name: string;
  readonly model: string;
  readonly modelName: string;
  readonly least: string | null;
  readonly person: { readonly id: string; readonly name: string } | null;
  /** The shared desk whose phone it is; `person` is then whoever is signed on there. */
  readonly desk: { readonly id: string; readonly name: string } | null;
  /** How it proves itself. */
  readonly credential: Credential;
  readonly endpoint: string | null;
  readonly state: ProvisioningState;
  readonly why: string | null;
  readonly next: string | null;
  readonly tries: number;
  readonly lockedUntil: string | null;
  readonly askedAt: string | null;
  readonly fetchedAt: string | null;
  readonly registeredAt: string | null;
  readonly firmware: string | null;
  readonly hasCode: boolean;
  readonly codeUntil: string | null;
  readonly hasPin: boolean;
  readonly isBehind: boolean;
}

/** What stands on the phone of a shared desk: of whoever is signed on, or of nobody. */
export interface DeskPhone {
  readonly model: string;
  readonly keyCount: number;
  readonly display: string;
  readonly label: string;
  /** The language of its display (RFC 5646); null: its own. */
  readonly language: string | null;
  /** The language of whoever is signed on, where the model does not speak it. */
  readonly lacksLanguage: string | null;
  readonly keys: readonly { readonly at: number; readonly label: string }[];
  /** Messages in the mailbox of whoever is signed on; null: nobody is. */
  readonly messages: MessagesWaiting | null;
  /** Whether the phone was told of them, and its lamp is lit. */
  readonly isLit: boolean;
  /** How long it starts again for each sign-on, s; null: it does not have to. */
  readonly restartS: number | null;
  /** Until when it starts again now, ISO 8601; null: it is there. */
  readonly startsUntil: string | null;
  /** How far it has come in its provisioning; null: it is not provisioned from here. */
  readonly state: ProvisioningState | null;
  /** It has not fetched yet what stands here. */
  readonly isBehind: boolean;
  readonly fetchedAt: string | null;
}

export interface ProvisioningEvent {
  readonly address: string;
  readonly at: string;
  readonly from: string;
  readonly says: string;
}

export interface FirmwareFile {
  readonly model: string;
  readonly version: string;
  readonly bytes: number;
  readonly sha256: string;
  readonly addedAt: string;
  readonly addedBy: string;
}

export interface Authority {
  readonly id: number;
  readonly name: string;
  readonly fingerprint: string;
  readonly until: string;
  readonly isOurs: boolean;
}

export interface ProvisioningPage {
  readonly policy: ProvisioningPolicy;
  readonly tlsPort: number | null;
  readonly phones: readonly ProvisionedRow[];
  readonly strangers: readonly ProvisioningEvent[];
  readonly images: readonly FirmwareFile[];
  readonly authorities: readonly Authority[];
}

export interface ListedRow {
  readonly line: number;
  readonly address: string;
  readonly whose: string;
  readonly action: 'add' | 'change' | 'same' | 'refuse';
  readonly name?: string;
  readonly model?: string;
  /** The phone in whose place it comes. */
  readonly replaces?: string;
  readonly faults?: readonly { readonly field: string; readonly message: string }[];
}

export interface GivenCode {
  readonly address: string;
  readonly name: string;
  readonly person: string;
  readonly code: string;
}
