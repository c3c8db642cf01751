import type { RowDataPacket } from 'mysql2/promise';
import { readKept, type Endpoint, type Line, type Person } from '../../core/estate';
import { fromJson, toJson, type Queryable } from '../db';

/** A person as stored, with the version for optimistic locking and the estate's revision of the last change. */
export interface StoredPerson {
  readonly person: Person;
  readonly version: number;
}

interface PersonRow extends RowDataPacket {
  id: string;
  name: string;
  status_id: string;
  permission_id: string;
  max_calls: number;
  template_id: string | null;
  mailbox: string | null;
  places: string | null;
  roster: string | null;
  showing: string | null;
  language: string | null;
  plan: string;
  version: number;
}
interface LineRow extends RowDataPacket {
  id: string;
  person_id: string;
  extension: string;
  forward_all: string | null;
  forward_until: string | null;
  forward_after: string | null;
}
interface NumberRow extends RowDataPacket {
  e164: string;
  line_id: string;
}
interface EndpointRow extends RowDataPacket {
  person_id: string;
  body: string;
}

function groupBy<T, V>(rows: readonly T[], key: (row: T) => string, value: (row: T) => V): Map<string, V[]> {
  const groups = new Map<string, V[]>();
  for (const row of rows) {
    const group = groups.get(key(row));
    if (group) group.push(value(row));
    else groups.set(key(row), [value(row)]);
  }
  return groups;
}

/** Rows that one statement names or writes at most. */
const CHUNK = 500;

/** @param at as the tables stood then: what follows their names in a query, or nothing */
async function assemble(db: Queryable, where: string, values: unknown[], at = ''): Promise<StoredPerson[]> {
  const [people] = await db.query<PersonRow[]>(
    `SELECT id, name, status_id, permission_id, max_calls, template_id, mailbox, places, roster, showing, language, plan, version
     FROM person${at} WHERE ${where} ORDER BY position, id`,
    values,
  );
  if (people.length === 0) return [];
  // A few are named: the database needs no table in between, which a node of a cluster that brings another up to date
  // has been seen to crash at.
  const areFew = people.length <= CHUNK;
  const inner = areFew ? '?' : `SELECT id FROM person${at} WHERE ${where}`;
  const given = areFew ? [people.map(({ id }) => id)] : values;
  const [lines] = await db.query<LineRow[]>(
    `SELECT id, person_id, extension, forward_all, forward_until, forward_after
     FROM line${at} WHERE person_id IN (${inner}) ORDER BY position`,
    given,
  );
  const [numbers] = await db.query<NumberRow[]>(
    `SELECT line_number.e164, line_number.line_id FROM line_number${at} JOIN line${at} ON line.id = line_number.line_id
     WHERE line.person_id IN (${inner}) ORDER BY line_number.position`,
    given,
  );
  const [endpoints] = await db.query<EndpointRow[]>(
    `SELECT person_id, body FROM endpoint${at} WHERE person_id IN (${inner}) ORDER BY position`,
    given,
  );
  const numbersOf = groupBy(
    numbers,
    (row) => row.line_id,
    (row) => row.e164,
  );
  const linesOf = groupBy(
    lines,
    (row) => row.person_id,
    (row): Line => {
      const forwardAll = fromJson<Line['forwardAll']>(row.forward_all);
      const forwardAfter = fromJson<Line['forwardAfter']>(row.forward_after);
      return {
        id: row.id,
        extension: row.extension,
        numbers: numbersOf.get(row.id) ?? [],
        ...(forwardAll === undefined ? {} : { forwardAll }),
        ...(row.forward_until === null ? {} : { forwardUntil: row.forward_until }),
        ...(forwardAfter === undefined ? {} : { forwardAfter }),
      };
    },
  );
  const endpointsOf = groupBy(
    endpoints,
    (row) => row.person_id,
    (row) => readKept(row.body) as Endpoint,
  );
  return people.map((row): StoredPerson => {
    const mailbox = fromJson<Person['mailbox']>(row.mailbox);
    const callsFrom = fromJson<Person['callsFrom']>(row.places);
    const roster = fromJson<Person['roster']>(row.roster);
    const showing = fromJson<Person['showing']>(row.showing);
    return {
      version: row.version,
      person: {
        id: row.id,
        name: row.name,
        status: row.status_id,
        permission: row.permission_id,
        maxCalls: row.max_calls,
        ...(row.template_id === null ? {} : { template: row.template_id }),
        ...(mailbox === undefined ? {} : { mailbox }),
        lines: linesOf.get(row.id) ?? [],
        endpoints: endpointsOf.get(row.id) ?? [],
        ...(callsFrom === undefined ? {} : { callsFrom }),
        ...(roster === undefined ? {} : { roster }),
        ...(showing === undefined ? {} : { showing }),
        ...(row.language === null ? {} : { language: row.language }),
        plan: readKept(row.plan) as Person['plan'],
      },
    };
  });
}

/** @param at from `asOf`, for people as they were then */
export const loadPeople = (db: Queryable, at = ''): Promise<StoredPerson[]> => assemble(db, '1 = 1', [], at);

/** Some people by their ids, as they were then. */
export async function loadPeopleOf(
  db: Queryable,
  ids: readonly string[],
  at = '',
): Promise<readonly StoredPerson[]> {
  const people: StoredPerson[] = [];
  for (let from = 0; from < ids.length; from += CHUNK)
    people.push(...(await assemble(db, 'id IN (?)', [ids.slice(from, from + CHUNK)], at)));
  return people;
}

/** People changed after a revision of the estate. */
export const loadPeopleSince = (db: Queryable, revision: number): Promise<StoredPerson[]> =>
  assemble(db, 'revision > ?', [revision]);

export async function loadPerson(db: Queryable, id: string): Promise<StoredPerson | null> {
  return (await assemble(db, 'id = ?', [id]))[0] ?? null;
}

async function insertRows(db: Queryable, into: string, rows: readonly Row[]): Promise<void> {
  for (let at = 0; at < rows.length; at += CHUNK)
    await db.query(`INSERT INTO ${into} VALUES ?`, [rows.slice(at, at + CHUNK)]);
}

type Row = readonly unknown[];
/** What lies in other tables of a person, by the key of each row: lines by their ids, numbers, phones by their ids. */
interface Parts {
  readonly lines: ReadonlyMap<string, Row>;
  readonly numbers: ReadonlyMap<string, Row>;
  readonly endpoints: ReadonlyMap<string, Row>;
}
const partsOf = (people: readonly Person[]): Parts => ({
  lines: new Map(
    people.flatMap((p) =>
      p.lines.map((line, i) => [
        line.id,
        [
          line.id,
          p.id,
          i,
          line.extension,
          toJson(line.forwardAll),
          line.forwardUntil ?? null,
          toJson(line.forwardAfter),
        ],
      ]),
    ),
  ),
  numbers: new Map(
    people.flatMap((p) =>
      p.lines.flatMap((line) => line.numbers.map((number, i) => [number, [number, line.id, i]] as const)),
    ),
  ),
  endpoints: new Map(
    people.flatMap((p) =>
      p.endpoints.map((e, i) => [
        e.id,
        [e.id, p.id, i, e.kind, e.label, e.number ?? null, JSON.stringify(e)],
      ]),
    ),
  ),
});

async function insertParts(db: Queryable, { lines, numbers, endpoints }: Parts): Promise<void> {
  await insertRows(
    db,
    'line (id, person_id, position, extension, forward_all, forward_until, forward_after)',
    [...lines.values()],
  );
  await insertRows(db, 'line_number (e164, line_id, position)', [...numbers.values()]);
  await insertRows(db, 'endpoint (id, person_id, position, kind, label, number, body)', [
    ...endpoints.values(),
  ]);
}

/** What lies in other tables of some people now. */
async function storedParts(db: Queryable, ids: readonly string[]): Promise<Parts> {
  const rowsOf = async (sql: string): Promise<ReadonlyMap<string, Row>> => {
    const found = new Map<string, Row>();
    for (let at = 0; at < ids.length; at += CHUNK) {
      const [rows] = await db.query<RowDataPacket[]>(sql, [ids.slice(at, at + CHUNK)]);
      for (const row of rows) {
        const values: Row = Object.values(row);
        found.set(String(values[0]), values);
      }
    }
    return found;
  };
  return {
    lines: await rowsOf(
      `SELECT id, person_id, position, extension, forward_all, forward_until, forward_after
       FROM line WHERE person_id IN (?)`,
    ),
    numbers: await rowsOf(
      `SELECT e164, line_id, line_number.position FROM line_number
       JOIN line ON line.id = line_number.line_id WHERE line.person_id IN (?)`,
    ),
    endpoints: await rowsOf(
      'SELECT id, person_id, position, kind, label, number, body FROM endpoint WHERE person_id IN (?)',
    ),
  };
}

const isSame = (a: Row | undefined, b: Row | undefined): boolean =>
  a !== undefined && b !== undefined && a.every((value, i) => value === b[i]);

async function deleteRows(db: Queryable, from: string, key: string, keys: readonly string[]): Promise<void> {
  for (let at = 0; at < keys.length; at += CHUNK)
    await db.query(`DELETE FROM ${from} WHERE ${key} IN (?)`, [keys.slice(at, at + CHUNK)]);
}

/**
 * Brings what lies in other tables to what it shall be, row by row: a row that is as it was gets no new version. What
 * hangs on a line goes before it, by itself: a cascade over tables that keep their versions is not the same on every
 * node of a cluster.
 */
async function putParts(db: Queryable, before: Parts, after: Parts): Promise<void> {
  const changed = (kind: keyof Parts): string[] =>
    [...before[kind]].flatMap(([key, row]) => (isSame(row, after[kind].get(key)) ? [] : [key]));
  const lines = new Set(changed('lines'));
  const onThem = (row: Row | undefined) => lines.has(String(row?.[1]));
  const numbers = new Set(changed('numbers'));
  for (const [number, row] of before.numbers) if (onThem(row)) numbers.add(number);
  const endpoints = new Set(changed('endpoints'));
  await deleteRows(db, 'line_number', 'e164', [...numbers]);
  await deleteRows(db, 'line', 'id', [...lines]);
  await deleteRows(db, 'endpoint', 'id', [...endpoints]);
  const missing = (kind: keyof Parts, gone: ReadonlySet<string>) =>
    new Map([...after[kind]].filter(([key]) => gone.has(key) || !before[kind].has(key)));
  await insertParts(db, {
    lines: missing('lines', lines),
    numbers: missing('numbers', numbers),
    endpoints: missing('endpoints', endpoints),
  });
}

/** What a person's row holds, from the name to the plan, in the order of its columns. */
const columnsOf = (p: Person) => [
  p.name,
  p.status,
  p.permission,
  p.maxCalls,
  p.template ?? null,
  toJson(p.mailbox),
  toJson(p.callsFrom),
  toJson(p.roster),
  toJson(p.showing),
  p.language ?? null,
  JSON.stringify(p.plan),
];

/** Adds people at the end of the estate, in one go. */
export async function insertPeople(
  db: Queryable,
  people: readonly Person[],
  revision: number,
  firstPosition: number,
): Promise<void> {
  await insertRows(
    db,
    'person (id, position, name, status_id, permission_id, max_calls, template_id, mailbox, places, roster, showing, language, plan, revision)',
    people.map((p, i) => [p.id, firstPosition + i, ...columnsOf(p), revision]),
  );
  await insertParts(db, partsOf(people));
}

export async function nextPosition(db: Queryable): Promise<number> {
  const [[row]] = await db.query<RowDataPacket[]>(
    'SELECT COALESCE(MAX(position) + 1, 0) AS next FROM person',
  );
  return Number(row?.next ?? 0);
}

/** Writes people that are there already, each with a version one higher. */
export async function updatePeople(
  db: Queryable,
  people: readonly Person[],
  revision: number,
): Promise<void> {
  if (people.length === 0) return;
  const before = await storedParts(
    db,
    people.map((p) => p.id),
  );
  for (let at = 0; at < people.length; at += CHUNK)
    await db.query(
      `INSERT INTO person (id, position, name, status_id, permission_id, max_calls, template_id, mailbox, places, roster, showing, language, plan, revision)
       VALUES ? ON DUPLICATE KEY UPDATE name = VALUES(name), status_id = VALUES(status_id),
         permission_id = VALUES(permission_id), max_calls = VALUES(max_calls), template_id = VALUES(template_id),
         mailbox = VALUES(mailbox), places = VALUES(places), roster = VALUES(roster), showing = VALUES(showing),
         language = VALUES(language), plan = VALUES(plan),
         version = version + 1, revision = VALUES(revision), updated_at = UTC_TIMESTAMP(3)`,
      [people.slice(at, at + CHUNK).map((p) => [p.id, 0, ...columnsOf(p), revision])],
    );
  await putParts(db, before, partsOf(people));
}

/** Takes people out, with their lines and phones. */
export async function removePeople(db: Queryable, ids: readonly string[]): Promise<void> {
  await putParts(db, await storedParts(db, ids), NOTHING);
  await deleteRows(db, 'person', 'id', ids);
}
const NOTHING: Parts = { lines: new Map(), numbers: new Map(), endpoints: new Map() };
