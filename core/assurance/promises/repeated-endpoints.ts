import {
  endingsOf,
  type EndpointId,
  type Ending,
  type Estate,
  type Group,
  type Menu,
  type Person,
  type PersonId,
  type RingTarget,
  type Treatment,
} from '../../estate';
import { seatPhones, seatTargets } from './seats';
import { treatmentEndings, firstRing, forwardsOf, openTreatments } from './plans';

/** How often one call can ring each endpoint. */
type Repeats = ReadonlyMap<EndpointId, number>;
const NONE: Repeats = new Map();

const both = (a: Repeats, b: Repeats): Repeats => {
  const sum = new Map(a);
  for (const [id, n] of b) sum.set(id, (sum.get(id) ?? 0) + n);
  return sum;
};
const either = (all: readonly Repeats[]): Repeats => {
  const most = new Map<EndpointId, number>();
  for (const times of all) for (const [id, n] of times) most.set(id, Math.max(most.get(id) ?? 0, n));
  return most;
};
const times = (ids: readonly EndpointId[]): Repeats => {
  const counted = new Map<EndpointId, number>();
  for (const id of ids) counted.set(id, (counted.get(id) ?? 0) + 1);
  return counted;
};

const rungOf = (ring: readonly RingTarget[]): Repeats =>
  times(ring.filter((target) => target.enabled !== false).map((target) => target.endpoint));
const rungFirst = (treatment: Treatment): Repeats => rungOf(firstRing(treatment));

/** The endpoints that one call for a person can ring more than once, by any way through plans, groups and menus. */
export function repeatedEndpoints(slice: Estate, personId: PersonId): ReadonlySet<EndpointId> {
  const known = new Map<unknown, Repeats>();
  const seats = seatPhones(slice, personId);
  const once = (object: Person | Group | Menu | undefined, work: () => Repeats): Repeats => {
    if (!object) return NONE;
    const before = known.get(object);
    if (before) return before;
    // A call that comes back is a loop and ends there.
    known.set(object, NONE);
    const found = work();
    known.set(object, found);
    return found;
  };
  const byEnding = (ending: Ending, round: Repeats): Repeats => {
    switch (ending.kind) {
      case 'endpoint':
        return times([ending.endpoint]);
      case 'number':
        return times([ending.number]);
      case 'sip':
        return times([ending.uri]);
      case 'person':
        return byPerson(slice.people.find((each) => each.id === ending.person));
      case 'group':
        return byGroup(slice.groups.find((each) => each.id === ending.group));
      case 'menu':
        return byMenu(slice.menus.find((each) => each.id === ending.menu));
      case 'queue':
        return both(round, byEnding(ending.then, NONE));
      case 'mailbox':
      case 'hang-up':
        return NONE;
    }
  };
  const byTreatment = (treatment: Treatment): Repeats => {
    const rung = rungOf(treatment.stages.flatMap((stage) => ('ring' in stage ? stage.ring : [])));
    return both(rung, either(treatmentEndings(treatment).map((ending) => byEnding(ending, rung))));
  };
  const byPerson = (person: Person | undefined): Repeats =>
    once(person, () =>
      either([
        ...openTreatments(person!).map(byTreatment),
        ...forwardsOf(person!).map((ending) => byEnding(ending, NONE)),
      ]),
    );
  const byGroup = (group: Group | undefined): Repeats =>
    once(group, () => {
      const rung = group!.members
        .map((member) => {
          if ('endpoint' in member) return times([member.endpoint]);
          if ('seat' in member)
            return times(seatTargets(seats.get(member.seat)).map(({ endpoint }) => endpoint));
          const person = slice.people.find((each) => each.id === member.person);
          return either((person ? openTreatments(person) : []).map(rungFirst));
        })
        .reduce(both, NONE);
      return both(rung, byEnding(group!.ending, rung));
    });
  const byMenu = (menu: Menu | undefined): Repeats =>
    once(menu, () => either(endingsOf(menu!).map((ending) => byEnding(ending, NONE))));
  const all = byPerson(slice.people.find((each) => each.id === personId));
  return new Set([...all].filter(([, n]) => n > 1).map(([id]) => id));
}
