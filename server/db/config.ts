import { existsSync, readFileSync } from 'node:fs';
import { resolve } from 'node:path';

export interface DbAccount {
  readonly user: string;
  readonly password: string;
}
export interface DbConfig extends DbAccount {
  readonly host?: string;
  readonly port?: number;
  readonly socketPath?: string;
  readonly database: string;
  /** Who makes tables and grants them to the application's own account; left out: that account does it itself. */
  readonly owner?: DbAccount;
  /** Who writes call records and deletes them by the month; left out: the application's own account does. */
  readonly keeper?: DbAccount;
}

/** Written by bin/database.mjs when the project's own MariaDB has been started. */
const OWN_DATABASE = resolve(__dirname, '../../var/database.json');

/**
 * Which database to use: the one the environment names (HOSTLER_DB_SOCKET, or _HOST and _PORT; _USER, _PASSWORD,
 * _NAME; _OWNER, _OWNER_PASSWORD), else the project's own as the start script left word of it.
 * @throws if neither is there
 */
export function dbConfig(env: NodeJS.ProcessEnv = process.env): DbConfig {
  if (env.HOSTLER_DB_HOST ?? env.HOSTLER_DB_SOCKET)
    return {
      ...(env.HOSTLER_DB_SOCKET
        ? { socketPath: env.HOSTLER_DB_SOCKET }
        : { host: env.HOSTLER_DB_HOST ?? '127.0.0.1', port: Number(env.HOSTLER_DB_PORT ?? 3306) }),
      user: env.HOSTLER_DB_USER ?? 'hostler',
      password: env.HOSTLER_DB_PASSWORD ?? '',
      database: env.HOSTLER_DB_NAME ?? 'hostler',
      ...(env.HOSTLER_DB_OWNER
        ? { owner: { user: env.HOSTLER_DB_OWNER, password: env.HOSTLER_DB_OWNER_PASSWORD ?? '' } }
        : {}),
      ...(env.HOSTLER_DB_KEEPER
        ? { keeper: { user: env.HOSTLER_DB_KEEPER, password: env.HOSTLER_DB_KEEPER_PASSWORD ?? '' } }
        : {}),
    };
  if (existsSync(OWN_DATABASE)) return JSON.parse(readFileSync(OWN_DATABASE, 'utf8')) as DbConfig;
  throw new Error('no database: start the application with npm start, or name a MariaDB by HOSTLER_DB_HOST');
}

/** The environment by which another process uses the same database. */
export const dbEnv = (config: DbConfig): Readonly<Record<string, string>> => ({
  ...(config.socketPath === undefined
    ? { HOSTLER_DB_HOST: config.host ?? '127.0.0.1', HOSTLER_DB_PORT: String(config.port ?? 3306) }
    : { HOSTLER_DB_SOCKET: config.socketPath }),
  HOSTLER_DB_USER: config.user,
  HOSTLER_DB_PASSWORD: config.password,
  HOSTLER_DB_NAME: config.database,
  ...(config.owner
    ? { HOSTLER_DB_OWNER: config.owner.user, HOSTLER_DB_OWNER_PASSWORD: config.owner.password }
    : {}),
  ...(config.keeper
    ? { HOSTLER_DB_KEEPER: config.keeper.user, HOSTLER_DB_KEEPER_PASSWORD: config.keeper.password }
    : {}),
});

/** The same database as the account that makes its tables. */
export const asOwner = ({ owner, keeper: _keeper, ...config }: DbConfig): DbConfig => ({
  ...config,
  ...owner,
});
/** The same database as the account that keeps call records. */
export const asKeeper = ({ keeper, owner: _owner, ...config }: DbConfig): DbConfig => ({
  ...config,
  ...keeper,
});
