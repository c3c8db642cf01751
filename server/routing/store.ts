import type { TableBody } from '../../api/routing';
import { callingCode, dialledMaps } from '../../core/calls/dialling';
import type { Estate, NumberClass } from '../../core/estate';
import { compileTable, type AnalyseOptions, type CompiledTable, type RouteTable } from '../../core/routes';
import { inSnapshot, type Db } from '../db';
import { listVersions, readLists, readTableBody, type StoredList } from '../estate';

/** The route table as the database has it now. */
export interface LiveTable {
  readonly body: TableBody;
  readonly version: number;
  readonly lists: readonly StoredList[];
}

const lists = new WeakMap<Db, { readonly versions: string; readonly lists: readonly StoredList[] }>();
const compiled = new WeakMap<
  readonly StoredList[],
  { readonly key: string; readonly table: CompiledTable }
>();

/** Reads the table and its lists as at one instant; of lists that have not changed a copy is kept. */
export async function liveTable(db: Db): Promise<LiveTable> {
  return inSnapshot(db, async (tx) => {
    const [{ body, version }, versions] = [await readTableBody(tx), await listVersions(tx)];
    let kept = lists.get(db);
    if (kept?.versions !== versions) {
      kept = { versions, lists: await readLists(tx) };
      lists.set(db, kept);
    }
    return { body, version, lists: kept.lists };
  });
}

/** A table with its lists, and the schedules of the estate. */
export const wholeTable = (body: TableBody, live: LiveTable, { schedules }: Estate): RouteTable => ({
  ...body,
  lists: live.lists.map(({ id, name, numbers }) => ({ id, name, numbers })),
  schedules,
});

/** A table made ready for tracing; the one made ready last is kept. */
export function readyTable(body: TableBody, live: LiveTable, estate: Estate): CompiledTable {
  const key = JSON.stringify([body, estate.schedules]);
  const kept = compiled.get(live.lists);
  if (kept?.key === key) return kept.table;
  const table = compileTable(wholeTable(body, live, estate));
  compiled.set(live.lists, { key, table });
  return table;
}

/** What an analysis is to know of the organisation: its dial plan, and what its lines may dial. */
export function analysisOptions(body: TableBody, estate: Estate, fromMs: number): AnalyseOptions {
  const { dialling, permissions, people } = estate;
  const lines = body.peers.find(({ id }) => id === body.lines);
  const held = new Set(people.map(({ permission }) => permission));
  const classes = new Set<NumberClass>(
    permissions.filter(({ id }) => held.has(id)).flatMap(({ allow }) => allow),
  );
  return {
    fromMs,
    plan: { ...dialling, countryCode: callingCode(dialling.country) ?? '' },
    ...(lines
      ? { dialled: dialledMaps(classes, lines.expects, dialling).map((map) => ({ from: lines.id, map })) }
      : {}),
  };
}
