import type { TableBody } from '../../api/routing';
import type { Estate, Fault, NumberList } from '../../core/estate';
import { readTable } from '../../core/routes';

/** A route table as it was sent, with the lists that are there and an estate's schedules and trunks; or its faults. */
export function checkTable(
  given: unknown,
  lists: readonly NumberList[],
  estate: Pick<Estate, 'schedules' | 'trunks'>,
): { readonly body: TableBody } | { readonly faults: readonly Fault[] } {
  if (typeof given !== 'object' || given === null || Array.isArray(given))
    return { faults: [{ path: 'table', message: 'must be an object' }] };
  const { lists: _lists, schedules: _schedules, ...body } = given as Record<string, unknown>;
  const read = readTable({
    ...body,
    lists: lists.map(({ id, name }) => ({ id, name, numbers: [] })),
    schedules: estate.schedules,
  });
  if (!read.ok) return { faults: read.faults };
  const trunks = new Set(estate.trunks.map(({ id }) => id));
  const faults = read.table.peers.flatMap(({ trunk }, at) =>
    trunk === undefined || trunks.has(trunk)
      ? []
      : [{ path: `peers[${at}].trunk`, message: `there is no trunk "${trunk}"` }],
  );
  return faults.length > 0 ? { faults } : { body: body as unknown as TableBody };
}
