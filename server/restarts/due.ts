import { inTransaction, type Db, type Tx } from '../db';
import type { EstateStore, LiveEstate } from '../estate';
import { addRecords } from '../record';
import type { Switchboard } from '../switchboard';
import { readRunning, settle, type OwedRow } from './queries';

/** Notes that phones were restarted, with a record for each. */
export async function restarted(
  tx: Tx,
  { finder, index }: Pick<LiveEstate, 'finder' | 'index'>,
  rows: readonly OwedRow[],
  who: string,
): Promise<void> {
  await settle(
    tx,
    rows.map(({ endpoint }) => endpoint),
  );
  await addRecords(
    tx,
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
  const live = await store.current();
  const done = await inTransaction(db, async (tx) => {
    const due = (await readRunning(tx, true)).filter(isDue);
    await restarted(tx, live, due, 'the clock');
    return due;
  });
  phones?.restart(done.map(({ endpoint }) => endpoint));
  return done.length;
}
