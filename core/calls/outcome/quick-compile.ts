import { permits, trunksFor } from '../dialling';
import {
  ARRIVALS,
  type Arrival,
  type Ending,
  type Group,
  type Member,
  type Menu,
  type Person,
  type RingTarget,
  type Rule,
  type ScheduleTest,
  type Seat,
  type SimpleEnding,
  type Stage,
  type Treatment,
  type When,
} from '../../estate';
import { scheduleClock, type ScheduleClock } from '../time';
import {
  bareNumber,
  bareUri,
  knownEndpoint,
  rankOf,
  type EstateIndex,
  type KnownEndpoint,
  type FailureWord,
} from '../engine';

/**
 * The estate in the form that the quick engine runs: ids become places in arrays, and what a leg may and can dial is
 * worked out beforehand.
 */
export interface QuickTarget {
  readonly slot: number;
  readonly delayMs: number;
  readonly acceptAfterMs: number;
  readonly giveUpAfterMs: number;
  readonly confirm: boolean;
  readonly asksName: boolean;
  /** One bit for each arrival. */
  readonly arrivals: number;
  readonly clock: ScheduleClock | null;
  readonly inside: boolean;
  readonly whileRegistered: number;
  readonly unlessRegistered: number;
  /** The id of a seat that plays something instead of ringing a phone. */
  readonly plays: string | null;
  readonly refused: FailureWord | null;
  /** The trunks that carry it, in the order in which they are tried; empty: none is needed. */
  readonly trunks: readonly number[];
}

export type QuickStage =
  | { readonly kind: 'ring'; readonly targets: readonly QuickTarget[]; readonly forMs: number }
  | {
      readonly kind: 'offer';
      readonly totalMs: number;
      readonly choices: readonly { readonly key: string; readonly then: QuickEnding | null }[];
    }
  | {
      readonly kind: 'code';
      readonly digits: string;
      readonly withinMs: number;
      readonly wrong: QuickEnding;
    };

export type QuickEnding =
  | { readonly kind: 'mailbox'; readonly person: number; readonly enabled: boolean }
  | { readonly kind: 'person' | 'group' | 'menu'; readonly at: number; readonly fromMenu: boolean }
  | { readonly kind: 'last-leg'; readonly target: QuickTarget }
  | { readonly kind: 'hang-up'; readonly message: string }
  | { readonly kind: 'gone' }
  | { readonly kind: 'queue'; readonly maxMs: number; readonly then: QuickEnding };

export interface QuickTreatment {
  readonly stages: readonly QuickStage[];
  readonly ending: QuickEnding;
  readonly busy: QuickEnding;
  /** The first ring stage; null: there is none. */
  readonly firstRing: readonly QuickTarget[] | null;
}

export interface QuickWhen {
  readonly lines: readonly string[] | null;
  readonly arrivals: number;
  readonly caller: When['caller'] | null;
  readonly clock: ScheduleClock | null;
  readonly inside: boolean;
}
export interface QuickPerson {
  readonly maxCalls: number;
  readonly lines: readonly {
    readonly id: string;
    readonly forwardAll: QuickEnding | null;
    /** When that ends by itself, ms since 1970; Infinity: never. */
    readonly untilMs: number;
    readonly after: QuickEnding | null;
  }[];
  readonly rules: readonly { readonly when: QuickWhen; readonly then: QuickTreatment }[];
  readonly otherwise: QuickTreatment;
}
/**
 * A seat: what it contributes depends on who is signed on to it in the call, so it is worked out when a call comes to
 * it; calls without seats meet nothing of this.
 */
export interface QuickSeat {
  readonly seat: Seat;
  /** A place kept for a phone outside that the estate does not have. */
  readonly slot: number;
}
export type QuickMember =
  | { readonly person: number; readonly id: string }
  | { readonly target: QuickTarget; readonly id: string }
  | { readonly seat: QuickSeat; readonly rank: number; readonly id: string };
export interface QuickGroup {
  readonly id: string;
  readonly mode: Group['mode'];
  readonly members: readonly QuickMember[];
  readonly ringMs: number;
  readonly permission: string;
  readonly ending: QuickEnding;
}
export interface QuickMenu {
  readonly id: string;
  readonly rules: readonly {
    readonly when: QuickWhen;
    readonly totalMs: number;
    readonly choices: readonly { readonly key: string; readonly then: QuickEnding }[];
    readonly otherwise: QuickEnding;
  }[];
}

export const arrivalBit = (arrival: Arrival): number => 1 << ARRIVALS.indexOf(arrival);
const ALL_ARRIVALS = (1 << ARRIVALS.length) - 1;
const bits = (arrivals: readonly Arrival[] | undefined) =>
  arrivals ? arrivals.reduce((sum, each) => sum | arrivalBit(each), 0) : ALL_ARRIVALS;

export interface QuickEstate {
  /** The places that are kept for seats hold whatever these are at in the call. */
  readonly slots: KnownEndpoint[];
  readonly slotOf: Map<string, number>;
  readonly seats: readonly QuickSeat[];
  /** A phone that rings without conditions, dialled with a permission. */
  readonly bareTarget: (slot: number, permission: string) => QuickTarget;
  readonly personAt: ReadonlyMap<string, number>;
  readonly groupAt: ReadonlyMap<string, number>;
  readonly menuAt: ReadonlyMap<string, number>;
  readonly person: (at: number) => QuickPerson;
  readonly group: (at: number) => QuickGroup;
  readonly menu: (at: number) => QuickMenu;
}

/** Whose plan, group or menu is being made ready. */
interface QuickOwner {
  readonly person: number;
  readonly permission: string;
  readonly isMenu: boolean;
}

const places = (objects: readonly { readonly id: string }[]) =>
  new Map(objects.map((object, i) => [object.id, i]));

/** A thing made when it is first asked for. */
function lazily<T>(size: number, make: (at: number) => T): (at: number) => T {
  const made = new Array<T | undefined>(size);
  return (at) => (made[at] ??= make(at));
}

/** Makes an estate ready for the quick engine; people, groups and menus are worked out when a call first meets them. */
export function compileQuick(index: EstateIndex): QuickEstate {
  const { estate } = index;
  const slots: KnownEndpoint[] = [...index.endpoints.values()];
  const slotOf = new Map(slots.map((known, i) => [known.endpoint.id, i]));
  const seats = (estate.seats ?? []).map((seat): QuickSeat => ({
    seat,
    slot: slots.push(knownEndpoint({ id: seat.id, label: seat.name, kind: 'sip' }, null)) - 1,
  }));
  const seatAt = new Map(seats.map((each) => [each.seat.id, each]));
  const personAt = places(estate.people);
  const groupAt = places(estate.groups);
  const menuAt = places(estate.menus);
  const trunkAt = places(estate.trunks);

  /** A bare number or URI has a slot of its own, as an endpoint that nobody owns. */
  const bareSlot = (known: KnownEndpoint): number => {
    const before = slotOf.get(known.endpoint.id);
    if (before !== undefined) return before;
    slotOf.set(known.endpoint.id, slots.length);
    return slots.push(known) - 1;
  };
  const clockOf = (test: ScheduleTest | undefined): ScheduleClock | null => {
    if (!test) return null;
    const schedule = index.schedules.get(test.id);
    return schedule ? scheduleClock(schedule) : { inside: () => !test.inside, nextChange: () => Infinity };
  };
  const wayOut = (slot: number, permissionId: string): Pick<QuickTarget, 'refused' | 'trunks'> => {
    const number = slots[slot]!.number;
    if (number === null) return { refused: null, trunks: [] };
    const numberClass = index.classOf(number);
    if (numberClass === 'bad-number') return { refused: 'bad-number', trunks: [] };
    const permission = index.permissions.get(permissionId);
    if (!permission || !permits(permission, number, numberClass))
      return { refused: 'not-permitted', trunks: [] };
    const trunks = trunksFor(estate.trunks, numberClass).map((trunk) => trunkAt.get(trunk.id)!);
    return { refused: trunks.length ? null : 'no-route', trunks };
  };
  const bareTarget = (slot: number, permission: string): QuickTarget => ({
    slot,
    delayMs: 0,
    acceptAfterMs: 0,
    giveUpAfterMs: Infinity,
    confirm: false,
    asksName: false,
    arrivals: ALL_ARRIVALS,
    clock: null,
    inside: true,
    whileRegistered: -1,
    unlessRegistered: -1,
    plays: null,
    ...wayOut(slot, permission),
  });
  const targetOf = (target: RingTarget, owner: QuickOwner): QuickTarget[] => {
    const slot = slotOf.get(target.endpoint);
    if (slot === undefined || target.enabled === false) return [];
    // The estate alone decides it: nothing of a call is asked.
    if ((index.lineScores.get(target.endpoint) ?? Infinity) < (target.onlyQuality ?? 0)) return [];
    return [
      {
        ...bareTarget(slot, owner.permission),
        delayMs: target.delayMs ?? 0,
        acceptAfterMs: target.acceptAfterMs ?? 0,
        giveUpAfterMs: target.giveUpAfterMs ?? Infinity,
        confirm: (target.confirm ?? 'none') !== 'none',
        asksName: target.confirm === 'key-name',
        arrivals: bits(target.arrivals),
        clock: clockOf(target.schedule),
        inside: target.schedule?.inside ?? true,
        whileRegistered:
          target.whileRegistered === undefined ? -1 : (slotOf.get(target.whileRegistered) ?? -1),
        unlessRegistered:
          target.unlessRegistered === undefined ? -1 : (slotOf.get(target.unlessRegistered) ?? -1),
      },
    ];
  };
  const lastLeg = (known: KnownEndpoint | undefined, owner: QuickOwner): QuickEnding =>
    known ? { kind: 'last-leg', target: bareTarget(bareSlot(known), owner.permission) } : { kind: 'gone' };
  const goTo = (kind: 'person' | 'group' | 'menu', at: number | undefined, owner: QuickOwner): QuickEnding =>
    at === undefined ? { kind: 'gone' } : { kind, at, fromMenu: owner.isMenu };
  const endingOf = (ending: Ending | SimpleEnding, owner: QuickOwner): QuickEnding => {
    switch (ending.kind) {
      case 'mailbox': {
        const person = ending.person === undefined ? owner.person : (personAt.get(ending.person) ?? -1);
        return {
          kind: 'mailbox',
          person,
          enabled: person >= 0 && estate.people[person]!.mailbox?.enabled !== false,
        };
      }
      case 'person':
        return goTo('person', personAt.get(ending.person), owner);
      case 'group':
        return goTo('group', groupAt.get(ending.group), owner);
      case 'menu':
        return goTo('menu', menuAt.get(ending.menu), owner);
      case 'hang-up':
        return { kind: 'hang-up', message: ending.message };
      case 'endpoint':
        return lastLeg(index.endpoints.get(ending.endpoint), owner);
      case 'number':
        return lastLeg(bareNumber(ending.number), owner);
      case 'sip':
        return lastLeg(bareUri(ending.uri), owner);
      case 'queue':
        return { kind: 'queue', maxMs: ending.maxMs, then: endingOf(ending.then, owner) };
    }
  };
  const stageOf = (stage: Stage, owner: QuickOwner): QuickStage => {
    if ('ring' in stage)
      return {
        kind: 'ring',
        forMs: stage.forMs,
        targets: stage.ring
          .filter((target) => (target.delayMs ?? 0) < stage.forMs)
          .flatMap((target) => targetOf(target, owner)),
      };
    if ('offer' in stage)
      return {
        kind: 'offer',
        totalMs: stage.offer.greetingMs + stage.offer.waitMs,
        choices: stage.offer.choices.map(({ key, then }) => ({
          key,
          then: then === 'next' ? null : endingOf(then, owner),
        })),
      };
    const { digits, withinMs, wrong } = stage.code;
    return { kind: 'code', digits, withinMs, wrong: endingOf(wrong, owner) };
  };
  const treatmentOf = (treatment: Treatment, owner: QuickOwner): QuickTreatment => {
    const ending = endingOf(treatment.ending, owner);
    const first = treatment.stages.find((stage) => 'ring' in stage);
    return {
      stages: treatment.stages.map((stage) => stageOf(stage, owner)),
      ending,
      busy: treatment.busy ? endingOf(treatment.busy, owner) : ending,
      firstRing: first && 'ring' in first ? first.ring.flatMap((target) => targetOf(target, owner)) : null,
    };
  };
  const whenOf = (when: When): QuickWhen => ({
    lines: when.line ?? null,
    arrivals: bits(when.arrival),
    caller: when.caller ?? null,
    clock: clockOf(when.schedule),
    inside: when.schedule?.inside ?? true,
  });
  const personOf = (person: Person, at: number): QuickPerson => {
    const owner: QuickOwner = { person: at, permission: person.permission, isMenu: false };
    const canHold = (rule: Rule) => !rule.when.status || rule.when.status.includes(person.status);
    return {
      maxCalls: person.maxCalls,
      lines: person.lines.map((line) => ({
        id: line.id,
        forwardAll: line.forwardAll ? endingOf(line.forwardAll, owner) : null,
        untilMs: line.forwardUntil === undefined ? Infinity : Date.parse(line.forwardUntil),
        after: line.forwardAfter ? endingOf(line.forwardAfter, owner) : null,
      })),
      rules: person.plan.rules
        .filter(canHold)
        .map((rule) => ({ when: whenOf(rule.when), then: treatmentOf(rule, owner) })),
      otherwise: treatmentOf(person.plan.otherwise, owner),
    };
  };
  const memberOf = (member: Member, group: Group): QuickMember[] => {
    if ('person' in member) {
      const person = personAt.get(member.person);
      return person === undefined ? [] : [{ person, id: member.person }];
    }
    if ('seat' in member) {
      const seat = seatAt.get(member.seat);
      return seat ? [{ seat, rank: rankOf(member), id: member.seat }] : [];
    }
    const slot = slotOf.get(member.endpoint);
    if (slot === undefined) return [];
    const permission = slots[slot]!.owner?.permission ?? group.permission;
    return [{ target: bareTarget(slot, permission), id: member.endpoint }];
  };
  const groupOf = (group: Group): QuickGroup => ({
    id: group.id,
    mode: group.mode,
    members: group.members.flatMap((member) => memberOf(member, group)),
    ringMs: group.ringMs,
    permission: group.permission,
    ending: endingOf(group.ending, { person: -1, permission: group.permission, isMenu: false }),
  });
  const menuOf = (menu: Menu): QuickMenu => {
    const owner: QuickOwner = { person: -1, permission: menu.permission, isMenu: true };
    return {
      id: menu.id,
      rules: menu.rules.map((rule) => ({
        when: whenOf(rule.when),
        totalMs: rule.greetingMs + rule.waitMs,
        choices: rule.choices.map(({ key, then }) => ({ key, then: endingOf(then, owner) })),
        otherwise: endingOf(rule.otherwise, owner),
      })),
    };
  };
  return {
    slots,
    slotOf,
    seats,
    bareTarget,
    personAt,
    groupAt,
    menuAt,
    person: lazily(estate.people.length, (at) => personOf(estate.people[at]!, at)),
    group: lazily(estate.groups.length, (at) => groupOf(estate.groups[at]!)),
    menu: lazily(estate.menus.length, (at) => menuOf(estate.menus[at]!)),
  };
}
