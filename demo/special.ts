import type { Person } from '../core/estate';

/** The hand-written people: one for each need and each common mistake. `mistake` says which, for the curious. */
const desk = (id: string, label = 'Desk phone') => ({ id: `${id}-desk`, label, kind: 'desk' }) as const;
const mobile = (id: string, number: string, more: object = {}) =>
  ({ id: `${id}-mobile`, label: 'Mobile', kind: 'mobile', number, ...more }) as const;
const line = (
  extension: string,
  numbers: readonly string[] = [`+1250555${extension.replace(/^4/, '0')}`],
) => ({
  id: `l-${extension}`,
  extension,
  numbers,
});
const OWN_MAILBOX = { kind: 'mailbox' } as const;
export const OFFICE = { id: 'office', inside: true } as const;

export const SPECIAL_PEOPLE: readonly Person[] = [
  {
    id: 'ines',
    name: 'Ines Okafor',
    status: 'on-shift',
    permission: 'coast',
    maxCalls: 2,
    mailbox: { copyTo: ['ruth'] },
    lines: [line('4101')],
    endpoints: [desk('ines', 'Dock office phone'), mobile('ines', '+17785550101')],
    plan: {
      rules: [
        {
          id: 'r-night',
          name: 'Night watch goes to the duty engineer',
          when: { schedule: { id: 'night-watch', inside: true } },
          stages: [],
          ending: { kind: 'person', person: 'tomasz' },
        },
        {
          id: 'r-leave',
          name: 'On leave: Ruth covers',
          when: { status: ['on-leave'] },
          stages: [],
          ending: { kind: 'person', person: 'ruth' },
        },
        {
          id: 'r-office',
          name: 'Office hours: desk and mobile together',
          when: { schedule: OFFICE },
          stages: [
            {
              ring: [
                { endpoint: 'ines-desk' },
                {
                  endpoint: 'ines-mobile',
                  acceptAfterMs: 2300,
                  giveUpAfterMs: 17_500,
                  arrivals: ['direct', 'menu', 'group'],
                },
              ],
              forMs: 25_000,
            },
          ],
          ending: OWN_MAILBOX,
        },
      ],
      otherwise: { stages: [{ ring: [{ endpoint: 'ines-desk' }], forMs: 20_000 }], ending: OWN_MAILBOX },
    },
  },
  {
    id: 'tomasz',
    name: 'Tomasz Bright',
    status: 'on-shift',
    permission: 'coast',
    maxCalls: 1,
    lines: [line('4102')],
    endpoints: [
      { id: 'tomasz-app', label: 'Softphone', kind: 'mobile-app' },
      mobile('tomasz', '+17785550102', { mailboxAfterMs: 22_000 }),
      { id: 'tomasz-home', label: 'Home', kind: 'landline', number: '+16045550182' },
    ],
    plan: {
      rules: [],
      otherwise: {
        stages: [
          { ring: [{ endpoint: 'tomasz-app' }], forMs: 8000 },
          { ring: [{ endpoint: 'tomasz-mobile', confirm: 'key' }], forMs: 30_000 },
          { ring: [{ endpoint: 'tomasz-home', confirm: 'key' }], forMs: 20_000 },
        ],
        ending: OWN_MAILBOX,
        busy: OWN_MAILBOX,
      },
    },
  },
  {
    // The mobile may not be dialled: the permission has no outside numbers.
    id: 'ruth',
    name: 'Ruth Adeyemi',
    status: 'on-shift',
    permission: 'inside',
    maxCalls: 2,
    lines: [line('4103')],
    endpoints: [desk('ruth', 'Bookings desk'), mobile('ruth', '+17785550103')],
    plan: {
      rules: [],
      otherwise: {
        stages: [
          { ring: [{ endpoint: 'ruth-desk' }, { endpoint: 'ruth-mobile', delayMs: 5000 }], forMs: 20_000 },
          { ring: [{ endpoint: 'ines-desk' }], forMs: 15_000 },
        ],
        ending: OWN_MAILBOX,
      },
    },
  },
  {
    id: 'jonah',
    name: 'Jonah Petersen',
    status: 'at-sea',
    permission: 'coast',
    maxCalls: 1,
    lines: [line('4104')],
    endpoints: [
      desk('jonah', 'Crew room phone'),
      mobile('jonah', '+17785550104', { mailboxAfterMs: 15_000 }),
      { id: 'jonah-app', label: 'Softphone', kind: 'mobile-app', wakeMs: 3000 },
    ],
    plan: {
      rules: [
        {
          id: 'r-sea',
          name: 'At sea: ask first',
          when: { status: ['at-sea'], caller: { class: 'external' } },
          stages: [
            {
              offer: {
                // The greeting offers a key that does nothing, and is silent about one that does.
                greeting: {
                  text: 'I am at sea. Press 1 and I am looked for, or 2 for the duty engineer.',
                  says: [
                    { key: '1', leads: 'find-me' },
                    { key: '2', leads: 'person', whom: 'tomasz' },
                  ],
                },
                greetingMs: 9000,
                waitMs: 3000,
                choices: [
                  { key: '1', then: 'next' },
                  { key: '0', then: { kind: 'group', group: 'bookings' } },
                ],
              },
            },
            {
              ring: [{ endpoint: 'jonah-mobile', confirm: 'key-name', present: '+12505550104' }],
              forMs: 25_000,
            },
          ],
          ending: OWN_MAILBOX,
        },
      ],
      otherwise: {
        stages: [
          {
            ring: [
              { endpoint: 'jonah-desk' },
              {
                endpoint: 'jonah-mobile',
                whileRegistered: 'jonah-desk',
                acceptAfterMs: 2300,
                giveUpAfterMs: 18_000,
              },
              { endpoint: 'jonah-app', unlessRegistered: 'jonah-desk' },
            ],
            forMs: 20_000,
          },
        ],
        ending: { kind: 'person', person: 'ines' },
        busy: { kind: 'hang-up', message: 'busy' },
      },
    },
  },
  {
    // Always-forward left on after leave: every call goes to a private mobile and its carrier's voicemail.
    id: 'amara',
    name: 'Amara Lindqvist',
    status: 'on-shift',
    permission: 'coast',
    maxCalls: 2,
    lines: [
      { ...line('4105'), forwardAll: { kind: 'endpoint', endpoint: 'amara-mobile' } },
      { id: 'l-4106', extension: '4106', numbers: [] },
    ],
    endpoints: [
      desk('amara', 'Harbour office phone'),
      mobile('amara', '+16725550105', { mailboxAfterMs: 18_000, offAnswerMs: 2600 }),
    ],
    plan: {
      rules: [
        {
          id: 'r-meeting',
          name: 'Private line, known callers with a code',
          when: { line: ['l-4106'], caller: { class: 'listed', numbers: ['+1604', '4104'] } },
          stages: [
            { code: { digits: '7291', withinMs: 8000, wrong: { kind: 'hang-up', message: 'private' } } },
            { ring: [{ endpoint: 'amara-mobile', acceptAfterMs: 3000, confirm: 'key' }], forMs: 18_000 },
          ],
          ending: OWN_MAILBOX,
        },
      ],
      otherwise: {
        stages: [
          {
            ring: [
              { endpoint: 'amara-desk' },
              {
                endpoint: 'amara-mobile',
                schedule: OFFICE,
                delayMs: 4000,
                acceptAfterMs: 3000,
                giveUpAfterMs: 20_000,
              },
            ],
            forMs: 20_000,
          },
        ],
        ending: { kind: 'mailbox', person: 'ruth' },
      },
    },
  },
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
      { id: 'priya-laptop', label: 'Softphone on laptop', kind: 'desktop-app' },
      { id: 'priya-app', label: 'Softphone on mobile', kind: 'mobile-app' },
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
