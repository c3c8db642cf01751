import {
  type Arrival,
  type CallerTest,
  type Ending,
  type Estate,
  type Group,
  type Menu,
  type Ms,
  type Person,
  type RingTarget,
  type ScheduleId,
  type Seat,
  type Stage,
  type Treatment,
  ARRIVALS,
  DEFAULT_SEAT,
  endingsOf,
  endpointTimes,
  settingsOf,
} from '../../estate';
import { ANY_INSIDE_CALLER, ANY_OUTSIDE_CALLER, callerHolds, LAST_LEG_MS } from '../../calls/engine';
import type { OtherPlace } from './leg-behaviours';
import { repeatedEndpoints } from './repeated-endpoints';
import { seatPhones, seatTargets } from './seats';
import { treatmentEndings, firstRing, forwardsOf, openRules, openTreatments } from './plans';

/** What calls for one person can come to, as far as a proof needs it. `slice` is from `sliceFor`. */
export interface Reachable {
  readonly schedules: ReadonlySet<ScheduleId>;
  /** Endpoints that one call can ring more than once, whose behaviour then must be the same each time. */
  readonly shared: ReadonlyMap<string, readonly OtherPlace[]>;
  readonly offerKeys: readonly { readonly key: string; readonly totalMs: Ms }[];
  readonly codes: readonly { readonly digits: string; readonly withinMs: Ms }[];
  readonly menuKeys: readonly { readonly menu: string; readonly key: string; readonly totalMs: Ms }[];
  /** No call for this person looks at a schedule later than this. */
  readonly latestReadMs: Ms;
  /** One caller for each kind that any of the plans and menus tells from the others; and one arrival. */
  readonly callers: readonly (string | null)[];
  readonly arrivals: readonly Arrival[];
}

const inner = (ending: Ending): readonly Ending[] =>
  ending.kind === 'queue' ? [ending, ending.then] : [ending];
/** How long a stage can take, with every answer waiting for its confirmation. */
function longest(stage: Stage, confirmMs: Ms, nameMs: Ms, wakeMs: Ms): Ms {
  if ('ring' in stage) return stage.forMs + confirmMs + nameMs + wakeMs;
  return 'offer' in stage ? stage.offer.greetingMs + stage.offer.waitMs : stage.code.withinMs;
}

/** Every ending that a call of a slice can come to. */
const allEndings = (slice: Estate): readonly Ending[] =>
  [
    ...slice.people.flatMap((person) => [
      ...openTreatments(person).flatMap(treatmentEndings),
      ...forwardsOf(person),
    ]),
    ...[...slice.groups, ...slice.menus].flatMap(endingsOf),
  ].flatMap(inner);

const seatRingMs = (seat: Seat | undefined): Ms => seat?.ringMs ?? DEFAULT_SEAT.ringMs;

/** Every place of a slice at which an endpoint can ring. */
function placesOf(slice: Estate, personId: string, endpoint: string): readonly OtherPlace[] {
  const inPlans = slice.people.flatMap((person) =>
    openTreatments(person).flatMap(({ stages }) =>
      stages.flatMap((stage) =>
        'ring' in stage
          ? stage.ring
              .filter((target) => target.endpoint === endpoint)
              .map((target) => ({ target, ringMs: stage.forMs - (target.delayMs ?? 0) }))
          : [],
      ),
    ),
  );
  const phones = seatPhones(slice, personId);
  // A group rings for a time of its own, with the first targets of its members; a seat by rank for its own.
  const inGroups = slice.groups.flatMap(({ members, ringMs, mode }) =>
    members.flatMap((member): readonly OtherPlace[] => {
      const rings = (targets: readonly RingTarget[], forMs: Ms) =>
        targets
          .filter((each) => each.endpoint === endpoint)
          .map((target) => ({ target, ringMs: forMs - (target.delayMs ?? 0) }));
      if ('endpoint' in member) return rings([{ endpoint: member.endpoint }], ringMs);
      if ('seat' in member) {
        const seat = phones.get(member.seat);
        return rings(seatTargets(seat), mode === 'by-rank' ? seatRingMs(seat?.seat) : ringMs);
      }
      const person = slice.people.find(({ id }) => id === member.person);
      return rings((person ? openTreatments(person) : []).flatMap(firstRing), ringMs);
    }),
  );
  const isLast = allEndings(slice).some(
    (ending) =>
      (ending.kind === 'endpoint' && ending.endpoint === endpoint) ||
      (ending.kind === 'number' && ending.number === endpoint) ||
      (ending.kind === 'sip' && ending.uri === endpoint),
  );
  const last: readonly OtherPlace[] = isLast ? [{ target: { endpoint }, ringMs: LAST_LEG_MS }] : [];
  const distinct = new Map([...inPlans, ...inGroups, ...last].map((place) => [JSON.stringify(place), place]));
  return [...distinct.values()];
}

/** The first of each kind that the tests tell apart. */
function oneOfEach<T, U>(
  all: readonly T[],
  tests: readonly U[],
  holds: (test: U, each: T) => boolean,
): readonly T[] {
  const kinds = new Map<string, T>();
  for (const each of all) {
    const kind = tests.map((test) => (holds(test, each) ? '1' : '0')).join('');
    if (!kinds.has(kind)) kinds.set(kind, each);
  }
  return [...kinds.values()];
}

/** Goes once through what calls for a person can come to, and gathers what a proof has to vary. */
export function reachableIn(slice: Estate, personId: string): Reachable {
  const { confirmWithinMs, recordNameMs } = settingsOf(slice.settings);
  const schedules = new Set<string>();
  const offerKeys: Reachable['offerKeys'][number][] = [];
  const codes: Reachable['codes'][number][] = [];
  const menuKeys: Reachable['menuKeys'][number][] = [];
  const callerTests: CallerTest[] = [];
  const arrivalTests: (readonly Arrival[])[] = [];
  let latestReadMs = 0;
  const wakeMs = Math.max(
    0,
    ...slice.people.flatMap((person) => person.endpoints.map((endpoint) => endpointTimes(endpoint).wakeMs)),
  );

  const seeWhen = (when: Person['plan']['rules'][number]['when']) => {
    if (when.schedule) schedules.add(when.schedule.id);
    if (when.caller) callerTests.push(when.caller);
    if (when.arrival) arrivalTests.push(when.arrival);
  };
  const seeTarget = (target: RingTarget) => {
    if (target.schedule) schedules.add(target.schedule.id);
    if (target.arrivals) arrivalTests.push(target.arrivals);
  };
  /** Gathers what a treatment looks at; how long it can take. */
  const seeTreatment = (treatment: Treatment): Ms => {
    let longestMs = 0;
    for (const stage of treatment.stages) {
      longestMs += longest(stage, confirmWithinMs, recordNameMs, wakeMs);
      if ('ring' in stage) {
        stage.ring.forEach(seeTarget);
      } else if ('offer' in stage) {
        const totalMs = stage.offer.greetingMs + stage.offer.waitMs;
        for (const { key } of stage.offer.choices) offerKeys.push({ key, totalMs });
      } else codes.push({ digits: stage.code.digits, withinMs: stage.code.withinMs });
    }
    for (const ending of treatmentEndings(treatment)) if (ending.kind === 'queue') longestMs += ending.maxMs;
    return longestMs;
  };
  const people = new Map(slice.people.map((person) => [person.id, person]));
  const groups = new Map(slice.groups.map((group) => [group.id, group]));
  const menus = new Map(slice.menus.map((menu) => [menu.id, menu]));
  const seen = new Set<unknown>();
  const todo: Ending[] = [{ kind: 'person', person: personId }];
  const follow = (endings: readonly Ending[]) => todo.push(...endings.flatMap(inner));

  const seePerson = (person: Person) => {
    let longestMs = 0;
    for (const rule of openRules(person)) seeWhen(rule.when);
    for (const treatment of openTreatments(person)) {
      longestMs = Math.max(longestMs, seeTreatment(treatment));
      follow(treatmentEndings(treatment));
    }
    follow(forwardsOf(person));
    latestReadMs += longestMs;
  };
  const seeGroup = (group: Group) => {
    for (const member of group.members) {
      const person = 'person' in member ? people.get(member.person) : undefined;
      if (!person) continue;
      for (const rule of openRules(person)) seeWhen(rule.when);
      openTreatments(person).flatMap(firstRing).forEach(seeTarget);
    }
    const ringMs = group.members.reduce(
      (sum, member) =>
        sum +
        ('seat' in member && group.mode === 'by-rank'
          ? seatRingMs(slice.seats?.find(({ id }) => id === member.seat))
          : group.ringMs),
      0,
    );
    latestReadMs += ringMs + group.members.length * (confirmWithinMs + recordNameMs + wakeMs);
    follow([group.ending]);
    if (group.ending.kind === 'queue') latestReadMs += group.ending.maxMs;
  };
  const seeMenu = (menu: Menu) => {
    let longestMs = 0;
    for (const rule of menu.rules) {
      seeWhen(rule.when);
      const totalMs = rule.greetingMs + rule.waitMs;
      longestMs = Math.max(longestMs, totalMs);
      for (const { key } of rule.choices) menuKeys.push({ menu: menu.id, key, totalMs });
      follow([...rule.choices.map((choice) => choice.then), rule.otherwise]);
    }
    latestReadMs += longestMs;
  };
  for (let ending = todo.pop(); ending; ending = todo.pop()) {
    const met =
      ending.kind === 'person'
        ? people.get(ending.person)
        : ending.kind === 'group'
          ? groups.get(ending.group)
          : ending.kind === 'menu'
            ? menus.get(ending.menu)
            : undefined;
    if (!met || seen.has(met)) continue;
    seen.add(met);
    if ('plan' in met) seePerson(met);
    else if ('members' in met) seeGroup(met);
    else seeMenu(met);
  }
  return {
    schedules,
    shared: new Map([...repeatedEndpoints(slice, personId)].map((id) => [id, placesOf(slice, personId, id)])),
    offerKeys,
    codes,
    menuKeys,
    latestReadMs,
    callers: oneOfEach(
      [
        ANY_OUTSIDE_CALLER,
        ANY_INSIDE_CALLER,
        null,
        ...new Set(callerTests.flatMap(({ numbers = [] }) => numbers)),
      ],
      callerTests,
      callerHolds,
    ),
    arrivals: oneOfEach(ARRIVALS, arrivalTests, (test, arrival) => test.includes(arrival)),
  };
}
