import type { RowDataPacket } from 'mysql2/promise';
import { parts } from '../../core/estate';
import type { SoundNotes } from '../../core/devices/phones';
import type { Queryable } from '../db';

export const notesSchema = parts.closed({
  headset: parts.text(200),
  microphone: parts.text(200),
  camera: parts.text(200),
});

/** What is used with a softphone. */
export async function readSoundNotes(db: Queryable, endpoint: string): Promise<SoundNotes> {
  const [[row]] = await db.execute<RowDataPacket[]>(
    'SELECT headset, microphone, camera FROM softphone_note WHERE endpoint = ?',
    [endpoint],
  );
  return row
    ? { headset: String(row.headset), microphone: String(row.microphone), camera: String(row.camera) }
    : {};
}

export async function putSoundNotes(
  db: Queryable,
  endpoint: string,
  { headset = '', microphone = '', camera = '' }: SoundNotes,
  by: string,
  at: Date,
): Promise<void> {
  await db.execute(
    `INSERT INTO softphone_note (endpoint, headset, microphone, camera, noted_at, noted_by) VALUES (?, ?, ?, ?, ?, ?)
     ON DUPLICATE KEY UPDATE headset = VALUES(headset), microphone = VALUES(microphone), camera = VALUES(camera),
       noted_at = VALUES(noted_at), noted_by = VALUES(noted_by)`,
    [endpoint, headset.trim(), microphone.trim(), camera.trim(), at, by],
  );
}
