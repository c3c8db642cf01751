import { existsSync, readFileSync } from 'node:fs';
import { resolve } from 'node:path';
import mysql, { type Pool, type PoolConnection, type PoolOptions } from 'mysql2/promise';

export type Db = Pool;
/** A pool or one connection of it: whatever queries run on. */
export type Queryable = Pick<Pool, 'query' | 'execute'>;

export interface DbConfig {
  readonly host?: string;
  readonly port?: number;
  readonly socketPath?: string;
  readonly user: string;
  readonly password: string;
  readonly database: string;
}

/** Written by bin/database.mjs when the project's own MariaDB has been started. */
const OWN_DATABASE = resolve(__dirname, '../../var/database.json');

/**
 * Which database to use: the one the environment names (HOSTLER_DB_HOST, _PORT, _USER, _PASSWORD, _NAME), else the
 * project's own as the start script left word of it.
 * @throws if neither is there
 */
export function dbConfig(env: NodeJS.ProcessEnv = process.env): DbConfig {
  if (env.HOSTLER_DB_HOST)
    return {
      host: env.HOSTLER_DB_HOST,
      port: Number(env.HOSTLER_DB_PORT ?? 3306),
      user: env.HOSTLER_DB_USER ?? 'hostler',
      password: env.HOSTLER_DB_PASSWORD ?? '',
      database: env.HOSTLER_DB_NAME ?? 'hostler',
    };
  if (existsSync(OWN_DATABASE)) return JSON.parse(readFileSync(OWN_DATABASE, 'utf8')) as DbConfig;
  throw new Error('no database: start the application with npm start, or name a MariaDB by HOSTLER_DB_HOST');
}

/** Opens a pool. JSON columns come as text; times are UTC. */
export function openDb(config: DbConfig, options: PoolOptions = {}): Db {
  return mysql.createPool({
    ...config,
    connectionLimit: 8,
    timezone: 'Z',
    charset: 'utf8mb4',
    supportBigNumbers: true,
    jsonStrings: true,
    ...options,
  });
}

/** Runs work in one transaction: all of it is kept, or, if it throws, nothing. */
export async function inTransaction<T>(db: Db, work: (connection: PoolConnection) => Promise<T>): Promise<T> {
  const connection = await db.getConnection();
  try {
    await connection.beginTransaction();
    const result = await work(connection);
    await connection.commit();
    return result;
  } catch (error) {
    await connection.rollback().catch(() => undefined);
    throw error;
  } finally {
    connection.release();
  }
}

/** A JSON column's value. */
export const fromJson = <T>(text: string | null): T | undefined =>
  text === null ? undefined : (JSON.parse(text) as T);
export const toJson = (value: unknown): string | null => (value === undefined ? null : JSON.stringify(value));
