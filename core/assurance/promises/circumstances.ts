import type { Arrival, EndpointId, Ms } from '../../estate';
import {
  ANY_OUTSIDE_CALLER,
  readingName,
  type EndpointBehaviour,
  type Press,
  type Reading,
  type SeatInCall,
} from '../../calls/engine';
import type { Reachable } from './reachable';
import { isEachSeat, manySeatCases, seatCases, type SeatPhones } from './seats';

/** What is given in a case, beside what the phones do; `decided` names the things that are not open any more. */
export interface Given {
  readonly from: string | null;
  readonly arrival: Arrival;
  readonly presses: Readonly<Record<string, Press>>;
  readonly code: { readonly digits: string; readonly afterMs: number } | null;
  readonly activeCalls: Readonly<Record<string, number>>;
  readonly registered: Readonly<Record<string, boolean>>;
  /** As in the world of a call: who of a group that goes round had its last call, and how long members were idle. */
  readonly groupLast: Readonly<Record<string, number>>;
  readonly idleMs: Readonly<Record<string, Ms>>;
  readonly seats: Readonly<Record<string, SeatInCall>>;
  readonly decided: ReadonlySet<string>;
}

/** What phones do in a case. */
export type BehaviourByEndpoint = Readonly<Record<EndpointId, EndpointBehaviour>>;

/** What there is to choose from. */
export interface Choices {
  readonly first: Given;
  readonly reachable: Reachable;
  readonly maxCalls: (person: string) => number;
  /** Who is in a group, by the ids of people and endpoints and by `seat/` and the seat’s, in its order. */
  readonly membersOf: (group: string) => readonly string[];
  readonly seats: ReadonlyMap<string, SeatPhones>;
}

export const FIRST: Given = {
  from: ANY_OUTSIDE_CALLER,
  arrival: 'direct',
  presses: {},
  code: null,
  activeCalls: {},
  registered: {},
  groupLast: {},
  idleMs: {},
  seats: {},
  decided: new Set(),
};

function keysAt(menu: string, { reachable }: Choices): readonly Press[] {
  const keys =
    menu === 'offer' ? reachable.offerKeys : reachable.menuKeys.filter((each) => each.menu === menu);
  // The latest first: what follows an earlier one is often the same, only sooner, and then need not be gone through.
  return keys.flatMap(({ key, totalMs }) => [
    { key, afterMs: totalMs },
    { key, afterMs: 0 },
  ]);
}

/** So many members of groups are put into every order. */
const MOST_IN_EVERY_ORDER = 5;
const IDLE_STEP_MS: Ms = 60_000;

/** The ways in which something can be, each as what is given from then on; and whether these are all of them. */
export interface Alternatives {
  readonly all: readonly Given[];
  readonly complete: boolean;
}

/**
 * The orders in which the members of a group can have been idle, as how long each was. Who is in another group whose
 * order is given already keeps their place, and each new one comes between any two of them.
 */
function idleTimes(
  members: readonly string[],
  given: Readonly<Record<string, Ms>>,
): { readonly all: readonly Readonly<Record<string, Ms>>[]; readonly complete: boolean } {
  // The longest idle first.
  const placed = Object.keys(given).sort((a, b) => given[b]! - given[a]!);
  const fresh = [...new Set(members)].filter((id) => !placed.includes(id));
  const complete = fresh.length === 0 || placed.length + fresh.length <= MOST_IN_EVERY_ORDER;
  let all: readonly (readonly string[])[] = [placed];
  if (complete)
    for (const id of fresh)
      all = all.flatMap((order) =>
        Array.from({ length: order.length + 1 }, (_, at) => [...order.slice(0, at), id, ...order.slice(at)]),
      );
  else all = fresh.map((_, at) => [...fresh.slice(at), ...fresh.slice(0, at), ...placed]);
  return {
    all: all.map((order) =>
      Object.fromEntries(order.map((id, at) => [id, (order.length - at) * IDLE_STEP_MS])),
    ),
    complete,
  };
}

/**
 * The ways in which one thing that a call read can be. How many channels others hold is taken as none: a promise is
 * about the settings, and with all channels held none of them could be kept.
 */
export function alternatives(reading: Reading, given: Given, choices: Choices): Alternatives {
  const decided = new Set(given.decided).add(readingName(reading));
  const { reachable } = choices;
  const as = (some: readonly Partial<Given>[], complete = true): Alternatives => ({
    all: some.map((each) => ({ ...given, ...each, decided })),
    complete,
  });
  switch (reading.of) {
    case 'caller':
      return as(reachable.callers.map((from) => ({ from })));
    case 'arrival':
      return as(reachable.arrivals.map((arrival) => ({ arrival })));
    case 'offer':
    case 'menu': {
      const id = reading.of === 'offer' ? 'offer' : reading.id;
      const pressed = keysAt(id, choices).map((press) => ({ presses: { ...given.presses, [id]: press } }));
      return as([{}, ...pressed]);
    }
    case 'code': {
      const entered = reachable.codes.flatMap(({ digits, withinMs }) => [
        { digits, afterMs: withinMs },
        { digits, afterMs: 0 },
        { digits: `${digits}0`, afterMs: 0 },
      ]);
      return as([{}, ...entered.map((code) => ({ code }))]);
    }
    case 'engaged':
      return as([{}, { activeCalls: { ...given.activeCalls, [reading.id]: choices.maxCalls(reading.id) } }]);
    case 'registered':
      return as([true, false].map((is) => ({ registered: { ...given.registered, [reading.id]: is } })));
    case 'turn': {
      // After the last member it is the first one's turn, as when nobody had a call yet.
      const others = choices.membersOf(reading.id).slice(0, -1);
      return as([
        {},
        ...others.map((_, last) => ({ groupLast: { ...given.groupLast, [reading.id]: last } })),
      ]);
    }
    case 'idle': {
      const { all, complete } = idleTimes(choices.membersOf(reading.id), given.idleMs);
      return as(
        all.map((idleMs) => ({ idleMs })),
        complete,
      );
    }
    case 'seat': {
      const phones = choices.seats.get(reading.id);
      if (!phones) return as([{}]);
      if (isEachSeat(choices.seats))
        return as(seatCases(phones).map((now) => ({ seats: { ...given.seats, [reading.id]: now } })));
      for (const id of choices.seats.keys()) decided.add(readingName({ of: 'seat', id }));
      return as(
        manySeatCases(choices.seats).map((seats) => ({ seats })),
        false,
      );
    }
    case 'channels':
      return as([{}]);
  }
}
