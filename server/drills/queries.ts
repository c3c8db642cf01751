import type { RowDataPacket } from 'mysql2/promise';
import type { Drill } from '../../core/calls/drills';
import { readKept } from '../../core/estate';
import type { Queryable } from '../db';

export async function readDrills(db: Queryable): Promise<Drill[]> {
  const [rows] = await db.query<RowDataPacket[]>('SELECT body FROM drill ORDER BY position, id');
  return rows.map((row) => readKept(String(row.body)) as Drill);
}

export async function putDrill(db: Queryable, drill: Drill, who: string, at: Date): Promise<void> {
  await db.execute(
    `INSERT INTO drill (id, position, body, made_by, made_at)
     SELECT ?, COALESCE(MAX(position) + 1, 0), ?, ?, ? FROM drill
     ON DUPLICATE KEY UPDATE body = VALUES(body), made_by = VALUES(made_by), made_at = VALUES(made_at)`,
    [drill.id, JSON.stringify(drill), who, at],
  );
}

export async function removeDrill(db: Queryable, id: string): Promise<void> {
  await db.execute('DELETE FROM drill WHERE id = ?', [id]);
}
