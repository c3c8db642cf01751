import type { RouteTable } from '../../core/routes';
import type { LiveEstate } from '../estate';
import type { Services } from '../http';
import { liveTable } from '../routing';

/** The estate of now as slates see it: with its route table and the table's lists. */
export async function slateEstate({
  db,
  store,
}: Pick<Services, 'db' | 'store'>): Promise<LiveEstate & { readonly tableKey: string }> {
  const [live, table] = [await store.current(), await liveTable(db)];
  const lists = table.lists.map(({ id, name, numbers }) => ({ id, name, numbers }));
  return {
    ...live,
    estate: { ...live.estate, routing: { ...table.body, lists } as RouteTable },
    // The route table is not counted with the estate's revision.
    tableKey: `${table.version} ${table.lists.map(({ id, version }) => `${id} ${version}`).join()}`,
  };
}
