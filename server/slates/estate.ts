import type { RouteTable } from '../../core/routing';
import type { LiveEstate } from '../estate/store';
import type { Services } from '../http/routes';
import { liveTable, type LiveTable } from '../routing/store';

/** The estate of now as slates see it: with the body of its route table, whose lists stay apart. */
export interface SlateEstate extends LiveEstate {
  readonly lists: LiveTable['lists'];
}

export async function slateEstate({ db, store }: Pick<Services, 'db' | 'store'>): Promise<SlateEstate> {
  const [live, { body, lists }] = [await store.current(), await liveTable(db)];
  return { ...live, estate: { ...live.estate, routing: body as RouteTable }, lists };
}
