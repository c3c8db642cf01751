import {
  endingsOf,
  lastOf,
  type Ending,
  type Estate,
  type Group,
  type Menu,
  type Person,
  type Stage,
} from '../estate';

/** Finds objects by id; the estate's own or an index of it. */
export interface Finder {
  readonly person: (id: string) => Person | undefined;
  readonly ownerOf: (endpoint: string) => Person | undefined;
  readonly group: (id: string) => Group | undefined;
  readonly menu: (id: string) => Menu | undefined;
}

/** A finder over a whole estate. */
export function finderOf(estate: Estate): Finder {
  const people = new Map(estate.people.map((person) => [person.id, person]));
  const owners = new Map(estate.people.flatMap((p) => p.endpoints.map((e) => [e.id, p] as const)));
  const groups = new Map(estate.groups.map((group) => [group.id, group]));
  const menus = new Map(estate.menus.map((menu) => [menu.id, menu]));
  return {
    person: (id) => people.get(id),
    ownerOf: (id) => owners.get(id),
    group: (id) => groups.get(id),
    menu: (id) => menus.get(id),
  };
}

/** A finder over an estate in which some people are others than in the one that there is a finder of. */
export function finderWith(before: Finder, changed: readonly Person[]): Finder {
  const people = new Map(changed.map((person) => [person.id, person]));
  const owners = new Map(
    changed.flatMap((person) => person.endpoints.map(({ id }) => [id, person] as const)),
  );
  return {
    ...before,
    person: (id) => people.get(id) ?? before.person(id),
    ownerOf: (id) => {
      const owner = owners.get(id) ?? before.ownerOf(id);
      // A phone that was theirs and is not any more.
      return owner && !owners.has(id) && people.has(owner.id) ? undefined : owner;
    },
  };
}

/** A finder over an estate of which an index is there. */
export const finderIn = ({
  people,
  endpoints,
  groups,
  menus,
}: {
  readonly people: ReadonlyMap<string, Person>;
  readonly endpoints: ReadonlyMap<string, { readonly owner: Person | null }>;
  readonly groups: ReadonlyMap<string, Group>;
  readonly menus: ReadonlyMap<string, Menu>;
}): Finder => ({
  person: (id) => people.get(id),
  ownerOf: (id) => endpoints.get(id)?.owner ?? undefined,
  group: (id) => groups.get(id),
  menu: (id) => menus.get(id),
});

/** Where calls come in: a person, a group or a menu. */
export type SliceStart = { readonly person: string } | { readonly group: string } | { readonly menu: string };

/**
 * The part of an estate that calls for one person, group or menu can come to: the people, groups and menus that the person's plan
 * leads to, however far, with everything shared (dialling, permissions, trunks, schedules, statuses). A valid estate
 * of its own but for copies of messages, so that the same engine runs on it.
 */
export function sliceFor(estate: Estate, finder: Finder, start: string | SliceStart): Estate {
  const people = new Map<string, Person>();
  const groups = new Map<string, Group>();
  const menus = new Map<string, Menu>();
  const todo: (() => void)[] = [];
  const used = { seats: new Set<string>() };

  const seePerson = (person: Person | undefined) => {
    if (!person || people.has(person.id)) return;
    people.set(person.id, person);
    todo.push(() => {
      endingsOf(person).forEach(seeEnding);
      for (const { stages } of [...person.plan.rules, person.plan.otherwise]) stages.forEach(seePhones);
    });
  };
  const seeGroup = (group: Group | undefined) => {
    if (!group || groups.has(group.id)) return;
    groups.set(group.id, group);
    todo.push(() => {
      for (const member of group.members)
        if ('person' in member) seePerson(finder.person(member.person));
        else if ('endpoint' in member) seePerson(finder.ownerOf(member.endpoint));
        else used.seats.add(member.seat);
      endingsOf(group).forEach(seeEnding);
    });
  };
  const seeMenu = (menu: Menu | undefined) => {
    if (!menu || menus.has(menu.id)) return;
    menus.set(menu.id, menu);
    todo.push(() => endingsOf(menu).forEach(seeEnding));
  };
  const seeEnding = (ending: Ending): void => {
    const last = lastOf(ending);
    if ('person' in last && last.person) seePerson(finder.person(last.person));
    if (last.kind === 'endpoint') seePerson(finder.ownerOf(last.endpoint));
    if (last.kind === 'group') seeGroup(finder.group(last.group));
    if (last.kind === 'menu') seeMenu(finder.menu(last.menu));
  };
  const seePhones = (stage: Stage) => {
    if (!('ring' in stage)) return;
    for (const target of stage.ring)
      for (const id of [target.endpoint, target.whileRegistered, target.unlessRegistered])
        if (id) seePerson(finder.ownerOf(id));
  };

  const from = typeof start === 'string' ? { person: start } : start;
  if ('person' in from) seePerson(finder.person(from.person));
  else if ('group' in from) seeGroup(finder.group(from.group));
  else seeMenu(finder.menu(from.menu));
  for (let next = todo.pop(); next; next = todo.pop()) next();
  // Phones as things decide nothing about calls.
  const { templates, sites = [], seats = [], ...whole } = estate;
  const { devices: _devices, servers: _servers, desks: _desks, ...rest } = whole;
  const usedSites = new Set(
    [...people.values()].flatMap(({ endpoints }) => endpoints.flatMap(({ path }) => path?.site ?? [])),
  );
  // But for how well the lines of their sites were measured.
  const measured = sites.flatMap(({ id, name, kind, line }) =>
    line && usedSites.has(id) ? [{ id, name, kind, line }] : [],
  );
  const followed = templates?.filter(
    ({ id }) => 'person' in from && finder.person(from.person)?.template === id,
  );
  return {
    ...rest,
    ...(followed?.length ? { templates: followed } : {}),
    ...(measured.length > 0 ? { sites: measured } : {}),
    ...(used.seats.size > 0 ? { seats: seats.filter(({ id }) => used.seats.has(id)) } : {}),
    people: [...people.values()],
    groups: [...groups.values()],
    menus: [...menus.values()],
  };
}

const union = <T extends { readonly id: string }>(a: readonly T[], b: readonly T[]): readonly T[] => {
  const known = new Set(a.map(({ id }) => id));
  return [...a, ...b.filter(({ id }) => !known.has(id))];
};

/** A slice with what another has more: people, groups and menus. What both have is the first one's. */
export const mergeSlices = (
  slice: Estate,
  more: Pick<Estate, 'people' | 'groups' | 'menus' | 'sites' | 'seats'>,
): Estate => ({
  ...slice,
  ...(slice.sites || more.sites ? { sites: union(slice.sites ?? [], more.sites ?? []) } : {}),
  ...(slice.seats || more.seats ? { seats: union(slice.seats ?? [], more.seats ?? []) } : {}),
  people: union(slice.people, more.people),
  groups: union(slice.groups, more.groups),
  menus: union(slice.menus, more.menus),
});
