import type { ResultSetHeader, RowDataPacket } from 'mysql2/promise';
import type { Queryable } from '../db';

export interface ProbeAddress {
  readonly id: number;
  readonly name: string;
  readonly host: string;
  readonly port: number;
  readonly tlsPort: number;
}

const addressOf = (row: RowDataPacket): ProbeAddress => ({
  id: Number(row.id),
  name: String(row.name),
  host: String(row.host),
  port: Number(row.port),
  tlsPort: Number(row.tls_port),
});

export async function readAddresses(db: Queryable): Promise<readonly ProbeAddress[]> {
  const [rows] = await db.query<RowDataPacket[]>('SELECT * FROM probe_address ORDER BY name, id');
  return rows.map(addressOf);
}

export async function readAddress(db: Queryable, id: number): Promise<ProbeAddress | null> {
  const [[row]] = await db.execute<RowDataPacket[]>('SELECT * FROM probe_address WHERE id = ?', [id]);
  return row ? addressOf(row) : null;
}

/** Allows an address; one that is allowed already gets the name given. */
export async function allowAddress(
  db: Queryable,
  { name, host, port, tlsPort }: Omit<ProbeAddress, 'id'>,
  by: string,
  at: Date,
): Promise<void> {
  await db.execute(
    `INSERT INTO probe_address (name, host, port, tls_port, allowed_by, allowed_at) VALUES (?, ?, ?, ?, ?, ?)
     ON DUPLICATE KEY UPDATE name = VALUES(name)`,
    [name, host, port, tlsPort, by, at],
  );
}

/** A range of addresses inside the organisation that may be asked. */
export interface ProbeRange {
  readonly id: number;
  readonly name: string;
  /** As `10.20.0.0/16`. */
  readonly range: string;
}

export async function readRanges(db: Queryable): Promise<readonly ProbeRange[]> {
  const [rows] = await db.query<RowDataPacket[]>(
    'SELECT id, name, range_text FROM probe_range ORDER BY name, id',
  );
  return rows.map((row) => ({ id: Number(row.id), name: String(row.name), range: String(row.range_text) }));
}
export async function allowRange(
  db: Queryable,
  { name, range }: Omit<ProbeRange, 'id'>,
  by: string,
  at: Date,
): Promise<void> {
  await db.execute(
    `INSERT INTO probe_range (name, range_text, allowed_by, allowed_at) VALUES (?, ?, ?, ?)
     ON DUPLICATE KEY UPDATE name = VALUES(name)`,
    [name, range, by, at],
  );
}
export async function removeRange(db: Queryable, id: number): Promise<boolean> {
  const [result] = await db.execute<ResultSetHeader>('DELETE FROM probe_range WHERE id = ?', [id]);
  return result.affectedRows > 0;
}

export async function removeAddress(db: Queryable, id: number): Promise<boolean> {
  const [result] = await db.execute<ResultSetHeader>('DELETE FROM probe_address WHERE id = ?', [id]);
  return result.affectedRows > 0;
}
