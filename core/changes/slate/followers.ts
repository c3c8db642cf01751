import type { Estate, Group, Menu, Person } from '../../estate';
import type { PersonChange } from '../../calls/engine';
import { referencesOf } from './references';
import type { Start } from './types';

/**
 * The people who were changed from one copy of an estate to the next, where each who was not is the same object.
 * @returns null: more than people was changed, or somebody came or went
 */
export function changedPeople(before: Estate, after: Estate): readonly PersonChange[] | null {
  const { people: was, ...rest } = before;
  const { people: is, ...now } = after;
  const isSame = Object.keys({ ...rest, ...now }).every(
    (key) => rest[key as keyof typeof rest] === now[key as keyof typeof now],
  );
  if (!isSame || was.length !== is.length) return null;
  const changed: PersonChange[] = [];
  for (let i = 0; i < is.length; i += 1) {
    const [old, person] = [was[i]!, is[i]!];
    if (old === person) continue;
    if (old.id !== person.id) return null;
    changed.push({ before: old, after: person });
  }
  return changed;
}

/** Of what something looks at or leads to, what a change of people can touch. */
const FOLLOWED = /^(?:person|endpoint|group|menu)\//;
const namedBy = (what: Person | Group | Menu): readonly string[] =>
  [...referencesOf(what)].filter((each) => FOLLOWED.test(each));

/** Whether somebody's phones are the same ones, by their ids and kinds. */
export const hasSamePhones = ({ before, after }: PersonChange): boolean =>
  before.endpoints.length === after.endpoints.length &&
  before.endpoints.every(
    ({ id, kind }, i) => id === after.endpoints[i]!.id && kind === after.endpoints[i]!.kind,
  );

/** Who follows whom in an estate, kept in step with changes of people. */
export interface Followers {
  /** Takes over what changed: afterwards it is of the estate with these people. */
  readonly change: (changed: readonly PersonChange[]) => void;
  /**
   * The people, groups and menus whose calls changes of people can touch: those that are changed, and all that lead to
   * them or their phones, however far, before or after. Asked once the changes were taken over.
   */
  readonly affected: (changed: readonly PersonChange[]) => readonly Start[];
}

/** @param also what else something names, as `kind/id`; `number/` for the numbers and extensions of people */
export function followersOf(
  estate: Pick<Estate, 'people' | 'groups' | 'menus'>,
  also: (what: Person | Group | Menu) => Iterable<string> = () => [],
): Followers {
  const allNamedBy = (what: Person | Group | Menu) => [...namedBy(what), ...also(what)];
  /** Who names something, by what is named; a person names their own phones too, which does no harm. */
  const namers = new Map<string, Set<string>>();
  const add = (key: string, what: Person | Group | Menu) => {
    for (const named of allNamedBy(what)) {
      if (named === key) continue;
      const all = namers.get(named);
      if (all) all.add(key);
      else namers.set(named, new Set([key]));
    }
  };
  for (const group of estate.groups) add(`group/${group.id}`, group);
  for (const menu of estate.menus) add(`menu/${menu.id}`, menu);
  const phonesOf = ({ endpoints }: Person) => endpoints.map(({ id }) => `endpoint/${id}`);
  const phones = new Map<string, readonly string[]>();
  const addPerson = (person: Person) => {
    const key = `person/${person.id}`;
    add(key, person);
    phones.set(key, phonesOf(person));
  };
  estate.people.forEach(addPerson);
  return {
    change: (changed) => {
      for (const { before } of changed) {
        const key = `person/${before.id}`;
        for (const named of allNamedBy(before)) namers.get(named)?.delete(key);
      }
      for (const { after } of changed) addPerson(after);
    },
    affected: (changed) => {
      const reached = new Set<string>();
      const todo: string[] = [];
      const reach = (key: string) => {
        if (reached.has(key)) return;
        reached.add(key);
        todo.push(key);
      };
      for (const { before, after } of changed) {
        reach(`person/${after.id}`);
        // Who named them before and no longer does was changed itself.
        for (const phone of [...phonesOf(before), ...phonesOf(after)]) reach(phone);
        for (const { extension, numbers } of [...before.lines, ...after.lines])
          for (const number of [extension, ...numbers]) reach(`number/${number}`);
      }
      for (let key = todo.pop(); key !== undefined; key = todo.pop()) {
        for (const from of namers.get(key) ?? []) reach(from);
        for (const phone of phones.get(key) ?? []) reach(phone);
      }
      return [...reached].flatMap((key): Start[] => {
        const [kind = '', id = ''] = [key.slice(0, key.indexOf('/')), key.slice(key.indexOf('/') + 1)];
        return kind === 'person' || kind === 'group' || kind === 'menu' ? [{ kind, id }] : [];
      });
    },
  };
}
