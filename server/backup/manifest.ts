import { createHash } from 'node:crypto';
import { createReadStream, readFileSync } from 'node:fs';
import { join } from 'node:path';
import type { RowDataPacket } from 'mysql2/promise';
import { parts } from '../../core/estate';
import type { Queryable } from '../db';

/** What stands beside a dump, by which it is known to be whole. */
export interface Manifest {
  readonly format: 'hostler-backup/1';
  /** ISO 8601, UTC. */
  readonly at: string;
  readonly database: string;
  /** The last migration that had been done. */
  readonly migration: number;
  readonly server: string;
  /** Of the packed dump. */
  readonly sha256: string;
  readonly bytes: number;
  /** Where the binary log stood at the dump; null: the database keeps none. */
  readonly binlog: { readonly file: string; readonly position: number } | null;
  /** Rows of each table, every version of them counted, as they came back when the dump was tried; null: it was not. */
  readonly rows: Readonly<Record<string, number>> | null;
  /** Fingerprints of the keys that its secrets are sealed with; the keys themselves are not in it. */
  readonly keys: readonly string[];
}

export const DUMP = 'database.sql.gz';
export const MANIFEST = 'backup.json';

const schema = parts.closed({
  format: parts.oneOf(['hostler-backup/1']).required('is missing'),
  at: parts.instant().required('is missing'),
  database: parts.requiredText(100),
  migration: parts.count(0).required('is missing'),
  server: parts.requiredText(200),
  sha256: parts.requiredText(64),
  bytes: parts.count(0).required('is missing'),
  binlog: parts
    .closed({ file: parts.requiredText(200), position: parts.count(0).required('is missing') })
    .nullable(),
  rows: parts.anything().nullable(),
  keys: parts.requiredList(parts.text(100)),
});

/** The manifest of a backup. @throws Error that says what is wrong with it */
export function readManifest(folder: string): Manifest {
  const file = join(folder, MANIFEST);
  let value: unknown;
  try {
    value = JSON.parse(readFileSync(file, 'utf8'));
  } catch (error) {
    const { code } = error as NodeJS.ErrnoException;
    throw new Error(
      code === 'ENOENT' ? `${folder} is no backup: it has no ${MANIFEST}` : `${file} cannot be read`,
    );
  }
  try {
    return schema.validateSync(value, { strict: true }) as unknown as Manifest;
  } catch (error) {
    throw new Error(`${file} is no manifest of a backup: ${(error as Error).message}`);
  }
}

/** SHA-256 of a file, in hex. */
export async function hashOf(file: string): Promise<string> {
  const hash = createHash('sha256');
  for await (const part of createReadStream(file)) hash.update(part as Buffer);
  return hash.digest('hex');
}

/** How many rows each table of a database has, every version of them counted. */
export async function countRows(db: Queryable, database: string): Promise<Record<string, number>> {
  const [tables] = await db.query<(RowDataPacket & { name: string; type: string })[]>(
    `SELECT TABLE_NAME AS name, TABLE_TYPE AS type FROM information_schema.TABLES
     WHERE TABLE_SCHEMA = ? AND TABLE_TYPE IN ('BASE TABLE', 'SYSTEM VERSIONED') ORDER BY TABLE_NAME`,
    [database],
  );
  const rows: Record<string, number> = {};
  for (const { name, type } of tables) {
    const [[row]] = await db.query<(RowDataPacket & { n: number })[]>(
      `SELECT COUNT(*) AS n FROM ??.??${type === 'SYSTEM VERSIONED' ? ' FOR SYSTEM_TIME ALL' : ''}`,
      [database, name],
    );
    rows[name] = Number(row?.n);
  }
  return rows;
}

/** What is otherwise than it was, in words; empty where nothing is. */
export const otherwise = (
  was: Readonly<Record<string, number>>,
  is: Readonly<Record<string, number>>,
): readonly string[] =>
  [...new Set([...Object.keys(was), ...Object.keys(is)])].flatMap((table) =>
    was[table] === is[table]
      ? []
      : [`${table}: ${is[table] ?? 'not there'} rows, ${was[table] ?? 'none'} when it was backed up`],
  );
