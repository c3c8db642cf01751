import type { ResultSetHeader, RowDataPacket } from 'mysql2/promise';
import {
  NOT_BEGUN,
  USUAL_POLICY,
  type Progress,
  type ProvisioningPolicy,
} from '../../core/devices/provisioning';
import { fromJson, type Queryable } from '../db';
import type { ProvisioningEvent, FirmwareFile } from '../../api/provisioning';

/** A phone that may ask for its settings. Times ISO 8601, UTC. */
export interface ProvisionedPhone {
  readonly address: string;
  readonly device: string;
  readonly addedAt: string;
  readonly addedBy: string;
  readonly codeHash: string | null;
  readonly codeUntil: string | null;
  readonly progress: Progress;
}

export async function readPolicy(db: Queryable): Promise<ProvisioningPolicy> {
  const [[row]] = await db.query<RowDataPacket[]>('SELECT body FROM provisioning_policy');
  return row ? (fromJson(row.body as string) as ProvisioningPolicy) : USUAL_POLICY;
}
export async function putPolicy(db: Queryable, policy: ProvisioningPolicy): Promise<void> {
  await db.execute(
    'INSERT INTO provisioning_policy (id, body) VALUES (1, ?) ON DUPLICATE KEY UPDATE body = VALUES(body)',
    [JSON.stringify(policy)],
  );
}

const iso = (date: Date | null) => date?.toISOString() ?? null;
const phoneOf = (row: RowDataPacket): ProvisionedPhone => ({
  address: String(row.mac_address),
  device: String(row.device_id),
  addedAt: (row.added_at as Date).toISOString(),
  addedBy: String(row.added_by),
  codeHash: (row.code_hash as string | null) ?? null,
  codeUntil: iso(row.code_until as Date | null),
  progress: fromJson(row.progress as string) as Progress,
});

export async function readProvisioned(db: Queryable): Promise<readonly ProvisionedPhone[]> {
  const [rows] = await db.query<RowDataPacket[]>(
    'SELECT * FROM provisioned_phone ORDER BY added_at, mac_address',
  );
  return rows.map(phoneOf);
}
/** @param lock holds the row to the end of the transaction */
export async function readProvisionedPhone(
  db: Queryable,
  address: string,
  lock = false,
): Promise<ProvisionedPhone | null> {
  const [[row]] = await db.execute<RowDataPacket[]>(
    `SELECT * FROM provisioned_phone WHERE mac_address = ?${lock ? ' FOR UPDATE' : ''}`,
    [address],
  );
  return row ? phoneOf(row) : null;
}

/** Lets a phone ask for its settings; one that may already begins anew. */
export async function addProvisioned(
  db: Queryable,
  address: string,
  device: string,
  by: string,
  at: Date,
): Promise<void> {
  await db.execute('DELETE FROM provisioned_phone WHERE device_id = ? AND mac_address <> ?', [
    device,
    address,
  ]);
  await db.execute(
    `INSERT INTO provisioned_phone (mac_address, device_id, added_at, added_by, progress) VALUES (?, ?, ?, ?, ?)
     ON DUPLICATE KEY UPDATE device_id = VALUES(device_id), added_at = VALUES(added_at), added_by = VALUES(added_by),
       progress = VALUES(progress), code_hash = NULL, code_until = NULL`,
    [address, device, at, by, JSON.stringify(NOT_BEGUN)],
  );
}
export async function removeProvisioned(db: Queryable, address: string): Promise<boolean> {
  const [{ affectedRows }] = await db.execute<ResultSetHeader>(
    'DELETE FROM provisioned_phone WHERE mac_address = ?',
    [address],
  );
  return affectedRows > 0;
}
export async function putProgress(db: Queryable, address: string, progress: Progress): Promise<void> {
  await db.execute('UPDATE provisioned_phone SET progress = ? WHERE mac_address = ?', [
    JSON.stringify(progress),
    address,
  ]);
}
/** @param hash null: the code is used up */
export async function putCode(
  db: Queryable,
  address: string,
  hash: string | null,
  until: Date | null,
): Promise<void> {
  await db.execute('UPDATE provisioned_phone SET code_hash = ?, code_until = ? WHERE mac_address = ?', [
    hash,
    until,
    address,
  ]);
}

/** Events kept of one phone, and of all phones that are on no list. */
const KEPT = { phone: 100, strangers: 200 } as const;
export async function addEvent(
  db: Queryable,
  {
    address,
    from,
    says,
    isKnown,
    at,
  }: Omit<ProvisioningEvent, 'at'> & { readonly isKnown: boolean; readonly at: Date },
): Promise<void> {
  const [{ insertId }] = await db.execute<ResultSetHeader>(
    'INSERT INTO provisioning_event (mac_address, at, from_address, is_known, says) VALUES (?, ?, ?, ?, ?)',
    [address, at, from.slice(0, 60), isKnown, says.slice(0, 300)],
  );
  // Now and then, so that the table does not grow with what asks.
  if (insertId % 50 !== 0) return;
  const [which, values, kept] = isKnown
    ? (['mac_address = ?', [address], KEPT.phone] as const)
    : (['is_known = FALSE', [], KEPT.strangers] as const);
  const [[edge]] = await db.query<RowDataPacket[]>(
    `SELECT id FROM provisioning_event WHERE ${which} ORDER BY id DESC LIMIT 1 OFFSET ${kept}`,
    [...values],
  );
  if (edge) await db.query(`DELETE FROM provisioning_event WHERE ${which} AND id <= ?`, [...values, edge.id]);
}
const eventOf = (row: RowDataPacket): ProvisioningEvent => ({
  address: String(row.mac_address),
  at: (row.at as Date).toISOString(),
  from: String(row.from_address),
  says: String(row.says),
});
export async function readEvents(db: Queryable, address: string): Promise<readonly ProvisioningEvent[]> {
  const [rows] = await db.execute<RowDataPacket[]>(
    `SELECT * FROM provisioning_event WHERE mac_address = ? ORDER BY id DESC LIMIT ${KEPT.phone}`,
    [address],
  );
  return rows.map(eventOf);
}
/** Phones that asked and are on no list, each once, the latest first. */
export async function readStrangers(db: Queryable): Promise<readonly ProvisioningEvent[]> {
  const [rows] = await db.query<RowDataPacket[]>(
    `SELECT * FROM provisioning_event WHERE id IN (
       SELECT MAX(id) FROM provisioning_event WHERE is_known = FALSE GROUP BY mac_address
     ) AND mac_address NOT IN (SELECT mac_address FROM provisioned_phone) ORDER BY id DESC LIMIT 20`,
  );
  return rows.map(eventOf);
}
export async function readFirmwareFiles(db: Queryable): Promise<readonly FirmwareFile[]> {
  const [rows] = await db.query<RowDataPacket[]>(
    'SELECT model, version, LENGTH(body) AS bytes, sha256, added_at, added_by FROM firmware_image ORDER BY model, added_at',
  );
  return rows.map((row) => ({
    model: String(row.model),
    version: String(row.version),
    bytes: Number(row.bytes),
    sha256: String(row.sha256),
    addedAt: (row.added_at as Date).toISOString(),
    addedBy: String(row.added_by),
  }));
}
export async function readImageBody(db: Queryable, model: string, version: string): Promise<Buffer | null> {
  const [[row]] = await db.execute<RowDataPacket[]>(
    'SELECT body FROM firmware_image WHERE model = ? AND version = ?',
    [model, version],
  );
  return row ? (row.body as Buffer) : null;
}
export async function putFirmwareFile(
  db: Queryable,
  image: Pick<FirmwareFile, 'model' | 'version' | 'sha256' | 'addedBy'>,
  body: Buffer,
  at: Date,
): Promise<void> {
  await db.execute(
    `INSERT INTO firmware_image (model, version, body, sha256, added_at, added_by) VALUES (?, ?, ?, ?, ?, ?)
     ON DUPLICATE KEY UPDATE body = VALUES(body), sha256 = VALUES(sha256), added_at = VALUES(added_at), added_by = VALUES(added_by)`,
    [image.model, image.version, body, image.sha256, at, image.addedBy],
  );
}
export async function removeFirmwareFile(db: Queryable, model: string, version: string): Promise<boolean> {
  const [{ affectedRows }] = await db.execute<ResultSetHeader>(
    'DELETE FROM firmware_image WHERE model = ? AND version = ?',
    [model, version],
  );
  return affectedRows > 0;
}
