import mysql, { type RowDataPacket } from 'mysql2/promise';
import { asOwner } from './config';
import { DatabaseBusy, inTransaction } from './connection';
import { putAccount } from '../auth/queries';
import { replaceEstate } from '../estate/queries';
import { createImport, leftImports, touchImport } from '../imports/queries';
import { demoEstate, freshDatabase, type TestDb } from '../test';

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
  await work().finally(() => other.end());
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
