import { inTransaction, type Db, type Tx } from '../db';
import { countUp, lockEstate } from './queries';
import type { EstateStore, LiveEstate } from './store';

/** What a change of the estate is given: nobody else can change it before the change is kept or given up. */
export interface Held {
  /** The estate as it stands at this moment. */
  readonly live: LiveEstate;
  /**
   * Counts the estate up; left out where nothing is changed after all.
   * @param structure whether more than people that were there before is changed
   */
  readonly countUp: (structure: boolean) => Promise<number>;
}

/**
 * Changes the estate in one transaction, as it stands once nobody else can write: changes of different things at the
 * same moment are done one after the other, and none of them is refused for the other.
 */
export const changeEstate = <T>(
  { db, store }: { readonly db: Db; readonly store: EstateStore },
  work: (tx: Tx, held: Held) => Promise<T>,
): Promise<T> =>
  inTransaction(db, async (tx) => {
    const locked = await lockEstate(tx);
    const live = await store.at(tx, locked);
    return work(tx, { live, countUp: (structure) => countUp(tx, locked, structure) });
  });
