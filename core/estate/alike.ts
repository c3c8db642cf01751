import { reach, type AnySchema } from 'yup';
import { faultsOf, personSchema } from './schema';
import type { Fault, Person } from './types';
import { closed, isObject, requiredList } from './yup-parts';

/** What tells people apart who are otherwise alike, by what it must be. */
interface Own {
  readonly ids: readonly string[];
  readonly names: readonly string[];
  readonly extensions: readonly string[];
  readonly numbers: readonly string[];
}
const allAs = (path: string) => requiredList(reach(personSchema, path) as AnySchema);
const ownSchema = closed<Own>({
  ids: allAs('id'),
  names: allAs('name'),
  extensions: allAs('lines[0].extension'),
  numbers: allAs('lines[0].numbers[0]'),
});

const ownOf = ({ id, name, lines, endpoints }: Person): Own => ({
  ids: [id, ...lines.map((line) => line.id), ...endpoints.map((endpoint) => endpoint.id)],
  names: [name],
  extensions: lines.map(({ extension }) => extension),
  numbers: [
    ...lines.flatMap(({ numbers }) => numbers),
    ...endpoints.flatMap(({ number }) => (number === undefined ? [] : [number])),
  ],
});

/** Where an id of somebody's own stands in what is theirs. */
const ID_KEYS: readonly string[] = ['id', 'endpoint', 'whileRegistered', 'unlessRegistered', 'person'];

/** Somebody without what is their own alone: what two have alike is right or wrong in both. */
function formOf(person: Person, { ids }: Own): string {
  const places = new Map(ids.map((id) => [id, `#${ids.indexOf(id)}`]));
  return JSON.stringify(
    {
      ...person,
      name: '',
      lines: person.lines.map((line) => ({ ...line, extension: '', numbers: line.numbers.length })),
      endpoints: person.endpoints.map((each) => (each.number === undefined ? each : { ...each, number: '' })),
    },
    (key, value: unknown) =>
      (typeof value === 'string' && ID_KEYS.includes(key) && places.get(value)) || value,
  );
}

/** Whether something has the parts of a person, whatever is in them. */
const hasParts = (value: unknown): boolean =>
  isObject(value) &&
  [value.lines, value.endpoints].every((list) => Array.isArray(list) && list.every(isObject)) &&
  (value.lines as readonly { readonly numbers?: unknown }[]).every(({ numbers }) => Array.isArray(numbers));

/** So many forms are known at most, then they are learned anew; and none that is longer, in characters. */
const MOST_FORMS = 1000;
const LONGEST_FORM = 20_000;

/**
 * Checks the form of many people, who are mostly alike: of those who differ in nothing but ids, names, extensions and
 * numbers one is checked whole, and of the others these.
 * @returns for what is to be people, what is wrong with the first in whom something is; null: nothing
 */
export function manyFormFaults(): (
  people: readonly unknown[],
) => { readonly person: unknown; readonly faults: readonly Fault[] } | null {
  const right = new Set<string>();
  const first = (people: readonly unknown[]) => {
    for (const person of people) {
      const faults = faultsOf(personSchema, person, 'person');
      if (faults.length > 0) return { person, faults };
    }
    return null;
  };
  return (given) => {
    if (!given.every(hasParts)) return first(given);
    const people = given as readonly Person[];
    const own = people.map(ownOf);
    const all: Own = {
      ids: own.flatMap(({ ids }) => ids),
      names: own.flatMap(({ names }) => names),
      extensions: own.flatMap(({ extensions }) => extensions),
      numbers: own.flatMap(({ numbers }) => numbers),
    };
    if (faultsOf(ownSchema, all).length > 0) return first(people);
    for (const [n, person] of people.entries()) {
      const form = formOf(person, own[n]!);
      if (right.has(form)) continue;
      const wrong = first([person]);
      if (wrong) return wrong;
      if (right.size >= MOST_FORMS) right.clear();
      if (form.length <= LONGEST_FORM) right.add(form);
    }
    return null;
  };
}
