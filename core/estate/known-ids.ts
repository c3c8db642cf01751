import { phonesIn, placesOf } from './people-at';
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

/** Collects the ids of an estate. */
export function knownIds(estate: Estate): KnownIds {
  const ids = (objects: readonly { id: string }[]) => new Set(objects.map((o) => o.id));
  return {
    // Of the same people once: there may be very many, and they are asked after each change of something else.
    people: placesOf(estate.people),
    endpoints: phonesIn(estate.people),
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
