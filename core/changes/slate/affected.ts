import type { PersonChange } from '../../calls/engine';
import type { Estate, Group, Menu, Person } from '../../estate';
import type { Followers } from './followers';
import { sliceFor, type Finder } from '../../editing';
import { referencesOf } from './references';
import { entryKey, type SlateEntry, type Start } from './types';

/**
 * What people, groups and menus of an estate look at or lead to, by `kind/id`.
 * @param owners whose each endpoint is, by `person/id`
 * @param sites where each softphone is used, by `site/id`
 */
function leads(
  { people, groups, menus }: Pick<Estate, 'people' | 'groups' | 'menus'>,
  owners: ReadonlyMap<string, string>,
  sites: ReadonlyMap<string, string>,
): Map<string, Set<string>> {
  const all = new Map<string, Set<string>>();
  const add = (key: string, what: Person | Group | Menu) => {
    const to = new Set<string>();
    for (const named of referencesOf(what)) {
      const [kind, id] = [named.slice(0, named.indexOf('/')), named.slice(named.indexOf('/') + 1)];
      const target = kind === 'endpoint' ? owners.get(id) : kind === 'quality' ? sites.get(id) : named;
      if (target !== undefined && target !== key) to.add(target);
    }
    all.set(key, to);
  };
  for (const each of people) add(`person/${each.id}`, each);
  for (const each of groups) add(`group/${each.id}`, each);
  for (const each of menus) add(`menu/${each.id}`, each);
  return all;
}

const sitesIn = (people: Estate['people']): ReadonlyMap<string, string> =>
  new Map(
    people.flatMap(({ endpoints }) =>
      endpoints.flatMap(({ id, path }) =>
        path?.site === undefined ? [] : [[id, `site/${path.site}`] as const],
      ),
    ),
  );
const ownersIn = (people: Estate['people']): ReadonlyMap<string, string> =>
  new Map(people.flatMap((p) => p.endpoints.map((e) => [e.id, `person/${p.id}`] as const)));

/** What calls to a start can come to; null where it is not there. */
export function sliceAt(estate: Estate, finder: Finder, { kind, id }: Start): Estate | null {
  const there = kind === 'person' ? finder.person(id) : kind === 'group' ? finder.group(id) : finder.menu(id);
  if (!there) return null;
  return sliceFor(
    estate,
    finder,
    kind === 'person' ? { person: id } : kind === 'group' ? { group: id } : { menu: id },
  );
}

/** Whose each extension of an estate is. */
export const extensionOwners = ({ people, groups, menus }: Estate): ReadonlyMap<string, Start> =>
  new Map<string, Start>([
    ...people.flatMap(({ id, lines }) =>
      lines.map(({ extension }) => [extension, { kind: 'person', id }] as const),
    ),
    ...groups.map(({ id, extension }) => [extension, { kind: 'group', id }] as const),
    ...menus.map(({ id, extension }) => [extension, { kind: 'menu', id }] as const),
  ]);

/** Everything of an estate where calls come in. */
export const startsOf = (estate: Estate): readonly Start[] => [
  ...estate.people.map(({ id }): Start => ({ kind: 'person', id })),
  ...estate.groups.map(({ id }): Start => ({ kind: 'group', id })),
  ...estate.menus.map(({ id }): Start => ({ kind: 'menu', id })),
];

/** Entries as changes of people that are there before and after; null: they change other things. */
const changesOf = (entries: readonly SlateEntry[]): readonly PersonChange[] | null =>
  entries.every(({ kind, base, after }) => kind === 'person' && base !== null && after !== null)
    ? entries.map(({ base, after }) => ({ before: base as Person, after: after as Person }))
    : null;

/** Changes of these can touch any call. */
const EVERYWHERE = ['trunk', 'trunk-order', 'settings', 'dialling'];

/**
 * The people, groups and menus whose calls a change can touch: those that are changed, and all that lead to something
 * changed, however far, before or after.
 * @param followers of the estate before, where they are known: changes of people alone are asked of them
 */
export function affectedBy(
  before: Estate,
  after: Estate,
  entries: readonly SlateEntry[],
  followers: Pick<Followers, 'affected'> | null = null,
): readonly Start[] {
  const people = followers && changesOf(entries);
  if (followers && people) return followers.affected(people);
  const all = startsOf(after);
  const there = new Set(all.map(({ kind, id }) => `${kind}/${id}`));
  const gone = startsOf(before).filter(({ kind, id }) => !there.has(`${kind}/${id}`));
  if (entries.some(({ kind }) => EVERYWHERE.includes(kind))) return [...all, ...gone];
  const ledToBy = new Map<string, string[]>();
  const owners = ownersIn(before.people);
  const sites = sitesIn(before.people);
  // What is not changed leads where it led before; what is, may lead elsewhere.
  const changed = new Set(entries.map(entryKey));
  const isChanged = (kind: string) => (each: { readonly id: string }) => changed.has(`${kind}/${each.id}`);
  const then = {
    people: after.people.filter(isChanged('person')),
    groups: after.groups.filter(isChanged('group')),
    menus: after.menus.filter(isChanged('menu')),
  };
  const ownersThen = new Map([...owners, ...ownersIn(then.people)]);
  const sitesThen = new Map([...sites, ...sitesIn(then.people)]);
  for (const edges of [leads(before, owners, sites), leads(then, ownersThen, sitesThen)])
    for (const [from, to] of edges)
      for (const each of to) {
        const list = ledToBy.get(each);
        if (list) list.push(from);
        else ledToBy.set(each, [from]);
      }
  const reached = new Set(entries.map(entryKey));
  const todo = [...reached];
  for (let key = todo.pop(); key !== undefined; key = todo.pop())
    for (const from of ledToBy.get(key) ?? [])
      if (!reached.has(from)) {
        reached.add(from);
        todo.push(from);
      }
  return [...all, ...gone].filter(({ kind, id }) => reached.has(`${kind}/${id}`));
}
