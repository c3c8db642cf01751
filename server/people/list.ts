import { createHash } from 'node:crypto';
import type { PersonSummary } from '../../api/people';
import type { Judgement } from '../../core/calls/views';
import type { Person } from '../../core/estate';
import { numberOf } from '../../core/statistics';
import type { EstateStore } from '../estate';
import type { Services } from '../http';

/** Rows of a part: between these, and wherever a person's id says that a part begins. */
const FEWEST = 150;
const MOST = 1000;
/** One of so many people begins a part. */
const ONE_OF = 256;
/** Lists of before that parts are still given of, for those who are fetching them. */
const KEPT_LISTS = 3;

interface Part {
  readonly hash: string;
  readonly rows: readonly PersonSummary[];
}

const rowOf = (person: Person, reach: Judgement['state']): PersonSummary => ({
  id: person.id,
  name: person.name,
  extension: person.lines[0]?.extension ?? '',
  numbers: [
    ...person.lines.flatMap((line, i) => [...(i > 0 ? [line.extension] : []), ...line.numbers]),
    ...person.endpoints.flatMap((endpoint) => (endpoint.number ? [endpoint.number] : [])),
  ],
  status: person.status,
  permission: person.permission,
  ...(person.template === undefined ? {} : { template: person.template }),
  phones: person.endpoints.length,
  reach,
});

/** The rows cut into parts, which begin where the number of an id says so: somebody who comes or goes moves the ends of few. */
export function cutIntoParts(rows: readonly PersonSummary[]): readonly (readonly PersonSummary[])[] {
  const parts: PersonSummary[][] = [];
  let part: PersonSummary[] = [];
  for (const row of rows) {
    if (part.length >= MOST || (part.length >= FEWEST && numberOf(row.id) % ONE_OF === 0)) {
      parts.push(part);
      part = [];
    }
    part.push(row);
  }
  if (part.length > 0) parts.push(part);
  return parts;
}

/**
 * Numbers are left out: of a part with one person in it, whoever sees numbers masked could else find out one of them
 * by trying. The version of a person changes with them.
 */
const hashOf = (rows: readonly PersonSummary[], versions: ReadonlyMap<string, number>): string =>
  createHash('sha256')
    .update(JSON.stringify(rows.map(({ numbers: _, ...row }) => [versions.get(row.id) ?? 0, row])))
    .digest('hex')
    .slice(0, 24);

/**
 * The list of people in parts, each named by what is in it: a browser fetches those that it does not have. Servers
 * name the same rows the same way. A row, and a part, stays the same object for as long as nothing of it changes.
 */
export function peopleParts() {
  const rows = new WeakMap<Person, PersonSummary>();
  let last: readonly Part[] = [];
  /** Parts of this list and the ones before, by their names. */
  let lists: readonly ReadonlyMap<string, Part>[] = [];

  const rowNow = (person: Person, reach: Judgement['state']) => {
    const known = rows.get(person);
    if (known?.reach === reach) return known;
    const row = rowOf(person, reach);
    rows.set(person, row);
    return row;
  };
  const isSame = (a: readonly PersonSummary[], b: readonly PersonSummary[]) =>
    a.length === b.length && a.every((row, i) => row === b[i]);

  return {
    /** The parts of the list as it is now, in its order. */
    now(
      people: readonly Person[],
      versions: ReadonlyMap<string, number>,
      judgements: ReadonlyMap<string, Judgement>,
    ): readonly Part[] {
      const byFirst = new Map(last.map((part) => [part.rows[0]?.id, part]));
      const parts = cutIntoParts(
        people.map((person) => rowNow(person, judgements.get(person.id)?.state ?? 'lost')),
      ).map((of): Part => {
        const before = byFirst.get(of[0]?.id);
        return before && isSame(before.rows, of) ? before : { hash: hashOf(of, versions), rows: of };
      });
      if (parts.length !== last.length || parts.some((part, i) => part !== last[i])) {
        last = parts;
        lists = [new Map(parts.map((part) => [part.hash, part])), ...lists].slice(0, KEPT_LISTS);
      }
      return parts;
    },
    /** The rows of a part by its name; null: it is of no list of late. */
    part(hash: string): readonly PersonSummary[] | null {
      for (const list of lists) {
        const found = list.get(hash);
        if (found) return found.rows;
      }
      return null;
    },
  };
}

const lists = new WeakMap<EstateStore, ReturnType<typeof peopleParts>>();
/** The parts that a server has cut. */
export function partsOf(store: EstateStore): ReturnType<typeof peopleParts> {
  let parts = lists.get(store);
  if (!parts) lists.set(store, (parts = peopleParts()));
  return parts;
}

/** The list of people as it is now, in parts. */
export async function listNow({ store, now }: Pick<Services, 'store' | 'now'>) {
  const live = await store.current();
  const judgements = await store.judgements(now().getTime(), live);
  return { live, parts: partsOf(store).now(live.estate.people, live.versions, judgements) };
}
