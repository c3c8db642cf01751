import type { ResultSetHeader, RowDataPacket } from 'mysql2/promise';
import { readKept, type Dialling, type KeptPromise, type ObjectKind, type Settings } from '../../core/estate';
import type { Queryable } from '../db';

/** Objects of the estate that are no people. */
export type EditableKind = ObjectKind;

/** An object of the estate that is no person, as stored. */
export async function readObject(
  db: Queryable,
  kind: EditableKind,
  id: string,
): Promise<{ object: unknown; version: number } | null> {
  const [[row]] = await db.query<RowDataPacket[]>(
    'SELECT body, version FROM estate_object WHERE kind = ? AND id = ?',
    [kind, id],
  );
  return row ? { object: readKept(String(row.body)), version: Number(row.version) } : null;
}

/** Writes an object in its place, or at the end of its list if it is new. */
export async function putObject(
  db: Queryable,
  kind: EditableKind,
  id: string,
  object: unknown,
): Promise<void> {
  const body = JSON.stringify(object);
  const [result] = await db.execute<ResultSetHeader>(
    'UPDATE estate_object SET body = ?, version = version + 1 WHERE kind = ? AND id = ?',
    [body, kind, id],
  );
  if (result.affectedRows > 0) return;
  await db.execute(
    `INSERT INTO estate_object (kind, id, position, body)
     SELECT ?, ?, COALESCE(MAX(position) + 1, 0), ? FROM estate_object WHERE kind = ?`,
    [kind, id, body, kind],
  );
}

export async function removeObject(db: Queryable, kind: EditableKind, id: string): Promise<void> {
  await db.execute('DELETE FROM estate_object WHERE kind = ? AND id = ?', [kind, id]);
}

export async function setSettings(db: Queryable, settings: Settings): Promise<void> {
  await db.execute('UPDATE organisation SET settings = ?', [JSON.stringify(settings)]);
}

export async function setDialling(db: Queryable, dialling: Dialling): Promise<void> {
  await db.execute('UPDATE organisation SET dialling = ?', [JSON.stringify(dialling)]);
}

/** Sets what the organisation is called, and its zone. */
export async function setOrganisation(
  db: Queryable,
  { name, timeZone }: { readonly name: string; readonly timeZone: string },
): Promise<void> {
  await db.execute('UPDATE organisation SET name = ?, time_zone = ?', [name, timeZone]);
}

export async function setPromises(db: Queryable, promises: readonly KeptPromise[]): Promise<void> {
  await db.execute('UPDATE organisation SET promises = ?', [JSON.stringify(promises)]);
}

/** Puts the objects of a kind into an order; those that are not named stay behind. */
export async function orderObjects(db: Queryable, kind: EditableKind, ids: readonly string[]): Promise<void> {
  for (const [position, id] of ids.entries())
    await db.execute(
      'UPDATE estate_object SET position = ?, version = version + 1 WHERE kind = ? AND id = ?',
      [position, kind, id],
    );
}
