import { isNumberKind, orList, type Endpoint, type Estate, type Person } from '../../estate';
import { estateAsIf } from '../../calls/live';
import { ANY_OUTSIDE_CALLER, compileEstate, runCall } from '../../calls/engine';

/** What a person's phones do while they have a status. */
export interface PhonesAtStatus {
  readonly status: string;
  readonly name: string;
  /** When each of their phones begins to ring for a call that nobody takes, in ms from its arrival; those that do not ring are left out. */
  readonly rings: readonly { readonly endpoint: string; readonly afterMs: number }[];
  /** From which they place calls; null: they have none that could. */
  readonly callsFrom: string | null;
  readonly isChosen: boolean;
}

/** Phones that place calls as the organisation: those that register with it. */
export const canPlace = ({ kind }: Endpoint): boolean => !isNumberKind(kind) && kind !== 'sip';

/**
 * Which of a person's phones ring and which places their calls, by their status: a call from outside that nobody takes
 * is run for each. Where none is chosen to place calls, it is the first that rings, else the first that could.
 * @param estate the person and all that calls for them can come to
 * @param at ISO 8601 with offset
 */
export function phonesByStatus(estate: Estate, person: Person, at: string): readonly PhonesAtStatus[] {
  const [line] = person.lines;
  return estate.statuses.map(({ id: status, name }) => {
    const index = compileEstate(estateAsIf(estate, { person: person.id, status }));
    const legs = line ? runCall(index, { from: ANY_OUTSIDE_CALLER, to: line.extension, at }).legs : [];
    const rings = person.endpoints.flatMap(({ id }) => {
      const first = legs.flatMap(({ endpoint, alertMs }) =>
        endpoint === id && alertMs !== null ? [alertMs] : [],
      );
      return first.length > 0 ? [{ endpoint: id, afterMs: Math.min(...first) }] : [];
    });
    const chosen = person.callsFrom?.find((each) => each.status === status)?.endpoint;
    const able = person.endpoints.filter(canPlace);
    const usual = able.find(({ id }) => rings.some(({ endpoint }) => endpoint === id)) ?? able[0];
    return { status, name, rings, callsFrom: chosen ?? usual?.id ?? null, isChosen: chosen !== undefined };
  });
}

/** A person who places their calls from one of their phones while they have a status; null: none is chosen any more. */
export function placeFrom(person: Person, status: string, endpoint: string | null): Person {
  const { callsFrom = [], ...rest } = person;
  const others = callsFrom.filter((each) => each.status !== status);
  const all = endpoint === null ? others : [...others, { status, endpoint }];
  return all.length > 0 ? { ...rest, callsFrom: all } : rest;
}

/**
 * When calls are placed from one of a person's phones, and from which they are placed otherwise, as a sentence to them.
 * @param statuses of `phonesByStatus`
 */
export function sayPlacing(person: Person, statuses: readonly PhonesAtStatus[], endpoint: string): string {
  const labelOf = (id: string) => person.endpoints.find((each) => each.id === id)?.label ?? id;
  const here = statuses.filter(({ callsFrom }) => callsFrom === endpoint);
  const elsewhere = [
    ...new Set(statuses.flatMap(({ callsFrom }) => (callsFrom === null ? [] : [callsFrom]))),
  ].filter((id) => id !== endpoint);
  if (elsewhere.length === 0) return 'Place your calls from here.';
  const others = orList(elsewhere.map(labelOf));
  return here.length === 0
    ? `Place your calls from ${others}, not from here.`
    : `Place your calls from here while your status is ${orList(here.map(({ name }) => `“${name}”`))}, else from ${others}.`;
}
