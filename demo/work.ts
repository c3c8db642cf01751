import {
  DEMO_LOST,
  DEMO_PROVISIONED,
  DEMO_REQUESTS,
  type DemoProvisioned,
  type DemoRequest,
} from './in-work';
import type { Drill } from '../core/calls/drills';
import type { Estate, Person } from '../core/estate';
import type { RunSettings } from '../core/changes/restarts';
import type { SlateEntry } from '../core/changes/slate';

/** What is in work at the demo organisation, beside its estate. */
export interface DemoWork {
  readonly drills: readonly Drill[];
  readonly slate: { readonly name: string; readonly note: string; readonly entries: readonly SlateEntry[] };
  /** Phones that have not been restarted since something was changed. */
  readonly running: readonly { readonly endpoint: string; readonly running: RunSettings | null }[];
  readonly provisioned: readonly DemoProvisioned[];
  /** A phone whose stand-in has a wrong password. */
  readonly lost: string;
  readonly requests: readonly DemoRequest[];
}

const OUTSIDE = '+16045550199';

const DRILLS: readonly Drill[] = [
  {
    id: 'ines-office',
    name: 'In office hours Ines’s messages stay hers',
    standsFor: { person: 'ines' },
    call: { from: OUTSIDE, at: '2026-11-24T14:20:00-07:00' },
    expect: { kind: 'mailbox', person: 'own', byMs: 30_000 },
  },
  {
    id: 'night-duty',
    name: 'At night the duty engineer is found at home',
    standsFor: { person: 'ines' },
    call: {
      from: OUTSIDE,
      at: '2026-11-25T02:15:00-07:00',
      world: {
        endpoints: { 'tomasz-app': { state: 'unregistered' }, 'tomasz-home': { answerAfterMs: 4000 } },
      },
    },
    expect: { kind: 'answered', person: 'tomasz', endpoint: 'tomasz-home', byMs: 60_000 },
  },
  {
    id: 'deck-messages',
    name: 'Deck crew: nobody answers, the message is their own',
    standsFor: { template: 'deck-crew' },
    call: { from: OUTSIDE, at: '2026-11-24T10:00:00-07:00' },
    expect: { kind: 'mailbox', person: 'own' },
  },
  {
    id: 'owen-messages',
    name: 'Owen: nobody answers, the message is his own',
    standsFor: { person: 'owen' },
    call: { from: OUTSIDE, at: '2026-11-24T10:00:00-07:00' },
    expect: { kind: 'mailbox', person: 'own' },
  },
];

/** The winter timetable, being prepared: bookings ring longer, and Noor hands her night calls to the duty engineer. */
function entriesFor(estate: Estate): SlateEntry[] {
  const bookings = estate.groups.find(({ id }) => id === 'bookings')!;
  const noor = estate.people.find(({ id }) => id === 'noor')!;
  const night: Person['plan']['rules'][number] = {
    id: 'r-night',
    name: 'Night watch goes to the duty engineer',
    when: { schedule: { id: 'night-watch', inside: true } },
    stages: [],
    ending: { kind: 'person', person: 'tomasz', agreedOn: '2026-11-20' },
  };
  return [
    {
      kind: 'group',
      id: bookings.id,
      name: bookings.name,
      base: bookings,
      after: { ...bookings, ringMs: bookings.ringMs + 6000 },
    },
    {
      kind: 'person',
      id: noor.id,
      name: noor.name,
      base: noor,
      after: { ...noor, plan: { ...noor.plan, rules: [night, ...noor.plan.rules] } },
    },
  ];
}

export const demoWork = (estate: Estate): DemoWork => ({
  drills: DRILLS,
  slate: {
    name: 'Winter timetable',
    note: 'For the first Monday of December. Bookings asked for a longer ring; Noor works days from then on.',
    entries: entriesFor(estate),
  },
  running: [
    {
      endpoint: 'hana-jessamy-desk',
      running: { kind: 'desk', extensions: ['4396'], wakes: true, wakeMs: 3600 },
    },
  ],
  provisioned: DEMO_PROVISIONED,
  lost: DEMO_LOST,
  requests: DEMO_REQUESTS,
});
