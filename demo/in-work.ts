import type { Wish } from '../core/changes/own';
import type { Step } from '../core/devices/provisioning';

/** A phone that sets itself up: what it did, with minutes ago. */
export interface DemoProvisioned {
  readonly device: string;
  /** Whether its stand-in has no settings yet. */
  readonly isBare: boolean;
  readonly steps: readonly { readonly minutesAgo: number; readonly step: Step; readonly says: string }[];
}
/** Something that somebody asked for on their own page. */
export interface DemoRequest {
  readonly person: string;
  readonly hoursAgo: number;
  readonly wish: Wish;
  readonly note: string;
}

/** How far phones of the demo have come in setting themselves up. */
export const DEMO_PROVISIONED: readonly DemoProvisioned[] = [
  ...(['phone-leocadia-eastmark-desk', 'phone-wren-larkmoor-desk', 'phone-farah-quayle-desk'] as const).map(
    (device, n) => ({
      device,
      isBare: false,
      steps: [
        {
          minutesAgo: 190 - n * 11,
          step: { kind: 'asked', firmware: '3.4.0' },
          says: 'Asked for its settings, without a code',
        },
        {
          minutesAgo: 186 - n * 11,
          step: { kind: 'fetched', firmware: '3.4.0', serial: 'set up with the demo', restarts: false },
          says: 'Fetched its settings with its one-time code',
        },
        { minutesAgo: 185 - n * 11, step: { kind: 'registered' }, says: 'Registered' },
      ] as const,
    }),
  ),
  {
    device: 'phone-kaito-quayle-desk',
    isBare: true,
    steps: [
      {
        minutesAgo: 95,
        step: { kind: 'asked', firmware: '3.4.0' },
        says: 'Asked for its settings, without a code',
      },
      {
        minutesAgo: 92,
        step: { kind: 'refused', why: 'Its certificate is for another MAC address' },
        says: 'Refused: its certificate is for another MAC address',
      },
    ],
  },
  {
    device: 'phone-xenia-galbrae-desk',
    isBare: true,
    steps: [
      {
        minutesAgo: 70,
        step: { kind: 'too-old', firmware: '3.1.0', least: '3.6.2', load: '3.6.2' },
        says: 'Runs 3.1.0 and needs 3.6.2 at least',
      },
    ],
  },
  { device: 'phone-anouk-skarsund-desk', isBare: true, steps: [] },
];

/** A softphone’s account whose password was typed wrongly when it was set up anew: it is lost. */
export const DEMO_LOST = 'edda-moonie-desk';

/** What people of the demo have asked for on their own pages. */
export const DEMO_REQUESTS: readonly DemoRequest[] = [
  {
    person: 'gita-yarrow',
    hoursAgo: 3,
    wish: { kind: 'ring-time', at: 'otherwise', stage: 0, forMs: 60_000 },
    note: 'At the landing I need a minute to get to the phone.',
  },
  {
    person: 'emeka-umbers',
    hoursAgo: 20,
    wish: { kind: 'ring-time', at: 'otherwise', stage: 0, forMs: 45_000 },
    note: 'The engine room is loud.',
  },
];
