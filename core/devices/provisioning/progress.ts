import type { ProvisioningPolicy } from './policy';

/** How far a phone has come in setting itself up. */
export const SELF_SET_STATES = [
  'waiting',
  'asked',
  'refused',
  'locked',
  'old-firmware',
  'loading',
  'fetched',
  'restarting',
  'registered',
] as const;
export type ProvisioningState = (typeof SELF_SET_STATES)[number];

/** Times in ms since 1970. */
export interface Progress {
  readonly state: ProvisioningState;
  /** Wrong credentials since the last right one. */
  readonly tries: number;
  /** Why it was refused, or what stands in its way. */
  readonly why: string | null;
  /** When each was last so. */
  readonly askedMs: number | null;
  readonly fetchedMs: number | null;
  readonly registeredMs: number | null;
  /** What it says it runs. */
  readonly firmware: string | null;
  /** Whether no file of the firmware that it needs was here. */
  readonly lacksFirmware?: boolean;
  /** Which settings it has: changes when any of them does. */
  readonly serial: string | null;
}

export const NOT_BEGUN: Progress = {
  state: 'waiting',
  tries: 0,
  why: null,
  askedMs: null,
  fetchedMs: null,
  registeredMs: null,
  firmware: null,
  serial: null,
};

/** Something that a phone did, or that was found when it asked. */
export type Step =
  /** It asked without proving who it is for, and is asked to. */
  | { readonly kind: 'asked'; readonly firmware: string | null }
  /** What it gave as a proof is not right. */
  | { readonly kind: 'wrong'; readonly why: string }
  /** It may not have its settings, for another reason. */
  | { readonly kind: 'refused'; readonly why: string }
  | {
      readonly kind: 'too-old';
      readonly firmware: string;
      readonly least: string;
      readonly load: string | null;
    }
  | { readonly kind: 'loading'; readonly version: string }
  | {
      readonly kind: 'fetched';
      readonly firmware: string | null;
      readonly serial: string;
      readonly restarts: boolean;
    }
  | { readonly kind: 'restarted' }
  | { readonly kind: 'registered' }
  | { readonly kind: 'unlocked' };

/**
 * Until when whoever was wrong too often gets no answer, ms since 1970; null: nobody is held up. It holds for the
 * source that was wrong, not for the phone: one that asks from elsewhere is heard.
 */
export const lockedUntil = (
  { tries, askedMs, fetchedMs }: Progress,
  policy: ProvisioningPolicy,
  atMs: number,
): number | null => {
  if (tries < policy.tries || askedMs === null || fetchedMs !== null) return null;
  const until = askedMs + policy.lockMinutes * 60_000;
  return until > atMs ? until : null;
};

/** How far a phone has come after a step. */
export function afterStep(before: Progress, step: Step, atMs: number): Progress {
  switch (step.kind) {
    case 'asked':
      return {
        ...before,
        state: before.state === 'registered' || before.state === 'fetched' ? before.state : 'asked',
        askedMs: atMs,
        firmware: step.firmware ?? before.firmware,
      };
    case 'wrong':
      // Whoever it was has not shown to be this phone: how far it has come stays as it is.
      return {
        ...before,
        state: before.state === 'waiting' ? 'asked' : before.state,
        tries: before.tries + 1,
        why: before.fetchedMs === null ? step.why : before.why,
        askedMs: atMs,
      };
    case 'refused':
      return { ...before, state: 'refused', why: step.why, askedMs: atMs };
    case 'too-old':
      return {
        ...before,
        state: 'old-firmware',
        tries: 0,
        askedMs: atMs,
        firmware: step.firmware,
        lacksFirmware: step.load === null,
        why:
          step.load === null
            ? `It runs ${step.firmware} and needs ${step.least} at least, and that firmware file is not here`
            : `It runs ${step.firmware} and needs ${step.least} at least: it is told to load ${step.load}`,
      };
    case 'loading':
      return { ...before, state: 'loading', why: `It loads ${step.version}`, askedMs: atMs };
    case 'fetched':
      return {
        ...before,
        state: step.restarts ? 'restarting' : 'fetched',
        tries: 0,
        why: null,
        fetchedMs: atMs,
        registeredMs: null,
        firmware: step.firmware ?? before.firmware,
        serial: step.serial,
      };
    case 'restarted':
      return before.state === 'restarting' ? { ...before, state: 'fetched' } : before;
    case 'registered':
      return before.fetchedMs === null ? before : { ...before, state: 'registered', registeredMs: atMs };
    case 'unlocked':
      return { ...before, state: 'waiting', tries: 0, why: null };
  }
}

/** What to do about a phone that does not get on, in a sentence; null: nothing. */
export function nextStep({ state, why, lacksFirmware }: Progress, policy: ProvisioningPolicy): string | null {
  switch (state) {
    case 'waiting':
      return policy.credential === 'code'
        ? 'Plug it in where it is to stand, and type its one-time code.'
        : policy.credential === 'pin'
          ? 'Plug it in where it is to stand; the person types their PIN.'
          : 'Plug it in where it is to stand.';
    case 'asked':
      return 'It waits for somebody to type the code or PIN.';
    case 'refused':
      return why === null ? 'See what it was refused for.' : null;
    case 'locked':
      return 'Make sure who tries it, then unlock it and give it a new code.';
    case 'old-firmware':
      return lacksFirmware === true ? 'Add the firmware file that it needs.' : null;
    case 'loading':
    case 'restarting':
      return 'Leave it plugged in.';
    case 'fetched':
      return 'It has its settings and is about to register.';
    case 'registered':
      return null;
  }
}
