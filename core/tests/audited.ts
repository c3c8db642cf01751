import type { Estate } from '../estate';
import {
  safe,
  ada,
  rule,
  both,
  left,
  ben,
  toBen,
  line,
  office,
  premium,
  withApp,
  passing,
  HOME,
  GOOD,
  withDevice,
  ABROAD,
  withAccess,
  screenedBy,
} from './audited-estates';
import { crewOf, mainMenu, ringing, smallEstate } from './small';

export {
  NOW,
  ada,
  both,
  ben,
  toBen,
  office,
  HOME,
  GOOD,
  ABROAD,
  withAccess,
  screenedBy,
} from './audited-estates';

export const CASES: readonly (readonly [check: string, estate: Estate])[] = [
  ['no-permission-outside', smallEstate([ada(both({}), { permission: 'none' })])],
  ['no-trunk', smallEstate([ada(both({}))], { trunks: [] })],
  [
    'bad-number',
    smallEstate([
      ada({}, { endpoints: [{ id: 'm', label: 'Mobile', kind: 'mobile', number: '+917785550101' }] }),
    ]),
  ],
  [
    'carrier-voicemail',
    smallEstate([ada({ otherwise: ringing([{ ...safe, giveUpAfterMs: null }], 40_000) })]),
  ],
  ['guard-short', smallEstate([ada(both({ acceptAfterMs: 500 }))])],
  ['guard-long', smallEstate([ada(both({ acceptAfterMs: 9000 }))])],
  ['rings-too-short', smallEstate([ada(both({ giveUpAfterMs: 9000 }))])],
  ['long-ringing', smallEstate([ada({ otherwise: ringing([{ endpoint: 'ada-desk' }], 70_000) })])],
  [
    'outside-hours',
    smallEstate([ada({ rules: [rule('r', { schedule: { id: 'office', inside: true } })], ...both({}) })]),
  ],
  [
    'greeting-of-person',
    smallEstate([
      ada({
        otherwise: {
          stages: [
            {
              offer: {
                greeting: { says: [{ key: '1', leads: 'find-me' }] },
                greetingMs: 1,
                waitMs: 1,
                choices: [],
              },
            },
          ],
          ending: { kind: 'mailbox' },
        },
      }),
    ]),
  ],
  [
    'greeting-of-menu',
    smallEstate([ada({})], { menus: [mainMenu({ greeting: { says: [{ key: '2', leads: 'hang-up' }] } })] }),
  ],
  ['plan-for-phone', smallEstate([ada(toBen('person')), ben])],
  ['not-agreed', smallEstate([ada(toBen('mailbox')), ben])],
  [
    'own-number-outside',
    smallEstate([
      ada({}, { endpoints: [{ id: 'm', label: 'Mobile', kind: 'mobile', number: '+12505550102' }] }),
      ben,
    ]),
  ],
  ['loop', smallEstate([ada({ otherwise: { stages: [], ending: { kind: 'person', person: 'ada' } } })])],
  [
    'calls-lost',
    smallEstate([
      ada({ otherwise: { stages: [], ending: { kind: 'mailbox' } } }, { mailbox: { enabled: false } }),
    ]),
  ],
  ['forward-forgotten', smallEstate([ada({}, line({ forwardAll: { kind: 'mailbox' } }))])],
  [
    'forward-to-voicemail',
    smallEstate([ada({}, line({ forwardAll: { kind: 'endpoint', endpoint: 'ada-mobile' } }))]),
  ],
  [
    'restart-owed',
    smallEstate([ada({}, { endpoints: [{ id: 'ada-old', label: 'Old phone', kind: 'desk' }] })]),
  ],
  ['rule-never-fires', smallEstate([ada({ rules: [rule('a', {}), rule('b', { status: ['on'] })] })])],
  ['never-switched-on', smallEstate([ada(both({ enabled: false }))])],
  ['never-rings', smallEstate([ada({})])],
  ['no-line', smallEstate([ada({}, { lines: [] })])],
  [
    'hot-desk-only',
    smallEstate([ada({}, { endpoints: [{ id: 'ada-desk', label: 'Shared desk', kind: 'hot-desk' }] })]),
  ],
  [
    'app-asleep',
    smallEstate([
      ada({}, { endpoints: [{ id: 'ada-desk', label: 'App', kind: 'mobile-app', wakes: false }] }),
    ]),
  ],
  [
    'app-poor-line',
    smallEstate(
      [
        ada(
          { otherwise: ringing([{ endpoint: 'ada-app' }]) },
          { endpoints: [{ id: 'ada-app', label: 'App', kind: 'desktop-app', path: { site: 'home' } }] },
        ),
      ],
      {
        sites: [
          {
            ...HOME,
            line: { at: '2026-11-20T10:00:00Z', delayMs: 200, jitterMs: 40, lossPercent: 6 },
          },
        ],
      },
    ),
  ],
  [
    'answers-by-itself',
    smallEstate([
      ada(
        { otherwise: ringing([{ endpoint: 'h' }]) },
        { endpoints: [{ id: 'h', label: 'Home', kind: 'landline', number: '+12505550130' }] },
      ),
    ]),
  ],
  ['mailbox-off', smallEstate([ada(toBen('mailbox')), { ...ben, mailbox: { enabled: false } }])],
  ['leads-to-leaver', smallEstate([ada(toBen('mailbox')), left])],
  ['leaver-reaches-out', smallEstate([ada(both({}), { status: 'left' })])],
  [
    'weak-code',
    smallEstate([
      ada({
        otherwise: {
          stages: [{ code: { digits: '1234', withinMs: 5000, wrong: { kind: 'mailbox' } } }],
          ending: { kind: 'mailbox' },
        },
      }),
    ]),
  ],
  ['shows-foreign-number', smallEstate([ada(both({ present: '+12505550177' }))])],
  [
    'departed-from-template',
    smallEstate([ada({}, { template: 't' })], {
      templates: [{ id: 't', name: 'T', plan: { rules: [], otherwise: ringing([]) } }],
    }),
  ],
  [
    'cover-over',
    smallEstate([ada({}, line({ forwardAll: { kind: 'mailbox' }, forwardUntil: '2026-11-01T00:00:00Z' }))]),
  ],
  [
    'more-legs-than-channels',
    smallEstate([ada(both({}))], {
      trunks: [{ id: 't', name: 'T', channels: 1, carries: ['local', 'national'] }],
    }),
  ],
  [
    'waits-for-nobody',
    smallEstate([
      ada({ otherwise: { stages: [], ending: { kind: 'queue', maxMs: 60_000, then: { kind: 'mailbox' } } } }),
    ]),
  ],
  ['group-empty', smallEstate([ada({})], { groups: [crewOf({ members: [] })] })],
  ['group-leaver', smallEstate([ada({}), left], { groups: [crewOf({ members: [{ person: 'ben' }] })] })],
  ['group-rings-too-short', smallEstate([ada({})], { groups: [crewOf({ ringMs: 5000 })] })],
  [
    'group-takes-trunk',
    smallEstate([ada(both({}))], {
      groups: [crewOf()],
      trunks: [{ id: 't', name: 'T', channels: 1, carries: ['local', 'national'] }],
    }),
  ],
  [
    'menu-leads-to-leaver',
    smallEstate([ada({}), left], { menus: [mainMenu({ otherwise: { kind: 'person', person: 'ben' } })] }),
  ],
  [
    'menu-has-no-last-rule',
    smallEstate([ada({})], { menus: [mainMenu({ when: { schedule: { id: 'office', inside: true } } })] }),
  ],
  [
    'two-on-one-number',
    smallEstate([ada({}), { ...ben, endpoints: [...ben.endpoints, { ...ada({}).endpoints[1]!, id: 'x' }] }]),
  ],
  [
    'schedule-over',
    smallEstate([], {
      schedules: [{ ...office, weekly: [], open: [{ date: '2026-01-01', from: '08:00', to: '09:00' }] }],
    }),
  ],
  ['no-holidays', smallEstate([])],
  [
    'premium-open',
    smallEstate([ada({}, { permission: 'p' })], {
      permissions: [{ id: 'p', name: 'P', allow: ['premium'] }],
      trunks: [{ id: 't', name: 'T', channels: 1, carries: ['premium'] }],
    }),
  ],
  [
    'toll-reach',
    smallEstate([ada({ otherwise: { stages: [], ending: { kind: 'number', number: premium } } })]),
  ],
  [
    'toll-reach-of-group',
    smallEstate([ada({})], { groups: [crewOf({ ending: { kind: 'number', number: premium } })] }),
  ],
  [
    'toll-reach-of-menu',
    smallEstate([ada({})], { menus: [mainMenu({ otherwise: { kind: 'number', number: premium } })] }),
  ],
  ['dial-plan-contradicts', smallEstate([ada({}, line({ extension: '9101' }))])],
  [
    'trunk-small',
    smallEstate([ada(both({}))], {
      trunks: [{ id: 't', name: 'T', channels: 1, carries: ['local', 'national'] }],
    }),
  ],
  ['template-unused', smallEstate([], { templates: [{ id: 't', name: 'T', plan: ada({}).plan }] })],
  ['device-factory-password', withDevice({ passwordChanged: false })],
  ['device-old-firmware', withDevice({ firmware: '3.3.9' })],
  ['device-keys', withDevice({ keys: [{ at: 99, use: 'twinning' }] })],
  ['device-unknown-model', withDevice({ model: 'unheard-of' })],
  ['device-nat-method', withDevice({ natMethod: 'turn', remoteRegistration: true })],
  ['device-not-let-in', withDevice({ natMethod: 'border-controller' })],
  ['desk-left-signed-on', withDevice({ signedOn: { person: 'ada', since: '2026-11-24T18:00:00Z' } })],
  [
    'site-sip-helper',
    withDevice({ natMethod: 'stun', remoteRegistration: true }, { sipAlg: 'breaks-contact' }),
  ],
  [
    'way-broken',
    smallEstate([ada({})], {
      sites: [
        {
          ...HOME,
          network: {
            boxes: [
              { id: 'r', name: 'Router', in: 'internet', inside: '192.168.1.1', outside: '203.0.113.7' },
            ],
          },
        },
      ],
      devices: [{ ...GOOD, natMethod: 'direct', remoteRegistration: true }],
      servers: [
        { id: 's', name: 'System', kind: 'system', in: 'internet', address: '198.51.100.10' },
        { id: 'b', name: 'Border', kind: 'border-controller', in: 'internet', address: '198.51.100.40' },
      ],
    }),
  ],
  ['relay-address', withDevice({}, { relay: { device: 'd1', alwaysOn: true } })],
  ['relay-not-always-on', withDevice({}, { stableAddress: true, relay: { device: 'd1', alwaysOn: false } })],
  [
    'relay-stops-reach',
    smallEstate(
      [
        ada({
          otherwise: {
            stages: [{ ring: [{ endpoint: 'ada-desk' }], forMs: 20_000 }],
            ending: { kind: 'hang-up', message: 'closed' },
          },
        }),
      ],
      {
        sites: [{ ...HOME, stableAddress: true, relay: { device: 'r1', alwaysOn: true } }],
        devices: [
          { ...GOOD, id: 'd1', natMethod: 'branch-relay' },
          { ...GOOD, id: 'r1', name: 'Relay', endpoint: undefined },
        ],
      },
    ),
  ],
  [
    'desk-promise-broken',
    smallEstate([{ ...ada({}), roster: [{ schedule: 'office', site: 'hall' }] }], {
      schedules: [office],
      sites: [
        {
          id: 'hall',
          name: 'Hall',
          kind: 'office',
          civic: { country: 'CA' },
          deskPromises: [{ schedule: 'office', keeps: 0.99 }, { keeps: 0.5 }],
        },
      ],
      devices: [],
    }),
  ],
  [
    'desks-too-few',
    smallEstate([{ ...ada({}), roster: [{ schedule: 'office', site: 'hall' }] }], {
      schedules: [office],
      sites: [{ id: 'hall', name: 'Hall', kind: 'office', civic: { country: 'CA' } }],
    }),
  ],
  [
    'no-desk-allows',
    smallEstate([{ ...ada({}), roster: [{ schedule: 'office', site: 'hall' }] }], {
      schedules: [office],
      sites: [{ id: 'hall', name: 'Hall', kind: 'office', civic: { country: 'CA' } }],
      devices: [{ id: 'd', name: 'D', model: 'gannet-20', site: 'hall' }],
      desks: [{ id: 'k', name: 'K', device: 'd', allowed: { people: [] } }],
    }),
  ],
  ['place-not-sent', withDevice({}, { kind: 'office' })],
  ['place-unknown', withApp({})],
  ['place-stale', withApp({ place: { civic: { country: 'CA' }, saidOn: '2026-08-01', by: 'Ada' } })],
  [
    'emergency-trunk-elsewhere',
    smallEstate([], { sites: [{ id: 'hall', name: 'Hall', kind: 'office', emergencyTrunk: 'other' }] }),
  ],
  ['no-call-back', smallEstate([ada({}, line({ numbers: [] }))])],
  ['access-by-number-alone', withAccess({}, ABROAD)],
  ['access-for-nobody', withAccess({ knows: false, pin: 'never' })],
  ['nothing-to-show', withAccess({}, line({ numbers: [] }))],
  ['number-screened', screenedBy(['+1604'], 'refuses')],
  ['seat-cannot-pass', passing(premium, ['local'])],
  ['seat-to-watched-number', passing(premium, ['premium'])],
  ['seat-in-no-group', smallEstate([], { seats: [{ id: 's', name: 'S', extension: '4551' }] })],
  [
    'seat-to-own-number',
    smallEstate([ada({})], {
      seats: [
        {
          id: 's',
          name: 'S',
          extension: '4551',
          unattended: { passTo: { number: ada({}).lines[0]!.numbers[0]! } },
        },
      ],
    }),
  ],
  [
    'relay-too-small',
    smallEstate([ada({})], {
      sites: [{ ...HOME, stableAddress: true, relay: { device: 'd1', alwaysOn: true } }],
      devices: [GOOD, { ...GOOD, id: 'd2', name: 'Another', endpoint: 'ada-mobile' }],
    }),
  ],
];
