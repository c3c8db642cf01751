import type { RowDataPacket } from 'mysql2/promise';
import {
  ESTATE_FORMAT,
  OBJECT_KINDS,
  OBJECT_LISTS,
  readKept,
  type Estate,
  type ObjectKind,
} from '../../core/estate';
import { fromJson, inSnapshot, inTransaction, toJson, type Db, type Queryable, type Tx } from '../db';
import { insertPeople, loadPeople, type StoredPerson } from './people';
import { addRecord } from '../record';
import { loadRouting, replaceRouting } from './routing';

interface OrganisationRow extends RowDataPacket {
  name: string;
  time_zone: string;
  settings: string | null;
  dialling: string;
  promises: string | null;
  revision: number;
  structure_revision: number;
}
interface ObjectRow extends RowDataPacket {
  kind: ObjectKind;
  body: string;
  version: number;
}

export { OBJECT_KINDS, type ObjectKind };
export const LISTS = OBJECT_LISTS;

export interface Revision {
  readonly revision: number;
  readonly structure: number;
}

/** The objects of a kind, in the order of the file; a list that the file leaves out is empty. */
export const objectsOf = <K extends ObjectKind>(
  estate: Estate,
  kind: K,
): NonNullable<Estate[(typeof LISTS)[K]]> =>
  estate[LISTS[kind]] ?? ([] as unknown as NonNullable<Estate[(typeof LISTS)[K]]>);

/** The estate's revision, or null while the database holds none. */
export async function readRevision(db: Queryable): Promise<Revision | null> {
  const [[row]] = await db.query<OrganisationRow[]>('SELECT revision, structure_revision FROM organisation');
  return row ? { revision: row.revision, structure: row.structure_revision } : null;
}

/**
 * Takes the lock under which the estate is changed, to the end of the transaction; whatever is read on its connection
 * from then on is what stands. All that the transaction writes bears one instant.
 */
export async function lockEstate(tx: Tx): Promise<Revision> {
  const [[row]] = await tx.query<OrganisationRow[]>(
    'SELECT revision, structure_revision FROM organisation FOR UPDATE',
  );
  if (!row) throw new Error('the database holds no estate');
  await tx.fixTime();
  return { revision: row.revision, structure: row.structure_revision };
}

/**
 * Counts the revision up, once the lock is held.
 * @param structure whether more than people that were there before is changed
 * @returns the new revision
 */
export async function countUp(tx: Tx, before: Revision, structure: boolean): Promise<number> {
  const revision = before.revision + 1;
  await tx.execute('UPDATE organisation SET revision = ?, structure_revision = ?', [
    revision,
    structure ? revision : before.structure,
  ]);
  return revision;
}

export interface StoredEstate {
  readonly revision: Revision;
  /** The estate without its people. */
  readonly shell: Omit<Estate, 'people'>;
  readonly people: readonly StoredPerson[];
  /** Versions of the objects that are not people, by `kind/id`. */
  readonly versions: ReadonlyMap<string, number>;
}

/**
 * What follows a table's name for its rows as they were at an instant; the tables of the estate keep every version.
 * @param epochMs ms since 1970
 */
export const asOf = (epochMs: number): string =>
  ` FOR SYSTEM_TIME AS OF TIMESTAMP FROM_UNIXTIME(${(Math.trunc(epochMs) / 1000).toFixed(3)})`;

/** Reads the whole estate, or null while the database holds none; the same estate that was written. */
export async function loadEstate(db: Queryable, at = ''): Promise<StoredEstate | null> {
  const stored = await loadShell(db, at);
  return stored && { ...stored, people: await loadPeople(db, at) };
}

/** The same without its people, or null while the database holds none. */
export async function loadShell(db: Queryable, at = ''): Promise<Omit<StoredEstate, 'people'> | null> {
  const [[row]] = await db.query<OrganisationRow[]>(`SELECT * FROM organisation${at}`);
  if (!row) return null;
  const [objects] = await db.query<ObjectRow[]>(
    `SELECT kind, body, version FROM estate_object${at} ORDER BY kind, position`,
  );
  const of = <K extends ObjectKind>(kind: K) =>
    objects
      .filter((o) => o.kind === kind)
      .map((o) => readKept(o.body) as NonNullable<Estate[(typeof LISTS)[K]]>[number]);
  const settings = fromJson<NonNullable<Estate['settings']>>(row.settings);
  const promises = fromJson<NonNullable<Estate['promises']>>(row.promises);
  const templates = of('template');
  const [sites, devices, servers] = [of('site'), of('device'), of('server')];
  const [desks, seats, accessNumbers] = [of('desk'), of('seat'), of('access')];
  const versions = objects.map((o) => {
    const { id } = JSON.parse(o.body) as { id: string };
    return [`${o.kind}/${id}`, o.version] as const;
  });
  return {
    revision: { revision: row.revision, structure: row.structure_revision },
    versions: new Map(versions),
    shell: {
      format: ESTATE_FORMAT,
      name: row.name,
      timeZone: row.time_zone,
      ...(settings === undefined ? {} : { settings }),
      dialling: JSON.parse(row.dialling) as Estate['dialling'],
      permissions: of('permission'),
      trunks: of('trunk'),
      schedules: of('schedule'),
      statuses: of('status'),
      groups: of('group'),
      menus: of('menu'),
      ...(promises === undefined ? {} : { promises }),
      ...(templates.length === 0 ? {} : { templates }),
      ...(sites.length === 0 ? {} : { sites }),
      ...(devices.length === 0 ? {} : { devices }),
      ...(servers.length === 0 ? {} : { servers }),
      ...(desks.length === 0 ? {} : { desks }),
      ...(seats.length === 0 ? {} : { seats }),
      ...(accessNumbers.length === 0 ? {} : { accessNumbers }),
    },
  };
}

/** The estate with its route table, as a file takes it with it; all as at one instant. */
export const estateFile = (db: Db): Promise<Estate | null> =>
  inSnapshot(db, async (tx) => {
    const stored = await loadEstate(tx);
    if (!stored) return null;
    const routing = await loadRouting(tx);
    return { ...estateOf(stored), ...(routing ? { routing } : {}) };
  });

/** The estate as it is computed with; its route table is kept apart. */
export const estateOf = ({ shell, people }: Pick<StoredEstate, 'shell' | 'people'>): Estate => {
  const {
    groups,
    menus,
    promises,
    templates,
    sites,
    devices,
    servers,
    desks,
    seats,
    accessNumbers,
    ...rest
  } = shell;
  return {
    ...rest,
    people: people.map((each) => each.person),
    groups,
    menus,
    ...(promises === undefined ? {} : { promises }),
    ...(templates === undefined ? {} : { templates }),
    ...(sites === undefined ? {} : { sites }),
    ...(devices === undefined ? {} : { devices }),
    ...(servers === undefined ? {} : { servers }),
    ...(desks === undefined ? {} : { desks }),
    ...(seats === undefined ? {} : { seats }),
    ...(accessNumbers === undefined ? {} : { accessNumbers }),
  };
};

/** Puts a valid estate in the place of whatever the database holds, all or nothing. */
export const replaceEstate = (db: Db, estate: Estate, who: string): Promise<void> =>
  inTransaction(db, (tx) => writeEstate(tx, estate, who));

export async function writeEstate(tx: Tx, estate: Estate, who: string): Promise<void> {
  const [[before]] = await tx.query<OrganisationRow[]>('SELECT revision FROM organisation FOR UPDATE');
  const revision = (before?.revision ?? 0) + 1;
  // What phones run is known of the old estate alone.
  // Each by itself: cascades over tables that keep their versions are not the same on every node of a cluster.
  for (const table of [
    'device_running',
    'line_number',
    'line',
    'endpoint',
    'person',
    'estate_object',
    'organisation',
  ])
    await tx.query(`DELETE FROM ${table}`);
  await tx.execute(
    `INSERT INTO organisation (id, name, time_zone, settings, dialling, promises, revision, structure_revision)
       VALUES (1, ?, ?, ?, ?, ?, ?, ?)`,
    [
      estate.name,
      estate.timeZone,
      toJson(estate.settings),
      JSON.stringify(estate.dialling),
      toJson(estate.promises),
      revision,
      revision,
    ],
  );
  const rows = OBJECT_KINDS.flatMap((kind) =>
    objectsOf(estate, kind).map((object, i) => [kind, object.id, i, JSON.stringify(object)]),
  );
  if (rows.length > 0)
    await tx.query('INSERT INTO estate_object (kind, id, position, body) VALUES ?', [rows]);
  await insertPeople(tx, estate.people, revision, 0);
  await replaceRouting(tx, estate.routing, revision);
  await addRecord(tx, {
    who,
    kind: 'estate-imported',
    subject: estate.name,
    detail: `${estate.people.length} people`,
  });
}
