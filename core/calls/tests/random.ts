import fc from 'fast-check';
import {
  SEAT_STATES,
  type Arrival,
  type Ending,
  type Endpoint,
  type Estate,
  type Group,
  type Menu,
  type Person,
  type RingTarget,
  type Rule,
  type Seat,
  type SeatMember,
  type SimpleEnding,
  type Stage,
  type Treatment,
  type When,
} from '../../estate';
import { ENDPOINT_STATES, type Call, type EndpointBehaviour, type Press, type SeatInCall } from '../engine';
/** Random small estates and calls, their times drawn from few values so that many things fall on one instant. */
const PEOPLE = ['ada', 'ben', 'cleo'] as const;
const KINDS = ['desk', 'mobile-app', 'mobile', 'landline'] as const;
const endpointIds = PEOPLE.flatMap((person) => KINDS.map((kind) => `${person}-${kind}`));
const SEATS = ['north', 'south', 'night-desk'] as const;
const NUMBERS = {
  mobile: ['+17785550101', '+17785550102', '+17785550103'],
  landline: ['+12505550111', '+14165550112', '+442079460000'],
};
const ms = fc.constantFrom(0, 1000, 2000, 3000, 5000, 8000, 12_000, 20_000);
const long = fc.constantFrom(1000, 5000, 10_000, 20_000, 30_000);
const some = <T>(value: fc.Arbitrary<T>) => fc.option(value, { nil: undefined, freq: 2 });
const tidy = <T extends object>(object: T): T =>
  Object.fromEntries(Object.entries(object).filter(([, value]) => value !== undefined)) as T;
const ARRIVAL_SETS: readonly (readonly Arrival[])[] = [
  ['direct'],
  ['group', 'forwarded'],
  ['direct', 'menu', 'group'],
  [],
];
const LINE = { at: '2026-11-20T10:00:00Z', delayMs: 30, jitterMs: 5, lossPercent: 0.2 };
const schedule = fc.record({ id: fc.constantFrom('office', 'night'), inside: fc.boolean() });

export const target: fc.Arbitrary<RingTarget> = fc
  .record({
    endpoint: fc.constantFrom(...endpointIds),
    enabled: fc.constantFrom(undefined, undefined, undefined, false),
    delayMs: some(ms),
    acceptAfterMs: some(ms),
    giveUpAfterMs: some(long),
    confirm: fc.constantFrom(undefined, undefined, 'none' as const, 'key' as const, 'key-name' as const),
    arrivals: fc.option(fc.constantFrom(...ARRIVAL_SETS), { nil: undefined, freq: 2 }),
    schedule: fc.option(schedule, { nil: undefined, freq: 2 }),
    whileRegistered: fc.option(fc.constantFrom(...endpointIds), { nil: undefined, freq: 2 }),
    unlessRegistered: fc.option(fc.constantFrom(...endpointIds), { nil: undefined, freq: 2 }),
    onlyQuality: fc.option(fc.constantFrom(1, 3.6, 4.5), { nil: undefined, freq: 2 }),
  })
  .map(tidy);

const simple: fc.Arbitrary<SimpleEnding> = fc.oneof(
  fc.constant({ kind: 'mailbox' as const }),
  fc.constantFrom(...PEOPLE).map((person) => ({ kind: 'mailbox' as const, person })),
  fc.constantFrom(...PEOPLE).map((person) => ({ kind: 'person' as const, person })),
  fc.constantFrom(...endpointIds).map((endpoint) => ({ kind: 'endpoint' as const, endpoint })),
  fc
    .constantFrom('+17785550150', '+19005550199', '+442079460001', '+1999')
    .map((number) => ({ kind: 'number' as const, number })),
  fc.constant({ kind: 'sip' as const, uri: 'sip:ada@example.test' }),
  fc.constant({ kind: 'group' as const, group: 'deck' }),
  fc.constant({ kind: 'menu' as const, menu: 'front' }),
  fc.constant({ kind: 'hang-up' as const, message: 'closed' }),
);
const ending: fc.Arbitrary<Ending> = fc.oneof(
  { weight: 4, arbitrary: simple },
  {
    weight: 1,
    arbitrary: fc.record({
      kind: fc.constant('queue' as const),
      maxMs: fc.constantFrom(1000, 20_000, 45_000),
      then: simple,
    }),
  },
);
const stage: fc.Arbitrary<Stage> = fc.oneof(
  {
    weight: 5,
    arbitrary: fc.record({ ring: fc.array(target, { maxLength: 4 }), forMs: long }),
  },
  {
    weight: 1,
    arbitrary: fc.record({
      offer: fc.record({
        greetingMs: ms,
        waitMs: ms,
        choices: fc.oneof(
          fc.constant([{ key: '1', then: 'next' as const }]),
          simple.map((then) => [{ key: '2', then }]),
        ),
      }),
    }),
  },
  {
    weight: 1,
    arbitrary: fc.record({ code: fc.record({ digits: fc.constant('42'), withinMs: ms, wrong: simple }) }),
  },
);
const treatment: fc.Arbitrary<Treatment> = fc
  .record({ stages: fc.array(stage, { maxLength: 3 }), ending, busy: some(ending) })
  .map(tidy);
const when = (person: string): fc.Arbitrary<When> =>
  fc
    .record({
      status: fc.constantFrom(undefined, undefined, ['on'], ['off'], []),
      schedule: fc.option(schedule, { nil: undefined, freq: 2 }),
      line: fc.constantFrom(undefined, undefined, [`${person}-1`], [`${person}-2`]),
      caller: fc.constantFrom(
        undefined,
        undefined,
        { class: 'internal' as const },
        { class: 'external' as const },
        { class: 'anonymous' as const },
        { class: 'listed' as const, numbers: ['+1604', '41'] },
      ),
      arrival: fc.option(fc.constantFrom(...ARRIVAL_SETS), { nil: undefined, freq: 2 }),
    })
    .map(tidy);
const rule = (id: string, person: string): fc.Arbitrary<Rule> =>
  fc.tuple(when(person), treatment).map(([w, t]) => ({ id, name: id, when: w, ...t }));

const endpoints = (person: string, i: number): fc.Arbitrary<readonly Endpoint[]> =>
  fc
    .record({
      wakes: some(fc.boolean()),
      setupMs: some(ms),
      mailboxAfterMs: fc.constantFrom(undefined, null, 0, 5000, 20_000),
      offAnswerMs: some(ms),
      site: fc.constantFrom(undefined, 'unmeasured', 'good', 'poor'),
    })
    .map(({ wakes, setupMs, mailboxAfterMs, offAnswerMs, site }) => [
      { id: `${person}-desk`, label: 'Desk', kind: 'desk' },
      tidy({
        id: `${person}-mobile-app`,
        label: 'App',
        kind: 'mobile-app' as const,
        wakes,
        path: site === undefined ? undefined : { site },
      }),
      tidy({
        id: `${person}-mobile`,
        label: 'Mobile',
        kind: 'mobile' as const,
        number: NUMBERS.mobile[i]!,
        knownAs: wakes,
        setupMs,
        mailboxAfterMs,
        offAnswerMs,
      }),
      { id: `${person}-landline`, label: 'Home', kind: 'landline', number: NUMBERS.landline[i]! },
    ]);

const person = (id: string, i: number): fc.Arbitrary<Person> =>
  fc
    .record({
      status: fc.constantFrom('on', 'off'),
      permission: fc.constantFrom('all', 'little'),
      maxCalls: fc.constantFrom(1, 1, 1, 2),
      mailbox: fc.constantFrom(undefined, undefined, { enabled: false }),
      forwardAll: fc.option(simple, { nil: undefined, freq: 2 }),
      forwardUntil: fc.constantFrom(undefined, '2026-11-24T10:00:00-07:00', '2026-11-28T23:00:20-07:00'),
      forwardAfter: fc.option(simple, { nil: undefined, freq: 2 }),
      endpoints: endpoints(id, i),
      rules: fc.tuple(rule('first', id), rule('second', id)),
      otherwise: treatment,
    })
    .map(({ forwardAll, forwardUntil, forwardAfter, rules, otherwise, ...rest }) =>
      tidy({
        id,
        name: id,
        ...rest,
        lines: [
          tidy({
            id: `${id}-1`,
            extension: `410${i}`,
            numbers: [`+1250555013${i}`],
            forwardAll,
            forwardUntil: forwardAll ? forwardUntil : undefined,
            forwardAfter: forwardAll && forwardUntil ? forwardAfter : undefined,
          }),
          { id: `${id}-2`, extension: `440${i}`, numbers: [] },
        ],
        plan: { rules, otherwise },
      }),
    );

const group: fc.Arbitrary<Group> = fc
  .record({
    mode: fc.constantFrom(
      'simultaneous' as const,
      'linear' as const,
      'circular' as const,
      'longest-idle' as const,
      'by-rank' as const,
    ),
    members: fc.array(
      fc.oneof(
        fc.constantFrom(...PEOPLE).map((id) => ({ person: id })),
        fc.constantFrom(...endpointIds).map((id) => ({ endpoint: id })),
        fc
          .record({ seat: fc.constantFrom(...SEATS), rank: fc.constantFrom(undefined, 1, 2, 9) })
          .map((member) => tidy<SeatMember>(member)),
      ),
      { minLength: 1, maxLength: 4 },
    ),
    ringMs: long,
    ending,
  })
  .map((rest) => ({
    id: 'deck',
    name: 'Deck',
    extension: '4200',
    permission: 'all',
    ...rest,
    ending: ownMailbox(rest.ending),
  }));
/** A mailbox of a group or menu names its person. */
const ownMailbox = <E extends Ending>(given: E): E =>
  given.kind === 'mailbox' && given.person === undefined
    ? { ...given, person: 'ben' }
    : given.kind === 'queue'
      ? { ...given, then: ownMailbox(given.then) }
      : given;
const menu: fc.Arbitrary<Menu> = fc
  .record({ greetingMs: ms, waitMs: ms, one: simple, none: simple, inside: fc.boolean() })
  .map(({ greetingMs, waitMs, one, none, inside }) => {
    const rest = { greetingMs, waitMs, otherwise: ownMailbox(none) };
    return {
      id: 'front',
      name: 'Front',
      extension: '4300',
      permission: 'little',
      rules: [
        {
          id: 'hours',
          when: { schedule: { id: 'office', inside } },
          ...rest,
          choices: [{ key: '1', then: ownMailbox(one) }],
        },
        { id: 'last', when: {}, ...rest, choices: [] },
      ],
    };
  });

const seat = (id: string, i: number): fc.Arbitrary<Seat> =>
  fc
    .record({
      callsAtOnce: fc.constantFrom(undefined, undefined, 2),
      ringMs: some(long),
      unattended: fc.option(
        fc.oneof(
          fc
            .record({
              passTo: fc.constantFrom({ number: '+17785550150' }, { number: '+17785550102' }),
              confirm: fc.constantFrom(undefined, 'none' as const, 'key-name' as const),
            })
            .map((passing) => tidy<NonNullable<Seat['unattended']>>(passing)),
          fc.constant({ passTo: { sip: 'sip:desk@partner.example' } }),
          fc.constant({ play: 'closed' }),
        ),
        { nil: undefined, freq: 3 },
      ),
    })
    .map((rest) => tidy<Seat>({ id, name: id, extension: `450${i}`, ...rest }));

export const estate: fc.Arbitrary<Estate> = fc
  .record({
    seats: fc.tuple(...SEATS.map(seat)),
    people: fc.tuple(...PEOPLE.map(person)),
    group,
    menu,
    channels: fc.constantFrom(0, 1, 2, 9),
    spare: fc.constantFrom(0, 1, 9),
    hopLimit: fc.constantFrom(1, 3, 10),
  })
  .map(({ people, seats, channels, spare, hopLimit, ...one }) => ({
    format: 'hostler-estate/1',
    name: 'Random',
    timeZone: 'America/Vancouver',
    settings: { hopLimit },
    dialling: {
      country: 'CA',
      areaCodes: ['250', '778'],
      outsideCode: '9',
      nationalPrefix: '1',
      internationalPrefix: '011',
      extensionDigits: 4,
    },
    permissions: [
      { id: 'all', name: 'All', allow: ['local', 'national', 'mobile', 'international', 'premium'] },
      { id: 'little', name: 'Little', allow: ['local'], denyPrefixes: ['+17785550102'] },
    ],
    trunks: [
      { id: 'quay', name: 'Quay', channels, carries: ['local', 'national'] },
      { id: 'spare', name: 'Spare', channels: spare, carries: ['local', 'international'] },
    ],
    schedules: [
      {
        id: 'office',
        name: 'Office',
        timeZone: 'America/Vancouver',
        weekly: [{ days: ['mon', 'tue', 'wed', 'thu', 'fri'], from: '08:00', to: '17:00' }],
        closed: ['2026-12-25'],
      },
      {
        id: 'night',
        name: 'Night',
        timeZone: 'Europe/London',
        weekly: [{ days: ['tue', 'sat'], from: '22:00', to: '06:00' }],
      },
    ],
    statuses: [
      { id: 'on', name: 'On' },
      { id: 'off', name: 'Off' },
    ],
    sites: [
      { id: 'unmeasured', name: 'Unmeasured', kind: 'home' as const },
      { id: 'good', name: 'Good', kind: 'home' as const, line: LINE },
      { id: 'poor', name: 'Poor', kind: 'home' as const, line: { ...LINE, lossPercent: 12 } },
    ],
    people,
    seats,
    groups: [one.group],
    menus: [one.menu],
  }));

const behaviour: fc.Arbitrary<EndpointBehaviour> = fc
  .record({
    state: some(fc.constantFrom(...ENDPOINT_STATES)),
    setupMs: some(ms),
    answerAfterMs: some(fc.oneof(ms, fc.constant(null))),
    rejectAfterMs: some(ms),
    mailboxAfterMs: fc.option(fc.constantFrom(null, 0, 3000, 12_000), { nil: undefined, freq: 2 }),
    offAnswerMs: some(ms),
    pressAfterMs: some(fc.oneof(ms, fc.constant(null))),
    refuseAfterMs: some(ms),
  })
  .map(tidy);

const seatInCall: fc.Arbitrary<SeatInCall> = fc
  .record({
    person: fc.constantFrom(undefined, ...PEOPLE),
    at: fc.oneof(
      fc.constantFrom(...endpointIds).map((endpoint) => ({ endpoint })),
      fc.constantFrom('+17785550150', '+17785550151', '+442079460000').map((number) => ({ number })),
      fc.constantFrom('sip:one@home.example', 'sip:two@home.example').map((sip) => ({ sip })),
    ),
    state: fc.constantFrom('ready' as const, 'ready' as const, 'ready' as const, ...SEAT_STATES),
    calls: fc.constantFrom(undefined, undefined, 0, 1),
    idleMs: some(ms),
  })
  .map(tidy);

export const call: fc.Arbitrary<Call> = fc
  .record({
    from: fc.constantFrom('+16045550199', '+12505550100', ...NUMBERS.mobile, '4102', null),
    to: fc.constantFrom('4100', '4101', '4102', '4200', '4300', '4401', '+12505550130', '9999'),
    at: fc.constantFrom(
      '2026-11-24T10:00:00-07:00',
      '2026-11-24T16:59:50-07:00',
      '2026-11-24T21:59:59.999Z',
      '2026-12-25T10:00:00-07:00',
      '2026-11-28T23:00:00-07:00',
    ),
    patienceMs: fc.constantFrom(undefined, undefined, undefined, 0, 5000, 20_000, 30_000),
    world: fc
      .record({
        endpoints: fc.dictionary(
          fc.constantFrom(...endpointIds, '+17785550150', 'sip:one@home.example'),
          behaviour,
          {
            maxKeys: 12,
          },
        ),
        activeCalls: fc.dictionary(fc.constantFrom(...PEOPLE), fc.constantFrom(0, 1), { maxKeys: 1 }),
        trunkUse: fc.dictionary(fc.constantFrom('quay', 'spare'), fc.constantFrom(0, 1), { maxKeys: 2 }),
        presses: fc.constantFrom<Record<string, Press>[]>(
          {},
          { offer: { key: '1', afterMs: 2000 } },
          { offer: { key: '2', afterMs: 5000 }, front: { key: '1', afterMs: 0 } },
          { front: { key: '1', afterMs: 3000 } },
        ),
        code: some(
          fc.record({ digits: fc.constantFrom('42', '43'), afterMs: fc.constantFrom(0, 2000, 20_000) }),
        ),
        groupLast: fc.constantFrom<Record<string, number>[]>({}, { deck: 0 }, { deck: 5 }),
        idleMs: fc.constantFrom<Record<string, number>[]>({}, { ben: 500, 'ada-mobile': 900 }),
        seats: fc.dictionary(fc.constantFrom(...SEATS), seatInCall),
      })
      .map(tidy),
  })
  .map(tidy);
