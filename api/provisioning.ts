import type { ProvisioningState, ProvisioningPolicy } from '../core/devices/provisioning';

export interface ProvisionedRow {
  readonly address: string;
  readonly device: string;
  readonly name: string;
  readonly model: string;
  readonly modelName: string;
  readonly least: string | null;
  readonly person: { readonly id: string; readonly name: string } | null;
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
