import {
  columnsFault,
  decodeText,
  matchColumns,
  readCsv,
  staffPlanner,
  TABLE_LIMITS,
  type PlannedRow,
} from '../../core/formats';
import { faultLine } from '../../core/estate';
import { inTransaction } from '../db';
import { nextRevision } from '../estate/queries';
import type { Services } from '../http/routes';
import { insertPeople, nextPosition, updatePeople } from '../people/queries';
import { noteRunning } from '../restarts/queries';
import { personFaults } from '../people/check';
import { addRecord } from '../record/queries';
import {
  findImport,
  importRows,
  importSource,
  moveImport,
  saveReading,
  setProgress,
  type ImportSummary,
  type StaffImport,
} from './queries';

const AT_A_TIME = 100;
const pause = () => new Promise<void>((resolve) => setImmediate(resolve));

async function readList(
  services: Services,
  job: StaffImport,
): Promise<{ summary: ImportSummary; rows: PlannedRow[]; revision: number }> {
  const { db, store } = services;
  const live = await store.current();
  const nothing = { rows: [], revision: live.revision };
  const decoded = decodeText(await importSource(db, job.id), job.readAs ?? undefined);
  if (!decoded.ok) return { ...nothing, summary: { faults: [decoded.fault] } };
  const read = readCsv(decoded.text);
  if (!read.ok) return { ...nothing, summary: { encoding: decoded.encoding, faults: read.faults } };
  const { table } = read;
  const columns = job.chosen ?? matchColumns(table.headings);
  const { encoding } = decoded;
  const told = { encoding, delimiter: table.delimiter, headings: table.headings, columns };
  const unmatched = columnsFault(columns, table);
  if (unmatched)
    return { ...nothing, summary: { ...told, faults: [{ line: 1, column: 0, message: unmatched }] } };
  const planner = staffPlanner(live.estate, columns);
  const rows: PlannedRow[] = [];
  for (const row of table.rows) {
    if (rows.length % AT_A_TIME === 0) {
      await setProgress(db, job.id, rows.length, table.rows.length);
      await pause();
    }
    rows.push(planner.planRow(row));
  }
  const counts = { create: 0, change: 0, same: 0, refuse: 0 };
  for (const row of rows) counts[row.action] += 1;
  return { summary: { ...told, faults: [], counts }, rows, revision: live.revision };
}

/** Reads the list of an import and works out what would become of each row. Writes nothing of the estate. */
export async function readImport(services: Services, id: number): Promise<void> {
  const { db } = services;
  const job = await findImport(db, id);
  if (!job) return;
  const { summary, rows, revision } = await readList(services, job);
  await inTransaction(db, (connection) => saveReading(connection, id, summary, revision, rows));
  await setProgress(db, id, rows.length, rows.length);
  await moveImport(db, id, ['reading'], 'read');
}

/** Thrown when the estate has changed since the rows were held against it. */
export const CHANGED_SINCE = 'the staff have been changed since the list was read';

/** Writes all rows that create or change, in one transaction: all of them or none. */
export async function writeImport(services: Services, id: number, who: string): Promise<void> {
  const { db, store } = services;
  const job = await findImport(db, id);
  if (!job) return;
  const rows = await importRows(db, id, { limit: TABLE_LIMITS.rows });
  const created = rows.flatMap((row) => (row.action === 'create' ? [row.person] : []));
  const changed = rows.flatMap((row) => (row.action === 'change' ? [row.person] : []));
  const total = created.length + changed.length;
  const live = await store.current();
  await inTransaction(db, async (connection) => {
    const revision = await nextRevision(connection, true);
    if (revision !== job.revision + 1) throw new Error(CHANGED_SINCE);
    for (const [i, person] of [...created, ...changed].entries()) {
      if (i % AT_A_TIME === 0) {
        await setProgress(db, id, Math.floor(i / 2), total);
        await pause();
      }
      const [fault] = personFaults(live, person, person.id);
      if (fault) throw new Error(`${person.name}: ${faultLine(fault)}`);
    }
    const first = await nextPosition(connection);
    const CHUNK = 500;
    for (let at = 0; at < created.length; at += CHUNK) {
      await insertPeople(connection, created.slice(at, at + CHUNK), revision, first + at);
      await setProgress(db, id, Math.floor((total + at) / 2), total);
    }
    await updatePeople(connection, changed, revision);
    // Phones of people who are new here have been in use before; those of others are behind where they change.
    await noteRunning(
      connection,
      changed.map((person) => [live.finder.person(person.id) ?? null, person]),
      services.now(),
    );
    await addRecord(connection, {
      who,
      kind: 'staff-imported',
      subject: `${created.length} created, ${changed.length} changed`,
    });
  });
  await setProgress(db, id, total, total);
  await moveImport(db, id, ['writing'], 'written');
}
