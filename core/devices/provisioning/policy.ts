import { parts } from '../../estate';

/** How a phone proves who it is for when it asks for its settings. */
export const CREDENTIALS = ['code', 'pin', 'certificate'] as const;
export type Credential = (typeof CREDENTIALS)[number];

/** What the organisation asks of provisioned phones. */
export interface ProvisioningPolicy {
  readonly credential: Credential;
  /** Wrong codes or PINs after which a phone gets no answer for a while. */
  readonly tries: number;
  readonly lockMinutes: number;
  /** How long a one-time code can be used. */
  readonly codeHours: number;
}

export const USUAL_POLICY: ProvisioningPolicy = {
  credential: 'code',
  tries: 5,
  lockMinutes: 15,
  codeHours: 72,
};

/**
 * What is asked of one phone: a shared desk’s is nobody’s and has no PIN, so that it takes a code where PINs are asked
 * for.
 */
export const policyFor = (policy: ProvisioningPolicy, isShared: boolean): ProvisioningPolicy =>
  isShared && policy.credential === 'pin' ? { ...policy, credential: 'code' } : policy;

export const policySchema = parts.closed({
  credential: parts.oneOf(CREDENTIALS).required('is missing'),
  tries: parts.count(1, 20).required('is missing'),
  lockMinutes: parts.count(1, 1440).required('is missing'),
  codeHours: parts.count(1, 720).required('is missing'),
});

export const CREDENTIAL_NAMES: Record<Credential, string> = {
  code: 'One-time code',
  pin: 'The person’s PIN',
  certificate: 'Certificate in the phone',
};
