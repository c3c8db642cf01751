import { gunzipSync, gzipSync } from 'node:zlib';
import type { RowDataPacket } from 'mysql2/promise';
import type { CarriedMessage, PartyNames } from '../../core/calls/live';
import type { CallLadder } from '../../standins/system';
import type { Queryable } from '../db';
import { readCallKey } from './queries';

/** The messages of one call as they are kept: who each address is, and each message as a byte string. */
export interface KeptLadder {
  readonly names: PartyNames;
  readonly messages: readonly CarriedMessage[];
}

/** When it began, its id, how many messages, and the rest as compressed JSON: a row of the table. */
export type LadderRowValues = readonly [startedAt: Date, id: string, messages: number, body: Buffer];

export function ladderRow({ id, startMs, messages }: CallLadder, names: PartyNames): LadderRowValues {
  const kept: KeptLadder = {
    names,
    messages: messages.map(({ atMs, from, to, bytes }) => ({
      atMs,
      from: `${from.host}:${from.port}`,
      to: `${to.host}:${to.port}`,
      bytes,
    })),
  };
  return [new Date(startMs), id, kept.messages.length, gzipSync(JSON.stringify(kept))];
}

/** Writes the messages of calls, of each once. */
export async function putLadders(keeper: Queryable, rows: readonly LadderRowValues[]): Promise<void> {
  if (rows.length > 0)
    await keeper.query('INSERT IGNORE INTO call_ladder (started_at, id, messages, body) VALUES ?', [rows]);
}

/** How many messages of a call are kept. @param key as `callKey` writes it */
export async function ladderLength(db: Queryable, key: string): Promise<number> {
  const asked = readCallKey(key);
  if (!asked) return 0;
  const [[row]] = await db.query<RowDataPacket[]>(
    'SELECT messages FROM call_ladder WHERE started_at = ? AND id = ?',
    [asked.startedAt, asked.id],
  );
  return Number(row?.messages ?? 0);
}

/** The messages of a call. @returns null: none are kept */
export async function readLadder(db: Queryable, key: string): Promise<KeptLadder | null> {
  const asked = readCallKey(key);
  if (!asked) return null;
  const [[row]] = await db.query<RowDataPacket[]>(
    'SELECT body FROM call_ladder WHERE started_at = ? AND id = ?',
    [asked.startedAt, asked.id],
  );
  return row ? (JSON.parse(gunzipSync(row.body as Buffer).toString('utf8')) as KeptLadder) : null;
}
