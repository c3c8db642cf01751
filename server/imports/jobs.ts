import { columnsFault, matchColumns, staffPlanner, STAFF_LIMITS, type PlannedRow } from '../../core/formats';
import { faultLine, manyFormFaults, type Fault, type Person } from '../../core/estate';
import type { Logger } from 'pino';
import { inTransaction, type Db } from '../db';
import { changeEstate, insertPeople, nextPosition, updatePeople, placeFaults } from '../estate';
import type { Services } from '../http';
import { noteRunning } from '../restarts';
import { readTableInPool } from '../reading';
import { addRecord } from '../record';
import {
  findImport,
  importRows,
  importSource,
  leftImports,
  moveImport,
  saveReading,
  setProgress,
  touchImport,
  type ImportSummary,
  type StaffImport,
} from './queries';

const AT_A_TIME = 100;
const ALIVE_MS = 5000;
const pause = () => new Promise<void>((resolve) => setImmediate(resolve));

async function readList(
  services: Services,
  job: StaffImport,
): Promise<{ summary: ImportSummary; rows: PlannedRow[]; revision: number }> {
  const { db, store } = services;
  const live = await store.current();
  const nothing = { rows: [], revision: live.revision };
  const read = await readTableInPool(await importSource(db, job.id), job.readAs ?? undefined);
  if (!read.ok) {
    const { encoding: told, faults } = read;
    return { ...nothing, summary: { ...(told === undefined ? {} : { encoding: told }), faults } };
  }
  const { table, encoding } = read;
  const columns = job.chosen ?? matchColumns(table.headings);
  const told = { encoding, delimiter: table.delimiter, headings: table.headings, columns };
  const unmatched = columnsFault(columns, table);
  if (unmatched)
    return { ...nothing, summary: { ...told, faults: [{ line: 1, column: 0, message: unmatched }] } };
  const planner = staffPlanner(live.estate, columns);
  const rows: PlannedRow[] = [];
  for (const row of table.rows) {
    if (rows.length % AT_A_TIME === 0) {
      progress.set(job.id, { done: rows.length, total: table.rows.length });
      await pause();
    }
    rows.push(planner.planRow(row));
  }
  const counts = { create: 0, change: 0, same: 0, refuse: 0 };
  for (const row of rows) counts[row.action] += 1;
  return { summary: { ...told, faults: [], counts }, rows, revision: live.revision };
}

/**
 * How far imports of this server have come: not in the database, where whoever writes one would wait for its own
 * transaction. Another server says no more than that it is at work.
 */
const progress = new Map<number, { readonly done: number; readonly total: number }>();
export const progressOf = (id: number): { readonly done: number; readonly total: number } | undefined =>
  progress.get(id);

/** Runs a job of an import, telling the database every few seconds that it is still worked on. */
async function alive<T>(db: Db, id: number, work: () => Promise<T>): Promise<T> {
  const touch = () => touchImport(db, id).catch(() => undefined);
  await touch();
  const timer = setInterval(() => void touch(), ALIVE_MS);
  try {
    return await work();
  } finally {
    clearInterval(timer);
    progress.delete(id);
  }
}

/** Reads the list of an import and works out what would become of each row. Writes nothing of the estate. */
export const readImport = (services: Services, id: number): Promise<void> =>
  alive(services.db, id, async () => {
    const { db } = services;
    const job = await findImport(db, id);
    if (!job) return;
    const { summary, rows, revision } = await readList(services, job);
    await inTransaction(db, async (tx) => {
      await saveReading(tx, id, summary, revision, rows);
      await setProgress(tx, id, rows.length, rows.length);
      await moveImport(tx, id, ['reading'], 'read', false);
    });
  });

/** Thrown when the estate has changed since the rows were held against it. */
export const CHANGED_SINCE = 'the staff have been changed since the list was read';

/**
 * Writes all rows that create or change, in one transaction: all of them or none, and that the import is written is
 * part of it.
 */
export const writeImport = (services: Services, id: number, who: string): Promise<void> =>
  alive(services.db, id, async () => {
    const { db } = services;
    const job = await findImport(db, id);
    if (!job) return;
    const rows = await importRows(db, id, { limit: STAFF_LIMITS.rows });
    const created = rows.flatMap((row) => (row.action === 'create' ? [row.person] : []));
    const changed = rows.flatMap((row) => (row.action === 'change' ? [row.person] : []));
    const total = created.length + changed.length;
    await changeEstate(services, async (tx, { live, countUp }) => {
      if (live.revision !== job.revision) throw new Error(CHANGED_SINCE);
      if (!(await moveImport(tx, id, ['writing'], 'written', false)))
        throw new Error('it was given back meanwhile');
      const all = [...created, ...changed];
      const formFaults = manyFormFaults();
      const refuse = (person: Person, [fault]: readonly Fault[]) => {
        if (fault) throw new Error(`${person.name}: ${faultLine(fault)}`);
      };
      for (let at = 0; at < all.length; at += AT_A_TIME) {
        progress.set(id, { done: Math.floor(at / 2), total });
        await pause();
        const some = all.slice(at, at + AT_A_TIME);
        const wrong = formFaults(some);
        if (wrong) refuse(wrong.person as Person, wrong.faults);
        for (const person of some) refuse(person, placeFaults(live, person, person.id));
      }
      const revision = await countUp(true);
      const first = await nextPosition(tx);
      const CHUNK = 500;
      for (let at = 0; at < created.length; at += CHUNK) {
        await insertPeople(tx, created.slice(at, at + CHUNK), revision, first + at);
        progress.set(id, { done: Math.floor((total + at) / 2), total });
      }
      await updatePeople(tx, changed, revision);
      // Phones of people who are new here have been in use before; those of others are behind where they change.
      await noteRunning(
        tx,
        changed.map((person) => [live.finder.person(person.id) ?? null, person]),
        services.now(),
      );
      await setProgress(tx, id, total, total);
      await addRecord(tx, {
        who,
        kind: 'staff-imported',
        subject: `${created.length} created, ${changed.length} changed`,
      });
    });
  });

/**
 * Takes up what a server that has ended left: a list that was being read is read again; one that was being written is
 * not written, for its state is part of what is written, and can be written again.
 */
export async function takeUpImports(
  services: Services,
  log: Pick<Logger, 'warn'>,
  only: number | null = null,
): Promise<void> {
  try {
    for (const { id, state } of await leftImports(services.db, only)) {
      if (state === 'writing') await moveImport(services.db, id, ['writing'], 'read');
      else await readImport(services, id);
    }
  } catch (error) {
    log.warn({ err: error }, 'imports that were left could not be taken up');
  }
}
