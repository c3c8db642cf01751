import { placesOf } from './people-at';
import type { Estate, Person } from './types';

export interface Ids {
  readonly has: (id: string) => boolean;
}
/** Which ids an estate has, for checking that nothing leads to an id that nothing has. */
export interface KnownIds {
  readonly people: Ids;
  readonly endpoints: Ids;
  readonly groups: Ids;
  readonly menus: Ids;
  readonly schedules: Ids;
  readonly statuses: Ids;
  readonly permissions: Ids;
  readonly templates: Ids;
  readonly sites: Ids;
  readonly seats: Ids;
}

const phonesOf = new WeakMap<Estate['people'], ReadonlySet<string>>();
/** Of the same people once: there may be very many, and they are asked after each change of something else. */
function idsOfPeople(people: Estate['people']): Pick<KnownIds, 'people' | 'endpoints'> {
  const endpoints =
    phonesOf.get(people) ?? new Set(people.flatMap(({ endpoints: own }) => own.map(({ id }) => id)));
  phonesOf.set(people, endpoints);
  return { people: placesOf(people), endpoints };
}

/** Notes that people have the phones that others have: made of them, with no phone come or gone. */
export function haveSamePhones(people: readonly Person[], as: readonly Person[]): void {
  const endpoints = phonesOf.get(as);
  if (endpoints) phonesOf.set(people, endpoints);
}

/** Collects the ids of an estate. */
export function knownIds(estate: Estate): KnownIds {
  const ids = (objects: readonly { id: string }[]) => new Set(objects.map((o) => o.id));
  return {
    ...idsOfPeople(estate.people),
    groups: ids(estate.groups),
    menus: ids(estate.menus),
    schedules: ids(estate.schedules),
    statuses: ids(estate.statuses),
    permissions: ids(estate.permissions),
    templates: ids(estate.templates ?? []),
    sites: ids(estate.sites ?? []),
    seats: ids(estate.seats ?? []),
  };
}
