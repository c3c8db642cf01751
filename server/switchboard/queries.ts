import type { RowDataPacket } from 'mysql2/promise';
import type { PhoneManner, PhoneSetting } from '../../standins/messages';
import type { Queryable } from '../db';

interface SettingRow extends RowDataPacket {
  endpoint: string;
  does: PhoneManner;
  answer_after_ms: number | null;
}

/** What the stand-ins of phones do, where they do not just stand ready. */
export async function readPhoneSettings(db: Queryable): Promise<readonly PhoneSetting[]> {
  const [rows] = await db.query<SettingRow[]>('SELECT endpoint, does, answer_after_ms FROM standin_phone');
  return rows.map((row) => ({
    endpoint: row.endpoint,
    does: row.does,
    answerAfterMs: row.answer_after_ms,
  }));
}

/** Sets what the stand-in of a phone does; `ready` is how it is without a row. */
export async function putPhoneSetting(db: Queryable, setting: PhoneSetting): Promise<void> {
  if (setting.does === 'ready') {
    await db.execute('DELETE FROM standin_phone WHERE endpoint = ?', [setting.endpoint]);
    return;
  }
  await db.execute(
    `INSERT INTO standin_phone (endpoint, does, answer_after_ms) VALUES (?, ?, ?)
     ON DUPLICATE KEY UPDATE does = VALUES(does), answer_after_ms = VALUES(answer_after_ms)`,
    [setting.endpoint, setting.does, setting.answerAfterMs],
  );
}
