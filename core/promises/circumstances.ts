import type { Arrival, EndpointId } from '../estate';
import { ANY_OUTSIDE_CALLER, type EndpointBehaviour, type Press } from '../reach';
import type { Reachable } from './reachable';

/** What is given in a case, beside what the phones do; `decided` names the things that are not open any more. */
export interface Given {
  readonly from: string | null;
  readonly arrival: Arrival;
  readonly presses: Readonly<Record<string, Press>>;
  readonly code: { readonly digits: string; readonly afterMs: number } | null;
  readonly activeCalls: Readonly<Record<string, number>>;
  readonly registered: Readonly<Record<string, boolean>>;
  readonly decided: ReadonlySet<string>;
}

/** What phones do in a case. */
export type Doings = Readonly<Record<EndpointId, EndpointBehaviour>>;

/** What there is to choose from. */
export interface Choices {
  readonly first: Given;
  readonly reachable: Reachable;
  readonly maxCalls: (person: string) => number;
}

export const FIRST: Given = {
  from: ANY_OUTSIDE_CALLER,
  arrival: 'direct',
  presses: {},
  code: null,
  activeCalls: {},
  registered: {},
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

/**
 * The ways in which one thing that a call looked at can be, each as what is given from then on.
 * @param thing as the engine names it: `caller`, `arrival`, `offer`, `code`, `menu/ID`, `engaged/ID`, `registered/ID`
 */
export function alternatives(thing: string, given: Given, choices: Choices): readonly Given[] {
  const decided = new Set(given.decided).add(thing);
  const slash = thing.indexOf('/');
  const id = thing.slice(slash + 1);
  const { reachable } = choices;
  switch (slash < 0 ? thing : thing.slice(0, slash)) {
    case 'caller':
      return reachable.callers.map((from) => ({ ...given, decided, from }));
    case 'arrival':
      return reachable.arrivals.map((arrival) => ({ ...given, decided, arrival }));
    case 'offer':
    case 'menu':
      return [
        { ...given, decided },
        ...keysAt(id, choices).map((press) => ({
          ...given,
          decided,
          presses: { ...given.presses, [id]: press },
        })),
      ];
    case 'code':
      return [
        { ...given, decided },
        ...reachable.codes.flatMap(({ digits, withinMs }) =>
          [
            { digits, afterMs: withinMs },
            { digits, afterMs: 0 },
            { digits: `${digits}0`, afterMs: 0 },
          ].map((code) => ({ ...given, decided, code })),
        ),
      ];
    case 'engaged':
      return [
        { ...given, decided },
        { ...given, decided, activeCalls: { ...given.activeCalls, [id]: choices.maxCalls(id) } },
      ];
    case 'registered':
      return [true, false].map((is) => ({
        ...given,
        decided,
        registered: { ...given.registered, [id]: is },
      }));
    default:
      return [{ ...given, decided }];
  }
}
