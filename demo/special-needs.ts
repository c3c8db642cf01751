import type { Person } from '../core/estate';
import { desk, mobile, line, OWN_MAILBOX, OFFICE } from './special-parts';

/** People who show what can be wanted: rules by status, hours and caller, sequences, greetings, codes, cover. */
export const NEEDS: readonly Person[] = [
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
];
