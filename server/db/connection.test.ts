import mysql, { type RowDataPacket } from 'mysql2/promise';
import { asOwner } from './config';
import { DatabaseBusy, inTransaction, notingOutcome, openDb, OutcomeUnknown } from './connection';
import { putAccount } from '../auth/queries';
import { replaceEstate } from '../estate/queries';
import { createImport, leftImports, touchImport } from '../imports/queries';
import { demoEstate, freshDatabase, type TestDb } from '../test';
import { databaseWay } from '../test/way';

let own: TestDb;
beforeAll(async () => {
  own = await freshDatabase(true, { answerMs: 2500 });
  await replaceEstate(own.db, demoEstate(), 'test');
  await putAccount(own.db, 'specialist', 'specialist', 'no hash', null);
});
afterAll(() => own.drop());

/** Runs work while a connection that is none of the application's holds what `hold` asks for. */
async function whileHeld(hold: string, work: () => Promise<void>): Promise<void> {
  const other = await mysql.createConnection(asOwner(own.config));
  await other.beginTransaction();
  await other.query(hold);
  await work().finally(async () => {
    // Told that it is over, the database lets go of the rows some time later; what it answers it has done.
    await other.rollback();
    await other.end();
  });
}

test('rows that others hold for long are refused as held, and the database is not called away for it', async () => {
  const change = "UPDATE organisation SET name = 'Skerrow'";
  await whileHeld('SELECT * FROM organisation FOR UPDATE', async () => {
    await expect(own.db.query(change)).rejects.toBeInstanceOf(DatabaseBusy);
    await expect(inTransaction(own.db, (tx) => tx.query(change))).rejects.toBeInstanceOf(DatabaseBusy);
    expect(own.db.health()).toEqual({ ok: true, sinceMs: null });
    // Whoever does not want those rows is answered meanwhile.
    expect((await own.db.query('SELECT 1 AS n'))[0]).toEqual([{ n: 1 }]);
  });
});

test('an import that its own transaction holds is not waited for, and is nobody’s to take up', async () => {
  const [[account]] = await own.db.query<RowDataPacket[]>('SELECT id FROM account');
  const id = await createImport(own.db, account!.id as number, Buffer.from('Name,Extension'));
  await own.db.query('UPDATE staff_import SET seen_at = NULL WHERE id = ?', [id]);
  await whileHeld(`SELECT * FROM staff_import WHERE id = ${id} FOR UPDATE`, async () => {
    expect(await leftImports(own.db, id)).toEqual([]);
    await expect(touchImport(own.db, id)).rejects.toBeInstanceOf(DatabaseBusy);
  });
  expect(await leftImports(own.db, id)).toEqual([{ id, state: 'reading' }]);
  await touchImport(own.db, id);
  expect(await leftImports(own.db, id)).toEqual([]);
});

test.each([
  ['waits at a node that hangs', {}],
  ['waits for the one connection to a node that hangs', { connections: 1, waitMs: 60_000 }],
])('what %s is given up once another is in use, of which it says nothing', async (_what, limits) => {
  const ways = [await databaseWay(), await databaseWay()] as const;
  for (const way of ways) way.through(own.config);
  const { socketPath: _not, ...config } = own.config;
  // By itself a statement would be waited for longer than a test is.
  const db = openDb(
    { ...config, ...ways[0].host, hosts: ways.map(({ host }) => host) },
    { answerMs: 600_000, ...limits },
  );
  expect((await db.query('SELECT 1 AS n'))[0]).toEqual([{ n: 1 }]);
  ways[0].standStill();
  const waiting = [
    db.query("UPDATE organisation SET name = 'Hung'"),
    inTransaction(db, (tx) => tx.query("UPDATE organisation SET name = 'Hung'")),
    db.query('SELECT 2 AS n'),
  ];
  for (const each of await Promise.allSettled(waiting))
    expect(each).toMatchObject({ status: 'rejected', reason: { name: 'DatabaseBusy' } });
  expect(db.health()).toEqual({ ok: true, sinceMs: null });
  expect((await db.query('SELECT 3 AS n'))[0]).toEqual([{ n: 3 }]);
  await db.end();
  for (const way of ways) await way.close();
});

test('whatever keeping says that broke off, nobody is told that nothing was written: a node may have handed it on', async () => {
  const failure = (code: string) => Object.assign(new Error(code), { code });
  /** Keeps each transaction, and says something else of it, once for each code. */
  const saying = (...codes: readonly string[]) => ({
    ...own.db,
    connection: async () => {
      const connection = await own.db.connection();
      const code = codes.length > 0 ? (codes as string[]).shift()! : null;
      return new Proxy(connection, {
        get: (target, name) => {
          const value: unknown = Reflect.get(target, name);
          if (name === 'commit' && code !== null)
            return async () => {
              await target.commit();
              throw failure(code);
            };
          return typeof value === 'function' ? (value.bind(target) as unknown) : value;
        },
      });
    },
  });
  const cases = [
    ['ER_ERROR_DURING_COMMIT'],
    ['ER_UNKNOWN_ERROR'],
    ['ER_UNKNOWN_COM_ERROR'],
    ['PROTOCOL_CONNECTION_LOST'],
    // Given up for another, as it says, and tried again: the second time it breaks off.
    ['ER_LOCK_DEADLOCK', 'ER_ERROR_DURING_COMMIT'],
  ];
  for (const [n, codes] of cases.entries()) {
    const outcome = { kept: false, unknown: false };
    const name = `Broken off ${n}`;
    const change = notingOutcome(outcome, () =>
      inTransaction(saying(...codes), (tx) => tx.query('UPDATE organisation SET name = ?', [name])),
    );
    await expect(change).rejects.toBeInstanceOf(OutcomeUnknown);
    expect(outcome).toEqual({ kept: false, unknown: true });
    expect((await own.db.query('SELECT name FROM organisation'))[0]).toEqual([{ name }]);
  }
});
