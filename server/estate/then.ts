import type { RowDataPacket } from 'mysql2/promise';
import { sliceFor, type Finder, type SliceStart } from '../../core/editing';
import type { Estate, Person } from '../../core/estate';
import { inSnapshot, type Db, type Queryable } from '../db';
import { loadPeopleOf } from './people';
import { asOf, estateOf, loadShell } from './queries';

/** People named by a plan that lead to others, who lead to others: so many times it is asked at most. */
const MOST_ROUNDS = 500;

/** People of a moment, each read once it is known that they are wanted. */
function peopleThen(db: Queryable, at: string) {
  /** By id; null: there was nobody of that id. */
  const people = new Map<string, Person | null>();
  /** Whose a phone was, by its id; null: there was none. */
  const owners = new Map<string, string | null>();
  const wanted = { people: new Set<string>(), phones: new Set<string>() };

  async function readOwners(): Promise<void> {
    const ids = [...wanted.phones];
    wanted.phones.clear();
    if (ids.length === 0) return;
    const [rows] = await db.query<RowDataPacket[]>(
      `SELECT id, person_id FROM endpoint${at} WHERE id IN (?)`,
      [ids],
    );
    for (const id of ids) owners.set(id, null);
    for (const row of rows) {
      owners.set(String(row.id), String(row.person_id));
      if (!people.has(String(row.person_id))) wanted.people.add(String(row.person_id));
    }
  }
  async function readPeople(): Promise<void> {
    const ids = [...wanted.people];
    wanted.people.clear();
    if (ids.length === 0) return;
    for (const id of ids) people.set(id, null);
    for (const { person } of await loadPeopleOf(db, ids, at)) people.set(person.id, person);
  }
  return {
    person: (id: string): Person | undefined => {
      const known = people.get(id);
      if (known === undefined) wanted.people.add(id);
      return known ?? undefined;
    },
    ownerOf: (phone: string): Person | undefined => {
      const owner = owners.get(phone);
      if (owner === undefined) wanted.phones.add(phone);
      return owner ? (people.get(owner) ?? undefined) : undefined;
    },
    /** Reads those who were wanted and are not here yet. @returns whether there were any */
    more: async (): Promise<boolean> => {
      if (wanted.people.size + wanted.phones.size === 0) return false;
      await readOwners();
      await readPeople();
      return true;
    },
  };
}

/** What calls for somebody, a group or a menu could come to at a moment, and all else of the estate but its people. */
export interface SliceThen {
  readonly slice: Estate;
  /** Without people. */
  readonly whole: Estate;
}

/**
 * The part of the estate, as the database kept it at a moment, that calls could come to: only the people in it are
 * read, however many there are and however often they were changed.
 * @param epochMs ms since 1970
 * @returns null: there was no estate yet
 */
export const sliceThen = (db: Db, epochMs: number, start: string | SliceStart): Promise<SliceThen | null> =>
  inSnapshot(db, async (tx) => {
    const at = asOf(epochMs);
    const stored = await loadShell(tx, at);
    if (!stored) return null;
    const whole = estateOf({ shell: stored.shell, people: [] });
    const { more, ...people } = peopleThen(tx, at);
    const byId = <T extends { readonly id: string }>(all: readonly T[]) => {
      const known = new Map(all.map((each) => [each.id, each]));
      return (id: string) => known.get(id);
    };
    const finder: Finder = { ...people, group: byId(whole.groups), menu: byId(whole.menus) };
    for (let rounds = 0; rounds < MOST_ROUNDS; rounds += 1) {
      const slice = sliceFor(whole, finder, start);
      if (!(await more())) return { slice, whole };
    }
    throw new Error('a plan leads on and on');
  });
