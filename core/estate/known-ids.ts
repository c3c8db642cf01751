import type { Estate } from './types';

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

const ofPeople = new WeakMap<Estate['people'], Pick<KnownIds, 'people' | 'endpoints'>>();
/** Of the same people once: there may be very many, and they are asked after each change of something else. */
function idsOfPeople(people: Estate['people']): Pick<KnownIds, 'people' | 'endpoints'> {
  const known = ofPeople.get(people);
  if (known) return known;
  const ids = {
    people: new Set(people.map(({ id }) => id)),
    endpoints: new Set(people.flatMap(({ endpoints }) => endpoints.map(({ id }) => id))),
  };
  ofPeople.set(people, ids);
  return ids;
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
