import { inTransaction } from '../db';
import type { EstateStore } from '../estate/store';
import { addRecords } from '../record/queries';
import type { Db, Queryable } from '../db';
import type { Switchboard } from '../phones/switchboard';
import { readRunning, settle, type OwedRow } from './queries';

/** Notes that phones were restarted, with a record for each. */
export async function restarted(
  db: Queryable,
  store: EstateStore,
  rows: readonly OwedRow[],
  who: string,
): Promise<void> {
  const { finder, index } = await store.current();
  await settle(
    db,
    rows.map(({ endpoint }) => endpoint),
  );
  await addRecords(
    db,
    rows.map(({ endpoint }) => {
      const owner = finder.ownerOf(endpoint);
      return {
        who,
        kind: 'restarted' as const,
        ...(owner ? { personId: owner.id } : {}),
        subject: owner?.name ?? endpoint,
        detail: index.endpoints.get(endpoint)?.endpoint.label ?? endpoint,
      };
    }),
  );
}

/** Does the restarts whose time has come. */
export async function restartDue({
  db,
  store,
  now,
  phones,
}: {
  readonly db: Db;
  readonly store: EstateStore;
  readonly now: () => Date;
  /** The stand-ins, where they run: those of the phones start again too. */
  readonly phones?: Pick<Switchboard, 'restart'>;
}): Promise<number> {
  const at = now().toISOString();
  const isDue = ({ restartAt }: OwedRow) => restartAt !== null && restartAt <= at;
  if (!(await readRunning(db)).some(isDue)) return 0;
  return inTransaction(db, async (connection) => {
    const due = (await readRunning(connection)).filter(isDue);
    await restarted(connection, store, due, 'the clock');
    phones?.restart(due.map(({ endpoint }) => endpoint));
    return due.length;
  });
}
