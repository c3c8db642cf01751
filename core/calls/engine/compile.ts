import {
  endpointTimes,
  isNumberKind,
  LayeredMap,
  settingsOf,
  withOthers,
  type Endpoint,
  type EndpointTimes,
  type Estate,
  type Group,
  type Line,
  type Menu,
  type Permission,
  type Person,
  type Schedule,
  type Seat,
  type FullSettings,
} from '../../estate';
import { qualityOfLine } from '../../quality';
import { classifier, type Classified } from '../dialling';

/** An endpoint with whose it is and its times filled in. */
export interface KnownEndpoint {
  readonly endpoint: Endpoint;
  readonly owner: Person | null;
  readonly times: EndpointTimes;
  /** The public number that a call to it is dialled to; null where it registers with the system. */
  readonly number: string | null;
}

export type Destination =
  | { readonly kind: 'line'; readonly person: Person; readonly line: Line }
  | { readonly kind: 'group'; readonly group: Group }
  | { readonly kind: 'menu'; readonly menu: Menu };

/** An estate made ready for running calls: everything found by its id or number in one step. */
export interface EstateIndex {
  readonly estate: Estate;
  readonly settings: FullSettings;
  readonly people: ReadonlyMap<string, Person>;
  readonly endpoints: ReadonlyMap<string, KnownEndpoint>;
  readonly groups: ReadonlyMap<string, Group>;
  readonly menus: ReadonlyMap<string, Menu>;
  readonly seats: ReadonlyMap<string, Seat>;
  readonly schedules: ReadonlyMap<string, Schedule>;
  readonly permissions: ReadonlyMap<string, Permission>;
  readonly statuses: ReadonlyMap<string, string>;
  readonly destinations: ReadonlyMap<string, Destination>;
  /** Extensions by the numbers of mobiles and landlines whose calls count as their owner’s. */
  readonly knownAs: ReadonlyMap<string, string>;
  readonly classOf: (e164: string) => Classified;
  /** How well a call over the line of each softphone sounds (MOS), where its site’s line was measured. */
  readonly lineScores: ReadonlyMap<string, number>;
}

const byId = <T extends { readonly id: string }>(objects: readonly T[]) =>
  new Map(objects.map((object) => [object.id, object]));

/** An endpoint made known by itself, as an ending's bare number (kind `mobile`) or URI (kind `sip`) is. */
export function knownEndpoint(endpoint: Endpoint, owner: Person | null): KnownEndpoint {
  return {
    endpoint,
    owner,
    times: endpointTimes(endpoint),
    number: isNumberKind(endpoint.kind) ? (endpoint.number ?? '') : null,
  };
}

/** A number that is called as such, as an ending has it: a mobile of nobody here. @param number E.164 */
export const bareNumber = (number: string): KnownEndpoint =>
  knownEndpoint({ id: number, label: number, kind: 'mobile', number }, null);
/** A SIP address that is called as such (RFC 3261, 19.1). */
export const bareUri = (uri: string): KnownEndpoint =>
  knownEndpoint({ id: uri, label: uri, kind: 'sip', uri }, null);

/** An endpoint by its id, or a bare number or SIP address, as legs have them. */
export const endpointAt = ({ endpoints }: EstateIndex, id: string): KnownEndpoint =>
  endpoints.get(id) ?? (id.startsWith('+') ? bareNumber(id) : bareUri(id));

function lineScoresOf({ sites = [], people }: Pick<Estate, 'sites' | 'people'>): ReadonlyMap<string, number> {
  const scores = new Map<string, number>();
  const measured = new Map(sites.flatMap(({ id, line }) => (line ? [[id, line] as const] : [])));
  if (measured.size === 0) return scores;
  for (const { endpoints } of people)
    for (const { id, path } of endpoints) {
      const line = path?.site === undefined ? undefined : measured.get(path.site);
      if (line) scores.set(id, qualityOfLine(line).mos);
    }
  return scores;
}

function knownAsOf({ people }: Estate): ReadonlyMap<string, string> {
  const known = new Map<string, string>();
  for (const { endpoints, lines } of people)
    for (const { number, knownAs } of endpoints) {
      const extension = lines[0]?.extension;
      if (knownAs === true && number !== undefined && extension !== undefined && !known.has(number))
        known.set(number, extension);
    }
  return known;
}

/** Who calls, as rules see it: a call from somebody’s own mobile that is known counts as one from their extension. */
export const callerKnown = (index: EstateIndex, from: string | null): string | null =>
  from === null ? null : (index.knownAs.get(from) ?? from);

/** Makes a valid estate ready for running calls. */
export function compileEstate(estate: Estate): EstateIndex {
  const endpoints = new Map<string, KnownEndpoint>();
  const destinations = new Map<string, Destination>();
  const reach = (key: string, destination: Destination) => {
    if (!destinations.has(key)) destinations.set(key, destination);
  };
  for (const person of estate.people) {
    for (const endpoint of person.endpoints) endpoints.set(endpoint.id, knownEndpoint(endpoint, person));
    for (const line of person.lines)
      for (const key of [line.extension, ...line.numbers]) reach(key, { kind: 'line', person, line });
  }
  for (const group of estate.groups)
    for (const key of [group.extension, ...(group.numbers ?? [])]) reach(key, { kind: 'group', group });
  for (const menu of estate.menus)
    for (const key of [menu.extension, ...(menu.numbers ?? [])]) reach(key, { kind: 'menu', menu });
  return {
    estate,
    settings: settingsOf(estate.settings),
    people: byId(estate.people),
    endpoints,
    groups: byId(estate.groups),
    menus: byId(estate.menus),
    seats: byId(estate.seats ?? []),
    schedules: byId(estate.schedules),
    permissions: byId(estate.permissions),
    statuses: new Map(estate.statuses.map((status) => [status.id, status.name])),
    destinations,
    knownAs: knownAsOf(estate),
    classOf: classifier(estate.dialling),
    lineScores: lineScoresOf(estate),
  };
}

/** A person as they were and as they are. */
export interface PersonChange {
  readonly before: Person;
  readonly after: Person;
}

/**
 * Makes an estate ready in which nothing but some people has changed: what an index knew is copied, and looked at anew
 * for them alone. The same as compiling all of it.
 * @param changed each with the same id before and after
 */
export function recompileEstate(
  index: EstateIndex,
  estate: Estate,
  changed: readonly PersonChange[],
): EstateIndex {
  const { people, endpoints, destinations, lineScores } = index;
  const copied = {
    ...index,
    people: LayeredMap.over(people),
    endpoints: LayeredMap.over(endpoints),
    destinations: LayeredMap.over(destinations),
    lineScores: LayeredMap.over(lineScores),
  };
  return takeOver(copied, estate, changed);
}

type Changing<V> = Map<string, V> | LayeredMap<string, V>;
/** The same in the maps of an index that nobody uses any more: what it takes is no matter of how many people there are. */
export function takeOver(index: EstateIndex, estate: Estate, changed: readonly PersonChange[]): EstateIndex {
  const people = index.people as Changing<Person>;
  const endpoints = index.endpoints as Changing<KnownEndpoint>;
  const destinations = index.destinations as Changing<Destination>;
  const keysOf = ({ extension, numbers }: Line) => [extension, ...numbers];
  for (const { before, after } of changed) {
    // Phones that stay keep their place among all of them.
    const stay = new Set(after.endpoints.map(({ id }) => id));
    for (const { id } of before.endpoints) if (!stay.has(id)) endpoints.delete(id);
    for (const key of before.lines.flatMap(keysOf)) {
      const known = destinations.get(key);
      if (known?.kind === 'line' && known.person.id === before.id) destinations.delete(key);
    }
  }
  for (const { after } of changed) {
    people.set(after.id, after);
    for (const endpoint of after.endpoints) endpoints.set(endpoint.id, knownEndpoint(endpoint, after));
    for (const line of after.lines)
      for (const key of keysOf(line))
        if (!destinations.has(key)) destinations.set(key, { kind: 'line', person: after, line });
  }
  const isKnown = ({ endpoints: own }: Person) => own.some(({ knownAs }) => knownAs === true);
  const some = (is: (person: Person) => boolean) =>
    changed.some(({ before, after }) => is(before) || is(after));
  const lineScores = index.lineScores as Changing<number>;
  for (const { before } of changed) for (const { id } of before.endpoints) lineScores.delete(id);
  for (const [id, score] of lineScoresOf({ sites: estate.sites, people: changed.map(({ after }) => after) }))
    lineScores.set(id, score);
  return {
    ...index,
    estate,
    people,
    endpoints,
    destinations,
    knownAs: some(isKnown) ? knownAsOf(estate) : index.knownAs,
    lineScores,
  };
}

/** The same with some people in the place of those of their ids; whoever is not there is left out. */
export function withPeople(index: EstateIndex, people: readonly Person[]): EstateIndex {
  const changed = people.flatMap((after): PersonChange[] => {
    const before = index.people.get(after.id);
    return before ? [{ before, after }] : [];
  });
  const { estate } = index;
  return recompileEstate(
    index,
    {
      ...estate,
      people: withOthers(
        estate.people,
        changed.map(({ after }) => after),
      )!,
    },
    changed,
  );
}
