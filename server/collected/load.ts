import type { RowDataPacket } from 'mysql2/promise';
import type { GroupLoadPage } from '../../api/phones';
import { zoneNamed } from '../../core/zones';
import type { Queryable } from '../db';

const DAY_MS = 86_400_000;
const HALF_HOURS = 48;
/** Records that are looked at, the latest first. */
const MOST_RECORDS = 200_000;

/**
 * What came to some numbers over the last days: calls by half hour of the day, as it was by the clock of a zone, how
 * long was talked and how soon it was answered.
 */
export async function loadOf(
  db: Queryable,
  numbers: readonly string[],
  timeZone: string,
  nowMs: number,
  days: number,
): Promise<GroupLoadPage> {
  const from = new Date(nowMs - days * DAY_MS);
  const [rows] = await db.query<RowDataPacket[]>(
    `SELECT started_at, talk_ms AS talk, at_ms AS at, outcome
     FROM call_record WHERE started_at >= ? AND to_number IN (?)
     ORDER BY started_at DESC LIMIT ${MOST_RECORDS}`,
    [from, numbers],
  );
  const zone = zoneNamed(timeZone);
  const calls = new Array<number>(HALF_HOURS).fill(0);
  const dates = new Set<string>();
  let [talked, talkMs, answerMs] = [0, 0, 0];
  for (const row of rows) {
    const ms = (row.started_at as Date).getTime();
    const local = new Date(ms + zone.offset(ms) * 60_000);
    dates.add(local.toISOString().slice(0, 10));
    calls[local.getUTCHours() * 2 + (local.getUTCMinutes() >= 30 ? 1 : 0)]! += 1;
    if (row.outcome !== 'answered') continue;
    talked += 1;
    talkMs += Number(row.talk);
    answerMs += Number(row.at);
  }
  const mean = (sum: number) => (talked === 0 ? null : Math.round(sum / talked) / 1000);
  return {
    days,
    calls: rows.length,
    onDays: dates.size,
    talkS: mean(talkMs),
    answerS: mean(answerMs),
    slots: calls.flatMap((count, n) =>
      count === 0
        ? []
        : [
            {
              at: `${String(n >> 1).padStart(2, '0')}:${n % 2 === 0 ? '00' : '30'}`,
              calls: Math.round((count / Math.max(1, dates.size)) * 100) / 100,
            },
          ],
    ),
  };
}
