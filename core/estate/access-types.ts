import type { E164, ScheduleTest } from './units';

/** Calling out as the organisation: the numbers that staff ring from a mobile to call on from there, and what shows. */

/** `own`: the caller's own direct number; `organisation`: that of the organisation; else this number. */
export type ShownNumber = 'own' | 'organisation' | E164;

/** Which number somebody shows while they have a status; without a status: while they have any other. */
export interface Showing {
  readonly status?: string;
  readonly shows: ShownNumber | 'withheld';
}

export const ACCESS_PINS = ['always', 'unknown-callers', 'never'] as const;
export type AccessPin = (typeof ACCESS_PINS)[number];

export const HANG_UPS = ['nothing', 'calls-back'] as const;

/** A number that staff ring from outside to call on from there, as from their desk. */
export interface AccessNumber {
  readonly id: string;
  readonly name: string;
  readonly number: E164;
  /** Whether staff are known by the numbers of their mobiles and landlines. */
  readonly knows?: boolean;
  /** Of those whose number the carrier has verified alone (SHAKEN; `verstat`, 3GPP TS 24.229). */
  readonly onlyVerified?: boolean;
  readonly pin?: AccessPin;
  readonly presents?: ShownNumber;
  readonly schedule?: ScheduleTest;
  /** What happens when somebody who is known hangs up before the answer. */
  readonly hangUp?: (typeof HANG_UPS)[number];
}

export const DEFAULT_ACCESS = {
  knows: true,
  onlyVerified: false,
  pin: 'unknown-callers',
  presents: 'own',
  hangUp: 'nothing',
} as const satisfies Partial<AccessNumber>;

/** How much somebody may call a day, over all of their calls to the public network. */
export interface DayLimit {
  readonly minutes?: number;
  /** In hundred-thousandths of the currency of the tariff. */
  readonly money?: number;
}

/** Which numbers a trunk's carrier lets show. */
export interface Screening {
  /** Beginnings of the numbers that it lets show. */
  readonly allows: readonly E164[];
  /** What it does with a call that shows another. */
  readonly otherwise: (typeof SCREENS)[number];
}
export const SCREENS = ['refuses', 'replaces'] as const;
