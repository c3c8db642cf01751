import fc from 'fast-check';
import {
  ARRIVALS,
  GROUP_MODES,
  type Ending,
  type Endpoint,
  type Estate,
  type Group,
  type Menu,
  type Person,
  type RingTarget,
  type Rule,
  type Seat,
  type SimpleEnding,
  type Stage,
  type Treatment,
  type When,
  type ReachPromise,
} from '../estate';
import { deskOf, mobileOf, smallEstate } from './small';

/**
 * Estates drawn from the whole reach model, and calls drawn at random: a proof that says "holds" must hold for each
 * of them.
 */
const NAMES = ['ada', 'ben', 'cleo', 'dan', 'eve', 'fay'] as const;
export const WHOLE_PROMISES: readonly ReachPromise[] = [
  { kind: 'own-mailbox', withinMs: 60_000 },
  { kind: 'no-carrier-voicemail' },
  { kind: 'no-cut-off', withinMs: 1000 },
  { kind: 'rings-within', withinMs: 6000 },
  { kind: 'no-silence', longestMs: 9000 },
  { kind: 'wait-at-most', longestMs: 90_000 },
  { kind: 'one-lost' },
  { kind: 'only-inside', schedule: 'office' },
  { kind: 'may-dial' },
  { kind: 'no-loop' },
  { kind: 'no-stranger', allowed: [] },
];

export const rarely = <T>(some: fc.Arbitrary<T>, weight = 1): fc.Arbitrary<T | undefined> =>
  fc.oneof({ arbitrary: fc.constant(undefined), weight: 4 }, { arbitrary: some, weight });
/** An object without the fields that are undefined. */
export const made = <T extends object>(given: { [K in keyof T]: T[K] | undefined }): T =>
  Object.fromEntries(Object.entries(given).filter(([, value]) => value !== undefined)) as T;

const arrivals = fc.subarray([...ARRIVALS], { minLength: 1, maxLength: 3 });
const schedule = fc.record({ id: fc.constant('office'), inside: fc.boolean() });

/** What a plan of somebody may be made of. */
interface Surroundings {
  readonly id: string;
  readonly people: readonly string[];
  readonly groups: readonly string[];
  readonly menus: readonly string[];
  readonly seats: readonly string[];
}
const phonesOf = (id: string) => [`${id}-desk`, `${id}-mobile`];

function target({ id, people }: Surroundings): fc.Arbitrary<RingTarget> {
  const anybodys = people.flatMap(phonesOf);
  return fc
    .record({
      endpoint: fc.oneof(
        { arbitrary: fc.constantFrom(...phonesOf(id)), weight: 5 },
        { arbitrary: fc.constantFrom(...anybodys), weight: 1 },
      ),
      delayMs: rarely(fc.constantFrom(2000, 5000, 12_000)),
      acceptAfterMs: rarely(fc.constantFrom(1000, 2500)),
      giveUpAfterMs: rarely(fc.constantFrom(8000, 14_000)),
      confirm: rarely(fc.constantFrom('key' as const, 'key-name' as const)),
      schedule: rarely(schedule),
      arrivals: rarely(arrivals),
      whileRegistered: rarely(fc.constantFrom(...anybodys)),
      unlessRegistered: rarely(fc.constantFrom(...anybodys)),
      enabled: rarely(fc.constant(false)),
    })
    .map((each) => made<RingTarget>(each as never));
}

function ending({ people, groups, menus }: Surroundings): fc.Arbitrary<SimpleEnding> {
  return fc.oneof(
    { arbitrary: fc.constant<SimpleEnding>({ kind: 'mailbox' }), weight: 6 },
    {
      arbitrary: fc.constantFrom(...people).map((person): SimpleEnding => ({ kind: 'person', person })),
      weight: 2,
    },
    {
      arbitrary: fc.constantFrom(...people).map((person): SimpleEnding => ({ kind: 'mailbox', person })),
      weight: 1,
    },
    ...(groups.length > 0
      ? [
          {
            arbitrary: fc.constantFrom(...groups).map((group): SimpleEnding => ({ kind: 'group', group })),
            weight: 2,
          },
        ]
      : []),
    ...(menus.length > 0
      ? [
          {
            arbitrary: fc.constantFrom(...menus).map((menu): SimpleEnding => ({ kind: 'menu', menu })),
            weight: 1,
          },
        ]
      : []),
    {
      arbitrary: fc
        .constantFrom(...people.flatMap(phonesOf))
        .map((endpoint): SimpleEnding => ({ kind: 'endpoint', endpoint })),
      weight: 1,
    },
    { arbitrary: fc.constant<SimpleEnding>({ kind: 'hang-up', message: 'closed' }), weight: 1 },
    { arbitrary: fc.constant<SimpleEnding>({ kind: 'number', number: '+16045550177' }), weight: 1 },
  );
}
const withQueue = (place: Surroundings): fc.Arbitrary<Ending> =>
  fc.oneof(
    { arbitrary: ending(place) as fc.Arbitrary<Ending>, weight: 6 },
    {
      arbitrary: fc
        .tuple(fc.constantFrom(15_000, 30_000), ending(place))
        .map(([maxMs, then]): Ending => ({ kind: 'queue', maxMs, then })),
      weight: 1,
    },
  );

function stage(place: Surroundings): fc.Arbitrary<Stage> {
  const ring = fc
    .tuple(
      fc.uniqueArray(target(place), { minLength: 1, maxLength: 2, selector: (each) => each.endpoint }),
      fc.constantFrom(8000, 15_000, 20_000),
    )
    .map(([some, forMs]): Stage => ({ ring: some, forMs }));
  const offer = fc.tuple(ending(place), fc.boolean()).map(([then, goesOn]): Stage => ({
    offer: {
      greeting: { text: '', says: [] },
      greetingMs: 4000,
      waitMs: 3000,
      choices: [{ key: '1', then }, ...(goesOn ? [{ key: '2', then: 'next' as const }] : [])],
    },
  }));
  const code = ending(place).map((wrong): Stage => ({ code: { digits: '4711', withinMs: 8000, wrong } }));
  return fc.oneof(
    { arbitrary: ring, weight: 8 },
    { arbitrary: offer, weight: 1 },
    { arbitrary: code, weight: 1 },
  );
}

function treatment(place: Surroundings): fc.Arbitrary<Treatment> {
  return fc
    .record({
      stages: fc.array(stage(place), { minLength: 0, maxLength: 2 }),
      ending: withQueue(place),
      busy: rarely(ending(place)),
    })
    .map((each) => made<Treatment>(each as never));
}

const when = (id: string): fc.Arbitrary<When> =>
  fc
    .record({
      schedule: rarely(schedule, 2),
      caller: rarely(
        fc.constantFrom(
          { class: 'internal' as const },
          { class: 'external' as const },
          { class: 'anonymous' as const },
          { class: 'listed' as const, numbers: ['+1604'] },
        ),
        2,
      ),
      arrival: rarely(arrivals, 2),
      line: rarely(fc.constant([`l-${id}-2`])),
      status: rarely(fc.constantFrom(['on'], ['leave'])),
    })
    .map((each) => made<When>(each as never));

function person(place: Surroundings, n: number): fc.Arbitrary<Person> {
  const { id } = place;
  return fc
    .record({
      status: fc.constantFrom('on', 'leave'),
      permission: fc.constantFrom('all', 'all', 'all', 'none'),
      maxCalls: fc.constantFrom(1, 2),
      second: fc.boolean(),
      forward: rarely(ending(place)),
      rules: fc.array(fc.tuple(when(id), treatment(place)), { minLength: 0, maxLength: 2 }),
      otherwise: treatment(place),
      pickUpMs: fc.constantFrom(null, 10_000, 18_000),
    })
    .map(({ second, forward, rules, otherwise, pickUpMs, ...rest }): Person => {
      const endpoints: Endpoint[] = [
        deskOf(id),
        { ...mobileOf(id, n), mailboxAfterMs: pickUpMs } as Endpoint,
      ];
      return {
        id,
        name: id,
        ...rest,
        lines: [
          {
            id: `l-${id}`,
            extension: `410${n}`,
            numbers: [],
            ...(forward === undefined ? {} : { forwardAll: forward }),
          },
          ...(second ? [{ id: `l-${id}-2`, extension: `420${n}`, numbers: [] }] : []),
        ],
        endpoints,
        plan: {
          rules: rules.map(([{ line, ...on }, does], i): Rule => ({
            id: `r${i}`,
            name: `Rule ${i}`,
            when: line && second ? { ...on, line } : on,
            ...does,
          })),
          otherwise,
        },
      };
    });
}

const group = (place: Surroundings, id: string, n: number): fc.Arbitrary<Group> =>
  fc
    .record({
      mode: fc.constantFrom(...GROUP_MODES),
      members: fc.uniqueArray(
        fc.oneof(
          { arbitrary: fc.constantFrom(...place.people).map((each) => ({ person: each })), weight: 4 },
          {
            arbitrary: fc.constantFrom(...place.people.flatMap(phonesOf)).map((each) => ({ endpoint: each })),
            weight: 1,
          },
          ...(place.seats.length > 0
            ? [
                {
                  arbitrary: fc
                    .tuple(fc.constantFrom(...place.seats), fc.constantFrom(1, 2))
                    .map(([seat, rank]) => ({ seat, rank })),
                  weight: 4,
                },
              ]
            : []),
        ),
        { minLength: 1, maxLength: 3, selector: (each) => JSON.stringify(each) },
      ),
      ringMs: fc.constantFrom(8000, 15_000),
      ending: withQueue({ ...place, groups: [] }),
    })
    .map((each): Group => ({
      id,
      name: id,
      extension: `430${n}`,
      permission: 'all',
      ...each,
      // A group has no mailbox of its own.
      ending: ownerless(each.ending, place.people[0]!),
    }));
const ownerless = (given: Ending, person: string): Ending =>
  given.kind === 'queue'
    ? { ...given, then: ownerless(given.then, person) as SimpleEnding }
    : given.kind === 'mailbox' && given.person === undefined
      ? { ...given, person }
      : given;

const menu = (place: Surroundings): fc.Arbitrary<Menu> =>
  fc.tuple(ending(place), ending(place), rarely(schedule)).map(([then, otherwise, hours]): Menu => ({
    id: 'main',
    name: 'main',
    extension: '4000',
    permission: 'all',
    rules: [
      ...(hours
        ? [
            {
              id: 'hours',
              when: { schedule: hours },
              greetingMs: 2000,
              waitMs: 2000,
              choices: [],
              otherwise: ownerless(otherwise, place.people[0]!) as SimpleEnding,
            },
          ]
        : []),
      {
        id: 'all',
        when: {},
        greetingMs: 3000,
        waitMs: 3000,
        choices: [{ key: '1', then: ownerless(then, place.people[0]!) as SimpleEnding }],
        otherwise: ownerless(otherwise, place.people[0]!) as SimpleEnding,
      },
    ],
  }));

const seatOf = (id: string, n: number): fc.Arbitrary<Seat> =>
  fc
    .record({
      ringMs: fc.constantFrom(undefined, 5000),
      unattended: rarely(
        fc.constantFrom<NonNullable<Seat['unattended']>[]>(
          { play: 'closed' },
          { passTo: { number: '+17785550190' } },
          { passTo: { number: '+17785550190' }, confirm: 'none' },
          { passTo: { sip: 'sip:desk@partner.example' } },
        ),
        3,
      ),
    })
    .map((rest): Seat => made<Seat>({ id, name: id, extension: `450${n}`, ...rest } as never));

/** An estate of three to six people, one or two groups and perhaps a menu. */
export const wholeEstate: fc.Arbitrary<Estate> = fc
  .tuple(
    fc.integer({ min: 3, max: 6 }),
    fc.integer({ min: 1, max: 2 }),
    fc.boolean(),
    fc.constantFrom(0, 0, 2),
  )
  .chain(([count, groupCount, hasMenu, seatCount]) => {
    const people = NAMES.slice(0, count);
    const groups = ['crew', 'desk'].slice(0, groupCount);
    const menus = hasMenu ? ['main'] : [];
    const seats = ['north', 'south'].slice(0, seatCount);
    const place = (id: string): Surroundings => ({ id, people, groups, menus, seats });
    return fc
      .tuple(
        fc.tuple(...people.map((id, n) => person(place(id), n))),
        fc.tuple(...groups.map((id, n) => group(place(people[0]!), id, n))),
        hasMenu ? menu(place(people[0]!)).map((each) => [each]) : fc.constant([] as Menu[]),
        fc.tuple(...seats.map(seatOf)),
      )
      .map(([all, crews, some, sat]) =>
        smallEstate(all, { groups: crews, menus: some, ...(sat.length > 0 ? { seats: sat } : {}) }),
      );
  });
