import { existsSync, readFileSync } from 'node:fs';
import { resolve } from 'node:path';

export interface DbAccount {
  readonly user: string;
  readonly password: string;
}
export interface DbHost {
  readonly host: string;
  readonly port: number;
}
export interface DbConfig extends DbAccount {
  readonly host?: string;
  readonly port?: number;
  /** The nodes of a cluster, in the order in which they are asked; left out: there is one server. */
  readonly hosts?: readonly DbHost[];
  readonly socketPath?: string;
  readonly database: string;
  /** Who makes tables and grants them to the application's own account; left out: that account does it itself. */
  readonly owner?: DbAccount;
  /** Who writes call records and deletes them by the month; left out: the application's own account does. */
  readonly keeper?: DbAccount;
}

/** Written by bin/database.mjs when the project's own MariaDB has been started. */
const OWN_DATABASE = resolve(__dirname, '../../var/database.json');

const MOST_HOSTS = 16;
/** @param list hosts with a comma between them, each with its port where that is another than the usual one */
function hostsOf(list: string, usual: number): Pick<DbConfig, 'host' | 'port' | 'hosts'> {
  const hosts = list
    .split(',')
    .map((each) => each.trim())
    .filter((each) => each !== '')
    .slice(0, MOST_HOSTS)
    .map((each): DbHost => {
      // An IPv6 address stands in brackets where a port follows it.
      const [, bracketed, named, port] = /^(?:\[([^\]]+)\]|([^:]+))(?::(\d{1,5}))?$/.exec(each) ?? [];
      return { host: bracketed ?? named ?? each, port: port === undefined ? usual : Number(port) };
    });
  const [first = { host: '127.0.0.1', port: usual }] = hosts;
  return hosts.length > 1 ? { ...first, hosts } : first;
}

/**
 * Which database to use: the one the environment names (HOSTLER_DB_SOCKET, or _HOST and _PORT; _USER, _PASSWORD,
 * _NAME; _OWNER, _OWNER_PASSWORD; of a cluster the host is a list, `10.0.0.1,10.0.0.2:3307`), else the project's own as the start script left word of it.
 * @throws if neither is there
 */
export function dbConfig(env: Readonly<Record<string, string | undefined>> = process.env): DbConfig {
  if (env.HOSTLER_DB_HOST ?? env.HOSTLER_DB_SOCKET)
    return {
      ...(env.HOSTLER_DB_SOCKET
        ? { socketPath: env.HOSTLER_DB_SOCKET }
        : hostsOf(env.HOSTLER_DB_HOST ?? '127.0.0.1', Number(env.HOSTLER_DB_PORT ?? 3306))),
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
    ? {
        HOSTLER_DB_HOST:
          config.hosts
            ?.map(({ host, port }) => `${host.includes(':') ? `[${host}]` : host}:${port}`)
            .join(',') ??
          config.host ??
          '127.0.0.1',
        HOSTLER_DB_PORT: String(config.port ?? 3306),
      }
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
