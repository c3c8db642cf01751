import type { Person } from '../core/estate';
import { desk, mobile, line, OWN_MAILBOX } from './special-parts';

/** People who show what goes wrong, and the last of what can be wanted; comments say what. */
export const MISTAKES: readonly Person[] = [
  {
    // The guard is so long that a quick answer is cut off.
    id: 'mateo',
    name: 'Mateo Sundqvist',
    status: 'on-shift',
    permission: 'coast',
    maxCalls: 2,
    lines: [line('4107')],
    endpoints: [desk('mateo', 'Gate 2 phone'), mobile('mateo', '+17785550107')],
    plan: {
      rules: [],
      otherwise: {
        stages: [
          {
            ring: [
              { endpoint: 'mateo-desk' },
              { endpoint: 'mateo-mobile', acceptAfterMs: 8000, giveUpAfterMs: 22_000 },
            ],
            forMs: 25_000,
          },
        ],
        ending: OWN_MAILBOX,
      },
    },
  },
  {
    id: 'priya',
    name: 'Priya Raman',
    status: 'away',
    permission: 'anywhere',
    maxCalls: 3,
    lines: [line('4108')],
    endpoints: [
      desk('priya', 'Office phone'),
      {
        id: 'priya-laptop',
        label: 'Softphone on laptop',
        kind: 'desktop-app',
        place: {
          civic: { country: 'CA', A1: 'BC', A3: 'Skerrow', RD: 'Lighthouse Way', HNO: '12' },
          saidOn: '2026-06-02',
          by: 'Priya Raman',
        },
      },
      {
        id: 'priya-app',
        label: 'Softphone on mobile',
        kind: 'mobile-app',
        path: { site: 'home-priya', method: 'ice', transport: 'tls' },
      },
      mobile('priya', '+12365550108'),
    ],
    plan: {
      rules: [
        {
          id: 'r-away',
          name: 'Travelling: softphones first, then the mobile by key',
          when: { status: ['away'] },
          stages: [
            { ring: [{ endpoint: 'priya-laptop' }, { endpoint: 'priya-app' }], forMs: 15_000 },
            { ring: [{ endpoint: 'priya-mobile', confirm: 'key', present: '+12505550108' }], forMs: 25_000 },
          ],
          ending: { kind: 'person', person: 'noor' },
        },
      ],
      otherwise: {
        stages: [
          {
            ring: [
              { endpoint: 'priya-desk' },
              { endpoint: 'priya-mobile', delayMs: 2000, acceptAfterMs: 2300, giveUpAfterMs: 20_000 },
            ],
            forMs: 24_000,
          },
        ],
        ending: { kind: 'person', person: 'noor' },
      },
    },
  },
  {
    id: 'noor',
    name: 'Noor Haldane',
    status: 'on-shift',
    permission: 'coast',
    maxCalls: 4,
    mailbox: { copyTo: ['priya'] },
    lines: [line('4109')],
    endpoints: [desk('noor', 'Reception desk')],
    plan: {
      rules: [],
      otherwise: { stages: [{ ring: [{ endpoint: 'noor-desk' }], forMs: 20_000 }], ending: OWN_MAILBOX },
    },
  },
  {
    // No guard and a ring time longer than the carrier's voicemail: messages end at the carrier.
    id: 'owen',
    name: 'Owen Baptiste',
    status: 'on-shift',
    permission: 'coast',
    maxCalls: 1,
    lines: [line('4110')],
    endpoints: [
      desk('owen', 'Engine store phone'),
      mobile('owen', '+17785550110', { mailboxAfterMs: 15_000 }),
    ],
    plan: {
      rules: [],
      otherwise: {
        stages: [{ ring: [{ endpoint: 'owen-desk' }, { endpoint: 'owen-mobile' }], forMs: 35_000 }],
        ending: OWN_MAILBOX,
      },
    },
  },
  {
    id: 'lena',
    name: 'Lena Kowalczuk',
    status: 'on-shift',
    permission: 'coast',
    maxCalls: 2,
    lines: [line('4111')],
    endpoints: [
      { id: 'lena-remote', label: 'Desk phone at home', kind: 'remote-desk' },
      { id: 'lena-laptop', label: 'Softphone on laptop', kind: 'desktop-app' },
      { id: 'lena-home', label: 'Home', kind: 'landline', number: '+16045550111' },
    ],
    plan: {
      rules: [
        {
          id: 'r-evening',
          name: 'Outside office hours: mailbox',
          when: { schedule: { id: 'office', inside: false } },
          stages: [],
          ending: OWN_MAILBOX,
        },
      ],
      otherwise: {
        stages: [
          {
            ring: [
              { endpoint: 'lena-remote' },
              { endpoint: 'lena-laptop' },
              { endpoint: 'lena-home', unlessRegistered: 'lena-remote', confirm: 'key' },
            ],
            forMs: 22_000,
          },
        ],
        ending: { kind: 'group', group: 'bookings' },
      },
    },
  },
  {
    // Two who hand their calls to each other.
    id: 'callum',
    name: 'Callum Strand',
    status: 'on-leave',
    permission: 'coast',
    maxCalls: 2,
    lines: [line('4112')],
    endpoints: [desk('callum'), mobile('callum', '+17785550112')],
    plan: {
      rules: [
        {
          id: 'r-leave',
          name: 'On leave: Saskia covers',
          when: { status: ['on-leave'] },
          stages: [],
          ending: { kind: 'person', person: 'saskia' },
        },
      ],
      otherwise: { stages: [{ ring: [{ endpoint: 'callum-desk' }], forMs: 20_000 }], ending: OWN_MAILBOX },
    },
  },
  {
    id: 'saskia',
    name: 'Saskia Veldt',
    status: 'on-leave',
    permission: 'coast',
    maxCalls: 2,
    lines: [line('4113')],
    endpoints: [desk('saskia')],
    plan: {
      rules: [
        {
          id: 'r-leave',
          name: 'On leave: Callum covers',
          when: { status: ['on-leave'] },
          stages: [],
          ending: { kind: 'person', person: 'callum' },
        },
      ],
      otherwise: { stages: [{ ring: [{ endpoint: 'saskia-desk' }], forMs: 20_000 }], ending: OWN_MAILBOX },
    },
  },
  {
    // A leaver whose forward to a private landline is still on.
    id: 'hugh',
    name: 'Hugh Penrose',
    status: 'left',
    permission: 'coast',
    maxCalls: 1,
    mailbox: { enabled: false },
    lines: [{ ...line('4114'), forwardAll: { kind: 'number', number: '+16045550114' } }],
    endpoints: [desk('hugh')],
    plan: {
      rules: [],
      otherwise: { stages: [{ ring: [{ endpoint: 'hugh-desk' }], forMs: 20_000 }], ending: OWN_MAILBOX },
    },
  },
  {
    // The mobile is set up but was never switched on in the plan.
    id: 'dalia',
    name: 'Dalia Nwosu',
    status: 'on-shift',
    permission: 'coast',
    maxCalls: 2,
    lines: [line('4115')],
    endpoints: [desk('dalia', 'Yard office phone'), mobile('dalia', '+17785550115')],
    plan: {
      rules: [],
      otherwise: {
        stages: [
          {
            ring: [
              { endpoint: 'dalia-desk' },
              { endpoint: 'dalia-mobile', enabled: false, acceptAfterMs: 2300, giveUpAfterMs: 22_000 },
            ],
            forMs: 25_000,
          },
        ],
        ending: OWN_MAILBOX,
      },
    },
  },
];
