import {
  faultsOf,
  personReferenceFaults,
  personSchema,
  referenceFaults,
  type Estate,
  type Fault,
  type Person,
} from '../../core/estate';
import type { LiveEstate } from './store';

/** Faults of a person as it would stand in the estate in the place of the one that has its id now. */
export function personFaults(live: LiveEstate, value: unknown, id: string): Fault[] {
  const form = faultsOf(personSchema, value, 'person');
  return form.length > 0 ? form : placeFaults(live, value as Person, id);
}

/** The same of somebody whose form is right. */
export function placeFaults(live: LiveEstate, person: Person, id: string): Fault[] {
  if (person.id !== id) return [{ path: 'person.id', message: 'cannot be changed' }];
  const before = live.finder.person(id);
  const ownIds = new Set(person.endpoints.map((endpoint) => endpoint.id));
  const gone = (before?.endpoints ?? []).filter((endpoint) => !ownIds.has(endpoint.id));
  if (gone.length > 0) return faultsInEstate(live.estate, person);
  const ids = {
    ...live.ids,
    endpoints: { has: (each: string) => ownIds.has(each) || live.ids.endpoints.has(each) },
  };
  return [...personReferenceFaults(person, ids, 'person'), ...ownershipFaults(live, person)];
}

/** Whether an extension, number, line or endpoint of the person belongs to somebody else. */
function ownershipFaults(live: LiveEstate, person: Person): Fault[] {
  const faults: Fault[] = [];
  const seen = new Set<string>();
  const once = (kind: string, key: string, path: string) => {
    if (seen.has(`${kind} ${key}`)) faults.push({ path, message: `${key} stands twice` });
    seen.add(`${kind} ${key}`);
  };
  person.lines.forEach((line, l) => {
    once('line', line.id, `person.lines[${l}].id`);
    [line.extension, ...line.numbers].forEach((key, i) => {
      const path = `person.lines[${l}].${i === 0 ? 'extension' : `numbers[${i - 1}]`}`;
      once('called', key, path);
      const owner = live.index.destinations.get(key);
      if (!owner || (owner.kind === 'line' && owner.person.id === person.id)) return;
      const name =
        owner.kind === 'line'
          ? owner.person.name
          : owner.kind === 'group'
            ? owner.group.name
            : owner.menu.name;
      faults.push({ path, message: `${key} belongs to ${name} already` });
    });
  });
  person.endpoints.forEach((endpoint, e) => {
    const path = `person.endpoints[${e}].id`;
    once('endpoint', endpoint.id, path);
    const owner = live.finder.ownerOf(endpoint.id);
    if (owner && owner.id !== person.id)
      faults.push({ path, message: `${endpoint.id} belongs to ${owner.name} already` });
  });
  return faults;
}

/** The faults that an estate has with this person in it; paths of the person's own begin with `person`. */
function faultsInEstate(estate: Estate, person: Person): Fault[] {
  const at = estate.people.findIndex((each) => each.id === person.id);
  const after: Estate = { ...estate, people: estate.people.map((each, i) => (i === at ? person : each)) };
  const prefix = `people[${at}].`;
  return referenceFaults(after).map((fault) => ({
    ...fault,
    path: fault.path.startsWith(prefix) ? `person.${fault.path.slice(prefix.length)}` : fault.path,
  }));
}
