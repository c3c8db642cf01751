import {
  INTERNET,
  type BoxFile,
  type Device,
  type Person,
  type ServerFile,
  type Site,
  type Desk,
  type RosterEntry,
} from '../core/estate';
import { MODELS } from '../core/devices/phones';

/** A router as most homes have one. */
const router = (outside: string, more: Partial<BoxFile> = {}): BoxFile => ({
  id: 'router',
  name: 'Home router',
  in: INTERNET,
  inside: '192.168.1.1',
  outside,
  ...more,
});

/** The phone system stands in the harbour terminal's network; what is for it is forwarded. */
const SYSTEM_ADDRESS = '10.0.0.10';
const OFFICE: BoxFile = {
  id: 'office',
  name: 'Terminal router',
  in: INTERNET,
  inside: '10.0.0.1',
  outside: '198.51.100.2',
  forwards: [
    { proto: 'udp', ports: '5060', to: SYSTEM_ADDRESS },
    { proto: 'tcp', ports: '5060-5061', to: SYSTEM_ADDRESS },
    { proto: 'udp', ports: '10000', to: SYSTEM_ADDRESS },
  ],
};
/** The organisation's servers; all addresses are of RFC 5737 and RFC 1918. */
export const SERVERS: readonly ServerFile[] = [
  {
    id: 'system',
    name: 'Phone system',
    kind: 'system',
    in: 'harbour/office',
    address: SYSTEM_ADDRESS,
    public: '198.51.100.2',
  },
  {
    id: 'border-controller',
    name: 'Border controller',
    kind: 'border-controller',
    in: INTERNET,
    address: '198.51.100.40',
  },
  { id: 'stun', name: 'STUN server', kind: 'stun', in: INTERNET, address: '198.51.100.20' },
  { id: 'turn', name: 'TURN server', kind: 'turn', in: INTERNET, address: '198.51.100.30' },
];

/** The terminals, the yard and the homes in which phones of the ferry line stand. */
export const SITES: readonly Site[] = [
  {
    id: 'harbour',
    name: 'Harbour terminal',
    kind: 'office',
    address: '1 Ferry Road, Skerrow',
    civic: { country: 'CA', A1: 'BC', A3: 'Skerrow', RD: 'Ferry Road', HNO: '1' },
    emergencyTrunk: 'terminal',
    stableAddress: true,
    network: { boxes: [OFFICE] },
    deskPromises: [
      { schedule: 'early', keeps: 0.99 },
      { schedule: 'late', keeps: 0.99 },
    ],
  },
  {
    id: 'yard',
    name: 'The yard',
    kind: 'office',
    address: '9 Slipway Lane, Skerrow',
    emergencyTrunk: 'overseas',
    stableAddress: true,
  },
  {
    id: 'north-landing',
    name: 'North Landing',
    kind: 'branch',
    address: 'North Landing wharf',
    relay: { device: 'north-landing-relay', alwaysOn: false },
    network: { boxes: [router('203.0.113.30', { name: 'Wharf router' })] },
  },
  {
    id: 'home-ruth',
    name: 'Ruth’s home',
    kind: 'home',
    sipAlg: 'breaks-contact',
    network: { boxes: [router('203.0.113.7')] },
  },
  {
    id: 'home-priya',
    name: 'Priya’s home',
    kind: 'home',
    sipAlg: 'none',
    network: {
      boxes: [router('203.0.113.18', { udpTimeoutS: 30, udpStreamTimeoutS: 120, sharesPorts: true })],
    },
  },
];

/** Locally administered addresses (IEEE 802, second bit of the first octet), so that they belong to nobody. */
const address = (n: number): string =>
  `02F0${(0x10_00_00_00 + n * 0x11).toString(16).toUpperCase().padStart(8, '0')}`;

/** What is not as it should be, by endpoint. */
const SPECIAL: Readonly<Record<string, Partial<Device>>> = {
  'ruth-desk': { site: 'home-ruth', natMethod: 'stun', remoteRegistration: true },
  'priya-desk': {
    site: 'home-priya',
    natMethod: 'border-controller',
    remoteRegistration: true,
    path: { keepAliveS: 45 },
  },
  'gita-yarrow-desk': { site: 'north-landing', natMethod: 'branch-relay' },
  'noor-desk': { passwordChanged: false },
  'mateo-desk': { firmware: '3.2.1' },
};

/** Shared desks in the harbour hall: a few too few for the early shift. */
const DESKS = 17;
const AT_WINDOW = 9;
const MORNING_ONLY = 2;
/** Desks at which nobody is signed off at the end of the shift. */
const STAY = 2;

/** Along two walls: five desks across, then down at the right. */
const alongWall = (n: number) => (n < 5 ? { column: n + 1, row: 1 } : { column: 5, row: n - 3 });

const HARBOUR_DESKS: readonly Desk[] = Array.from({ length: DESKS }, (_each, n) => ({
  id: `hall-${n + 1}`,
  name: `Hall desk ${n + 1}`,
  device: `shared-desk-${n + 1}`,
  area: n < AT_WINDOW ? 'Harbour hall, window' : 'Harbour hall, wall',
  ...(n < AT_WINDOW ? {} : { spot: alongWall(n - AT_WINDOW) }),
  taken: 'ask' as const,
  ...(n >= DESKS - STAY ? { taken: 'take-over' as const, signOff: { atShiftEnd: false } } : {}),
  ...(n < MORNING_ONLY ? { allowed: { templates: ['agents-early', 'agents-late'] } } : {}),
}));

/** The two small halls: what their desks and phones are. */
const SMALL_HALLS = [
  {
    id: 'yard',
    site: 'yard',
    desks: 5,
    name: 'Yard desk',
    area: 'Drawing office',
    says: 'drawing office',
    allowed: null,
    outside: {},
  },
  {
    id: 'landing',
    site: 'north-landing',
    desks: 3,
    name: 'Landing desk',
    area: 'Waiting room',
    says: 'North Landing',
    allowed: 'agents-late',
    outside: { natMethod: 'border-controller', remoteRegistration: true, path: { keepAliveS: 30 } },
  },
] as const;

/** The shared desks of all three halls. */
export const DESKS_OF_HALLS: readonly Desk[] = [
  ...HARBOUR_DESKS,
  ...SMALL_HALLS.flatMap(({ id, desks, name, area, allowed }) =>
    Array.from({ length: desks }, (_each, n) => ({
      id: `${id}-${n + 1}`,
      name: `${name} ${n + 1}`,
      device: `shared-${id}-${n + 1}`,
      area,
      spot: { column: n + 1, row: 1 },
      ...(allowed ? { allowed: { templates: [allowed] } } : {}),
    })),
  ),
];

/** When agents come to the halls: by the shift that their template is for. */
const SHIFTS: Readonly<Record<string, readonly RosterEntry[]>> = {
  'agents-early': [{ schedule: 'early', site: 'harbour', share: 0.7 }],
  'agents-late': [
    { schedule: 'late', site: 'harbour', share: 0.6 },
    { schedule: 'late', site: 'north-landing', share: 0.2 },
  ],
  'agents-night': [
    { schedule: 'night-watch', site: 'harbour', share: 0.5 },
    { schedule: 'night-watch', site: 'yard', share: 0.3 },
  ],
};
/** Somebody whose roster sends them to a hall whose desks are not for them. */
const SENT_AWAY = 'goran-castellane';
const WHERE_NO_DESK_IS: RosterEntry = { schedule: 'early', site: 'north-landing', share: 0.1 };

/** People with the roster that their shift gives them. */
export const withRosters = (people: readonly Person[]): readonly Person[] =>
  people.map((person, n) => {
    const roster = person.template === undefined ? undefined : SHIFTS[person.template];
    const isShared = person.endpoints.some(({ kind }) => kind === 'hot-desk');
    const { plan, ...rest } = person;
    if (!roster || !isShared) return person;
    const isSentAway = person.id === SENT_AWAY;
    // Some of them read French at whichever desk they sit.
    return {
      ...rest,
      roster: isSentAway ? [...roster, WHERE_NO_DESK_IS] : roster,
      ...(n % 5 === 0 ? { language: 'fr' } : {}),
      plan,
    };
  });

/** A phone for each desk of the estate, most of them as they should be. */
export function devicesFor(people: readonly Person[]): readonly Device[] {
  const desks = people.flatMap((person) =>
    person.endpoints
      .filter(({ kind }) => kind === 'desk' || kind === 'remote-desk')
      .map((endpoint) => ({ person, endpoint })),
  );
  const [gannet, large] = MODELS;
  const phones = desks.map(({ person, endpoint }, i): Device => {
    const model = i % 5 === 4 ? large! : gannet!;
    const remote = endpoint.kind === 'remote-desk';
    return {
      id: `phone-${endpoint.id}`,
      name: `${person.name}, ${endpoint.label}`,
      model: model.id,
      macAddress: address(i + 1),
      endpoint: endpoint.id,
      site: i % 3 === 0 ? 'yard' : 'harbour',
      firmware: model.firmwareLeast,
      passwordChanged: true,
      ...(remote ? { natMethod: 'border-controller' as const, remoteRegistration: true } : {}),
      ...SPECIAL[endpoint.id],
    };
  });
  return [
    ...phones,
    {
      id: 'north-landing-relay',
      name: 'North Landing ticket office',
      model: 'gannet-60',
      macAddress: address(900),
      site: 'north-landing',
      firmware: '3.6.2',
      passwordChanged: true,
      natMethod: 'border-controller',
      remoteRegistration: true,
      path: { keepAliveS: 30 },
    },
    {
      id: 'north-landing-gate',
      name: 'North Landing gate',
      model: 'gannet-20',
      macAddress: address(901),
      site: 'north-landing',
      firmware: '3.4.0',
      passwordChanged: true,
      natMethod: 'branch-relay',
    },
    {
      id: 'shared-desk-1',
      name: 'Shared desk 1, harbour hall',
      model: 'gannet-20',
      macAddress: address(902),
      site: 'harbour',
      firmware: '3.4.0',
      passwordChanged: true,
    },
    ...Array.from({ length: DESKS - 1 }, (_each, n): Device => ({
      id: `shared-desk-${n + 2}`,
      name: `Shared desk ${n + 2}, harbour hall`,
      // At the wall are newer ones, which need not restart for whoever signs on.
      model: n + 2 <= AT_WINDOW ? 'gannet-20' : 'gannet-60',
      macAddress: address(903 + n),
      site: 'harbour',
      firmware: n + 2 <= AT_WINDOW ? '3.4.0' : '3.6.2',
      passwordChanged: true,
    })),
    ...SMALL_HALLS.flatMap(({ id, site, desks, says, outside }, hall) =>
      Array.from({ length: desks }, (_each, n): Device => ({
        id: `shared-${id}-${n + 1}`,
        name: `Shared desk ${n + 1}, ${says}`,
        model: 'gannet-60',
        macAddress: address(930 + hall * 10 + n),
        site,
        firmware: '3.6.2',
        passwordChanged: true,
        ...outside,
      })),
    ),
  ];
}
