import type { PeopleHead, PeopleRows, PersonSummary } from '../../api/people';
import { mkdtempSync, readFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { createServer, type Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import { join, resolve } from 'node:path';
import { hash as argon2 } from '@node-rs/argon2';
import pino from 'pino';
import type { Estate } from '../../core/estate';
import { createApp } from '../app';
import { putAccount } from '../auth/queries';
import { openDb, openKeeper, type Db, type DbConfig, type DbLimits } from '../db';
import { replaceEstate } from '../estate/queries';
import { estateStore } from '../estate/store';
import { EVERY_ROLE, STAFF, type Role } from '../base/account';
import type { Services } from '../http/routes';
import { openStreams } from '../http/streams';
import { openNews } from '../http/news';
import { closePools } from '../base/pool';
import { noSwitchboard, type Switchboard } from '../switchboard/switchboard';
import { openTls } from '../provisioning/tls';
import { openKeyring } from '../secrets/keyring';
import { until } from '../../standins/tests/until';
import { emptyDatabase, shapeAsMigrated } from './shape';

/** What server tests share: a fresh database, a server on it, and a browser's way of asking it. */
export interface TestDb {
  readonly config: DbConfig;
  readonly db: Db;
  /** As the account that keeps call records. */
  readonly keeper: Db;
  readonly drop: () => Promise<void>;
}

/** Makes an empty database of its own on the MariaDB that tests run against. */
export async function freshDatabase(migrated = true, limits: DbLimits = {}): Promise<TestDb> {
  const { admin, config } = await emptyDatabase();
  if (migrated) await shapeAsMigrated(config);
  const db = openDb(config, limits);
  const keeper = openKeeper(config);
  return {
    config,
    db,
    keeper,
    drop: async () => {
      await Promise.all([db.end(), keeper.end()]);
      await admin.query(`DROP DATABASE ${config.database}`);
      await admin.end();
    },
  };
}

const DEMO = resolve(__dirname, '../../demo');
export const demoEstate = (): Estate =>
  JSON.parse(readFileSync(join(DEMO, 'skerrow.estate.json'), 'utf8')) as Estate;

export interface Answer {
  readonly status: number;
  readonly headers: Headers;
  readonly text: string;
  // The body is whatever the server sent; tests look into it.
  // eslint-disable-next-line @typescript-eslint/no-explicit-any
  readonly body: any;
}

export interface TestServer extends TestDb {
  readonly url: string;
  readonly ask: (
    method: string,
    path: string,
    options?: { as?: Role; body?: unknown; headers?: Record<string, string> },
  ) => Promise<Answer>;
  readonly cookies: Readonly<Record<Role, string>>;
  readonly stop: () => Promise<void>;
}

export { PLACE } from './place';
export const PASSWORD = 'a long enough pass phrase';
export const NOW = '2026-11-24T18:00:00Z';

const NONE: ReadonlyMap<string, never> = new Map<string, never>();

/** What comes first of a stream that does not end by itself. */
async function firstOf(response: Response): Promise<string> {
  const reader = response.body!.getReader();
  const { value } = await reader.read();
  await reader.cancel();
  return new TextDecoder().decode(value);
}

/**
 * Starts a server on loopback with an estate and an account for each role, all signed in.
 * `through`: how the server gets to its database, where that is not the straight way.
 */
export async function testServer(
  estate: Estate = demoEstate(),
  open?: (services: Omit<Services, 'phones'>, url: () => string) => Switchboard,
  now: () => Date = () => new Date(NOW),
  limits: DbLimits = {},
  through: (config: DbConfig) => DbConfig = (config) => config,
): Promise<TestServer> {
  const fresh = await freshDatabase();
  await putTestData(fresh.db, estate);
  // What is set up has all the time it needs; the limits are for what is tried afterwards.
  const db = openDb(through(fresh.config), limits);
  const served = await serve({ ...fresh, db }, open, now);
  return {
    ...served,
    stop: async () => {
      await served.stop();
      await db.end();
      await fresh.drop();
    },
  };
}

/** An estate, and an account for each role. */
export async function putTestData(db: Db, estate: Estate): Promise<void> {
  await replaceEstate(db, estate, 'test');
  // A hash that is quick to make and to check: how dear it is stands in the hash itself.
  const hash = await argon2(PASSWORD, { memoryCost: 1024, timeCost: 1, parallelism: 1 });
  // Staff are somebody: the first of the estate.
  for (const role of EVERY_ROLE)
    await putAccount(db, role, role, hash, role === STAFF ? (estate.people[0]?.id ?? null) : null);
}

/** A server on a database that is there, with everybody signed in. */
export async function serve(
  test: TestDb,
  open?: (services: Omit<Services, 'phones'>, url: () => string) => Switchboard,
  now: () => Date = () => new Date(NOW),
): Promise<TestServer> {
  const services = {
    db: test.db,
    keeper: test.keeper,
    calls: () => NONE,
    store: estateStore(test.db),
    now,
    secrets: openKeyring(join(mkdtempSync(join(tmpdir(), 'hostler-keys-')), 'keys.json')),
    tls: () => tls,
    streams: openStreams(),
    news: openNews(test.db),
    self: { run: null, spool: null, isEnding: false },
  };
  const silent = pino({ level: 'silent' });
  const phones = open?.(services, () => url) ?? noSwitchboard;
  const tls = await openTls({ ...services, phones }, 0, silent);
  const app = createApp({ ...services, phones }, silent);
  const server: Server = createServer(app);
  await new Promise<void>((done) => server.listen(0, '127.0.0.1', done));
  const url = `http://127.0.0.1:${(server.address() as AddressInfo).port}`;

  const send = async (
    method: string,
    path: string,
    headers: Record<string, string>,
    body: unknown,
  ): Promise<Answer> => {
    const raw = typeof body === 'string' || body instanceof Uint8Array;
    const response = await fetch(url + path, {
      method,
      headers: { ...(body === undefined || raw ? {} : { 'Content-Type': 'application/json' }), ...headers },
      ...(body === undefined ? {} : { body: raw ? (body as string) : JSON.stringify(body) }),
      redirect: 'manual',
    });
    const type = response.headers.get('content-type') ?? '';
    const text = type === 'text/event-stream' ? await firstOf(response) : await response.text();
    const isJson = /^application\/json\b/.test(type);
    return {
      status: response.status,
      headers: response.headers,
      text,
      body: isJson && text ? JSON.parse(text) : null,
    };
  };
  const cookies = {} as Record<Role, string>;
  for (const role of EVERY_ROLE) {
    const answer = await send('POST', '/api/session', { Origin: url }, { name: role, password: PASSWORD });
    cookies[role] = answer.headers.get('set-cookie')?.split(';')[0] ?? '';
  }
  return {
    ...test,
    url,
    cookies,
    ask: (method, path, { as, body, headers } = {}) =>
      send(method, path, { Origin: url, ...(as ? { Cookie: cookies[as] } : {}), ...headers }, body),
    stop: async () => {
      await phones.close();
      tls.close();
      await closePools();
      server.closeAllConnections();
      await new Promise((done) => server.close(done));
    },
  };
}

/** Asks again and again until an import is neither read nor written any more. */
export const importAtRest = (server: TestServer, id: number): Promise<Answer> =>
  until(async () => {
    const answer = await server.ask('GET', `/api/imports/${id}`, { as: 'specialist' });
    return !['reading', 'writing'].includes(String(answer.body?.state)) && answer;
  }, 100_000);

/** The list of people, all its parts. */
export async function wholeList(server: TestServer): Promise<readonly PersonSummary[]> {
  const as = 'specialist';
  const { parts } = (await server.ask('GET', '/api/people', { as })).body as PeopleHead;
  const rows: PersonSummary[] = [];
  for (let i = 0; i < parts.length; i += 20) {
    const names = parts.slice(i, i + 20).map(({ hash }) => hash);
    const answer = await server.ask('GET', `/api/people-parts?names=${names.join(',')}`, { as });
    rows.push(...(answer.body as PeopleRows).parts.flatMap((part) => part ?? []));
  }
  return rows;
}
