import { DESKS_OF_HALLS, devicesFor, SERVERS, SITES, withRosters } from './devices';
import { unsafeUniformIntDistribution, xoroshiro128plus, type RandomGenerator } from 'pure-rand';
import { carefulTarget } from '../core/editing';
import {
  ESTATE_FORMAT,
  type Endpoint,
  type Estate,
  type Person,
  type Plan,
  type Stage,
} from '../core/estate';
import { FAMILY, GIVEN } from './names';
import { ferryRoutes } from './routing';
import { withTemplates } from './templates';
import { GROUPS, MENUS, PROMISES, SEATS } from './organisation';
import { SPECIAL_PEOPLE } from './special';

/** The same seed gives the same ferry line, to the last digit. */
const SEED = 20261124;
const GENERATED = 106;

type Trade = 'agent' | 'deck' | 'engine' | 'bookings' | 'yard' | 'control' | 'seasonal';
const TRADES: readonly Trade[] = [
  'agent',
  'agent',
  'agent',
  'deck',
  'deck',
  'engine',
  'bookings',
  'yard',
  'control',
  'seasonal',
];
const TERMINALS = [
  'Skerrow Head',
  'Port Ansel',
  'Tarn Point',
  'Gull Harbour',
  'Mirren Bay',
  'Stony Narrows',
] as const;
const SHIFTS = ['early', 'late', 'night-watch'] as const;

interface Draw {
  readonly below: (n: number) => number;
  readonly of: <T>(items: readonly T[]) => T;
}

function draws(generator: RandomGenerator): Draw {
  const below = (n: number) => unsafeUniformIntDistribution(0, n - 1, generator);
  return { below, of: (items) => items[below(items.length)]! };
}

const pad = (n: number) => String(n).padStart(2, '0');
const OWN_MAILBOX = { kind: 'mailbox' } as const;

interface Made {
  readonly endpoints: readonly Endpoint[];
  readonly plan: Plan;
  readonly status: string;
}

const ringing = (...ring: Extract<Stage, { ring: unknown }>['ring']): Stage => ({ ring, forMs: 25_000 });
const offShift = {
  id: 'r-off',
  name: 'Off shift: mailbox',
  when: { status: ['off-shift', 'on-leave'] },
  stages: [],
  ending: OWN_MAILBOX,
} as const;

function make(trade: Trade, id: string, number: string, draw: Draw): Made {
  const mobile = (more: Partial<Endpoint> = {}): Endpoint => ({
    id: `${id}-mobile`,
    label: 'Mobile',
    kind: 'mobile',
    number,
    ...more,
  });
  const careful = carefulTarget(`${id}-mobile`);
  switch (trade) {
    case 'agent': {
      const shift = draw.of(SHIFTS);
      return {
        endpoints: [
          { id: `${id}-seat`, label: `Shared desk, ${draw.of(TERMINALS)}`, kind: 'hot-desk' },
          mobile(),
        ],
        status: draw.of(['on-shift', 'on-shift', 'off-shift']),
        plan: {
          rules: [offShift],
          otherwise: {
            stages: [
              ringing({ endpoint: `${id}-seat` }, { ...careful, schedule: { id: shift, inside: true } }),
            ],
            ending: OWN_MAILBOX,
          },
        },
      };
    }
    case 'deck':
    case 'engine':
      return {
        endpoints: [
          { id: `${id}-app`, label: 'Softphone', kind: 'mobile-app' },
          mobile({ mailboxAfterMs: draw.of([15_000, 20_000, 25_000]) }),
        ],
        status: draw.of(['at-sea', 'at-sea', 'on-shift', 'off-shift']),
        plan: {
          rules: [
            {
              id: 'r-sea',
              name: 'At sea: softphone, then the mobile by key',
              when: { status: ['at-sea'] },
              stages: [
                { ring: [{ endpoint: `${id}-app` }], forMs: 12_000 },
                { ring: [{ endpoint: `${id}-mobile`, confirm: 'key' }], forMs: 25_000 },
              ],
              ending: trade === 'engine' ? { kind: 'group', group: 'duty-engineers' } : OWN_MAILBOX,
            },
            offShift,
          ],
          otherwise: {
            stages: [ringing({ endpoint: `${id}-app` }, { ...careful, giveUpAfterMs: 19_000 })],
            ending: OWN_MAILBOX,
          },
        },
      };
    case 'bookings':
      return {
        endpoints: [{ id: `${id}-laptop`, label: 'Softphone on laptop', kind: 'desktop-app' }, mobile()],
        status: draw.of(['on-shift', 'on-shift', 'on-leave']),
        plan: {
          rules: [{ ...offShift, name: 'On leave: Bookings', ending: { kind: 'group', group: 'bookings' } }],
          otherwise: {
            stages: [
              ringing({ endpoint: `${id}-laptop` }, { ...careful, delayMs: 3000, giveUpAfterMs: 20_000 }),
            ],
            ending: { kind: 'group', group: 'bookings' },
          },
        },
      };
    case 'yard':
    case 'control':
      return {
        endpoints: [
          { id: `${id}-desk`, label: trade === 'yard' ? 'Yard phone' : 'Control room phone', kind: 'desk' },
          mobile(),
        ],
        status: 'on-shift',
        plan: {
          rules: [],
          otherwise: { stages: [ringing({ endpoint: `${id}-desk` }, careful)], ending: OWN_MAILBOX },
        },
      };
    case 'seasonal':
      return {
        endpoints: [mobile()],
        status: 'off-shift',
        plan: {
          rules: [
            {
              id: 'r-season',
              name: 'In the season: the mobile, by key',
              when: { schedule: { id: 'summer-2027', inside: true } },
              stages: [{ ring: [{ endpoint: `${id}-mobile`, confirm: 'key' }], forMs: 25_000 }],
              ending: OWN_MAILBOX,
            },
          ],
          otherwise: { stages: [], ending: { kind: 'hang-up', message: 'not in season' } },
        },
      };
  }
}

function generatedPeople(): Person[] {
  const draw = draws(xoroshiro128plus(SEED));
  const names = new Set<string>();
  return Array.from({ length: GENERATED }, (_, i): Person => {
    let name = `${draw.of(GIVEN)} ${draw.of(FAMILY)}`;
    while (names.has(name)) name = `${draw.of(GIVEN)} ${draw.of(FAMILY)}`;
    names.add(name);
    const id = name.toLowerCase().replaceAll(' ', '-');
    const trade = TRADES[i % TRADES.length]!;
    const extension = String(4116 + i);
    const area = ['236', '672'][i < 84 ? 0 : 1]!;
    const { status, ...rest } = make(trade, id, `+1${area}55501${pad((16 + i) % 100)}`, draw);
    return {
      id,
      name,
      status,
      permission: trade === 'seasonal' && i % 20 === 9 ? 'inside' : 'coast',
      maxCalls: trade === 'bookings' ? 3 : 2,
      lines: [
        {
          id: `l-${extension}`,
          extension,
          numbers: trade === 'seasonal' || i >= 70 ? [] : [`+1250555${extension.replace(/^4/, '0')}`],
        },
      ],
      ...rest,
    };
  });
}

/** Numbers that staff ring from their mobiles to call on from there: one for all, one at night with a PIN. */
const ACCESS_NUMBERS: Estate['accessNumbers'] = [
  { id: 'call-through', name: 'Call through', number: '+12505550195', hangUp: 'calls-back' },
  {
    id: 'night-line',
    name: 'Night line of the duty office',
    number: '+12505550196',
    pin: 'always',
    presents: 'organisation',
    schedule: { id: 'night-watch', inside: true },
  },
];
/** Tomasz shows the number of the organisation while he is away. */
const withShowing = (people: readonly Person[]): readonly Person[] =>
  people.map((person) => {
    if (person.id !== 'tomasz') return person;
    const { plan, ...rest } = person;
    return { ...rest, showing: [{ status: 'away', shows: 'organisation' }], plan };
  });

/** Skerrow Sound Ferries: a made-up ferry line on Canada's west coast. */
export function skerrowSoundFerries(): Estate {
  const zone = 'America/Vancouver';
  const everyDay = ['mon', 'tue', 'wed', 'thu', 'fri', 'sat', 'sun'] as const;
  const holidays = ['2026-12-25', '2027-01-01'];
  const crew = withTemplates(generatedPeople());
  return {
    format: ESTATE_FORMAT,
    name: 'Skerrow Sound Ferries',
    timeZone: zone,
    settings: {
      number: '+12505550100',
      fraudProtection: { prefixes: ['+53', '+232', '+371', '+960'], ownTargets: 3 },
    },
    dialling: {
      country: 'CA',
      areaCodes: ['250'],
      outsideCode: '9',
      nationalPrefix: '1',
      internationalPrefix: '011',
      extensionDigits: 4,
      codes: [
        { code: '*21', does: 'Twinning on or off', acts: 'twinning' },
        { code: '*22', does: 'Sign on or off at a shared desk', acts: 'sign-on' },
        { code: '*23', does: 'Sign on or off at a seat of a group', acts: 'seat' },
        { code: '*24', does: 'Call a number without showing mine', acts: 'withhold' },
        { code: '*25', does: 'Hear the messages of my mailbox', acts: 'messages' },
      ],
    },
    permissions: [
      {
        id: 'coast',
        name: 'Local and national',
        allow: ['local', 'national', 'mobile', 'toll-free'],
        denyPrefixes: ['+1900'],
      },
      { id: 'inside', name: 'Inside only', allow: [] },
      {
        id: 'anywhere',
        name: 'Anywhere but premium',
        allow: ['local', 'national', 'mobile', 'toll-free', 'international'],
        dayLimit: { minutes: 120, money: 4_000_000 },
      },
    ],
    trunks: [
      {
        id: 'terminal',
        name: 'Terminal trunk',
        channels: 12,
        carries: ['local', 'national', 'mobile', 'toll-free'],
      },
      {
        id: 'overseas',
        name: 'Overseas trunk',
        channels: 2,
        carries: ['international'],
        screening: { allows: ['+1250555'], otherwise: 'replaces' },
      },
    ],
    schedules: [
      {
        id: 'office',
        name: 'Office hours',
        timeZone: zone,
        weekly: [{ days: ['mon', 'tue', 'wed', 'thu', 'fri'], from: '08:00', to: '17:00' }],
        closed: holidays,
        open: [{ date: '2026-12-05', from: '09:00', to: '12:00' }],
      },
      {
        id: 'early',
        name: 'Early shift',
        timeZone: zone,
        weekly: [{ days: everyDay, from: '05:00', to: '13:00' }],
      },
      {
        id: 'late',
        name: 'Late shift',
        timeZone: zone,
        weekly: [{ days: everyDay, from: '13:00', to: '21:00' }],
      },
      {
        id: 'night-watch',
        name: 'Night watch',
        timeZone: zone,
        weekly: [{ days: everyDay, from: '22:00', to: '06:00' }],
      },
      {
        id: 'summer-2027',
        name: 'First week of the summer season 2027',
        timeZone: zone,
        weekly: [],
        open: ['2027-06-14', '2027-06-15', '2027-06-16', '2027-06-17', '2027-06-18'].map((date) => ({
          date,
          from: '06:00',
          to: '22:00',
        })),
      },
    ],
    statuses: [
      { id: 'on-shift', name: 'On shift' },
      { id: 'off-shift', name: 'Off shift' },
      { id: 'at-sea', name: 'At sea' },
      { id: 'away', name: 'Away' },
      { id: 'on-leave', name: 'On leave' },
      { id: 'left', name: 'Has left' },
    ],
    people: withShowing(withRosters([...SPECIAL_PEOPLE, ...crew.people])),
    groups: GROUPS,
    menus: MENUS,
    promises: PROMISES,
    templates: crew.templates,
    sites: SITES,
    devices: devicesFor([...SPECIAL_PEOPLE, ...crew.people]),
    servers: SERVERS,
    desks: DESKS_OF_HALLS,
    seats: SEATS,
    accessNumbers: ACCESS_NUMBERS,
    routing: ferryRoutes([...SPECIAL_PEOPLE, ...crew.people]),
  };
}
