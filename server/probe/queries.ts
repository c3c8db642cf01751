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

export async function removeAddress(db: Queryable, id: number): Promise<boolean> {
  const [result] = await db.execute<ResultSetHeader>('DELETE FROM probe_address WHERE id = ?', [id]);
  return result.affectedRows > 0;
}
