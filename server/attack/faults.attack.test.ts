import { fork, spawn, type ChildProcess } from 'node:child_process';
import { mkdtempSync, readFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join, resolve } from 'node:path';
import type { RowDataPacket } from 'mysql2/promise';
import { verify } from '@node-rs/argon2';
import { referenceFaults, type Estate } from '../../core/estate';
import { scriptAt } from '../base';
import { dbEnv, inTransaction, migrate, openDb, OutcomeUnknown, rightsTooWide } from '../db';
import { estateFile } from '../estate/queries';
import { demoEstate, freshDatabase, importAtRest, testServer, type TestServer } from '../test';
import { databaseWay, type DatabaseWay } from '../test/way';
import { until } from '../../standins/tests/until';

const ROOT = resolve(__dirname, '../..');
const ended = (child: ChildProcess) =>
  new Promise<{ readonly code: number | null }>((done) => child.once('exit', (code) => done({ code })));

describe('setting up', () => {
  const { file, execArgv } = scriptAt('server/setup.ts');
  const run = (env: Readonly<Record<string, string>>) =>
    spawn(process.execPath, [...execArgv, file], {
      cwd: ROOT,
      env: { ...process.env, ...env },
      stdio: ['ignore', 'pipe', 'inherit'],
    });
  const counts = async (test1: Awaited<ReturnType<typeof freshDatabase>>) => {
    const [[row]] = await test1.db.query<RowDataPacket[]>(
      'SELECT (SELECT COUNT(*) FROM slate) AS slates, (SELECT COUNT(*) FROM account) AS accounts, (SELECT COUNT(*) FROM person) AS people',
    );
    return { ...row };
  };
  const whole = { slates: 1, accounts: 4, people: demoEstate().people.length };

  test('two at once on an empty database do it once between them', async () => {
    const test1 = await freshDatabase(false);
    const file = join(mkdtempSync(join(tmpdir(), 'hostler-setup-')), 'accounts.json');
    const env = {
      ...dbEnv(test1.config),
      HOSTLER_ACCOUNTS_FILE: file,
      HOSTLER_DEMO_PASSWORD: 'a password of the test',
    };
    expect(await Promise.all([run(env), run(env)].map(ended))).toEqual([{ code: 0 }, { code: 0 }]);
    expect(await counts(test1)).toEqual(whole);
    await test1.drop();
  });

  test('ended at any moment, the next one makes it whole, and the passwords that were told open', async () => {
    const test1 = await freshDatabase(false);
    const file = join(mkdtempSync(join(tmpdir(), 'hostler-setup-')), 'accounts.json');
    const env = { ...dbEnv(test1.config), HOSTLER_ACCOUNTS_FILE: file };
    // Each is ended a little later than the one before, so that all parts are met.
    for (const ms of [700, 900, 1100, 1300, 1500, 1800]) {
      const child = run(env);
      const end = ended(child);
      const timer = setTimeout(() => child.kill('SIGKILL'), ms);
      await end;
      clearTimeout(timer);
    }
    expect(await ended(run(env))).toEqual({ code: 0 });
    expect(await counts(test1)).toEqual(whole);
    const accounts = JSON.parse(readFileSync(file, 'utf8')) as { name: string; password: string }[];
    for (const { name, password } of accounts) {
      const [[row]] = await test1.db.query<RowDataPacket[]>(
        'SELECT password_hash FROM account WHERE name = ?',
        [name],
      );
      expect(await verify(String(row?.password_hash), password)).toBe(true);
    }
    await test1.drop();
  }, 120_000);
});

describe('reading while changes are put live', () => {
  let server: TestServer;
  beforeAll(async () => {
    server = await testServer();
  });
  afterAll(() => server.stop());

  test('no export holds a part of a change: each is a state that there was', async () => {
    const ask = (method: string, path: string, body?: unknown) =>
      server.ask(method, path, { as: 'specialist', body });
    const db = openDb(server.config);
    let going = true;
    // The same number of calls at once for three people, and the group's name: changed together, or not at all.
    const writing = (async () => {
      for (let n = 1; n <= 12; n += 1) {
        const { id } = (await ask('POST', '/api/slates', { name: `Together ${n}` })).body;
        for (const who of ['ines', 'tomasz', 'amara']) {
          const { person } = (await ask('GET', `/api/people/${who}`)).body;
          const entry = { base: person, after: { ...person, maxCalls: n } };
          expect((await ask('PUT', `/api/slates/${id}/entries/person/${who}`, entry)).status).toBe(200);
        }
        expect((await ask('POST', `/api/slates/${id}/apply`, {})).status).toBe(200);
      }
      going = false;
    })();
    let exports = 0;
    const states = new Set<string>();
    const reading = (async () => {
      while (going) {
        const estate = (await estateFile(db)) as Estate;
        exports += 1;
        const calls = ['ines', 'tomasz', 'amara'].map(
          (id) => estate.people.find((each) => each.id === id)?.maxCalls,
        );
        states.add(calls.join());
        expect(estate.people).toHaveLength(demoEstate().people.length);
        expect(estate.people.every(({ endpoints, lines }) => endpoints.length + lines.length > 0)).toBe(true);
        expect(referenceFaults(estate)).toEqual([]);
      }
    })();
    await Promise.all([writing, reading]);
    expect(exports).toBeGreaterThan(10);
    // As it was at first, and then the three together.
    const [first, ...rest] = [...states];
    expect(first).toBeDefined();
    expect(rest.filter((state) => new Set(state.split(',')).size > 1)).toEqual([]);
    // The history likewise: at every instant at which anything was written, the three have the same number.
    const [instants] = await db.query<RowDataPacket[]>(
      "SELECT DISTINCT UNIX_TIMESTAMP(row_start) AS at FROM person FOR SYSTEM_TIME ALL WHERE id IN ('ines', 'tomasz', 'amara') ORDER BY at",
    );
    for (const { at } of instants.slice(1)) {
      const [rows] = await db.query<RowDataPacket[]>(
        `SELECT max_calls FROM person FOR SYSTEM_TIME AS OF TIMESTAMP FROM_UNIXTIME(${String(at)}) WHERE id IN ('ines', 'tomasz', 'amara')`,
      );
      expect([rows.length, new Set(rows.map((row) => Number(row.max_calls))).size]).toEqual([3, 1]);
    }
    await db.end();
  }, 120_000);

  test('an import that was being written when its server ended is not written, and can be written again', async () => {
    const as = 'specialist' as const;
    const body = 'name,extension\nAda Made,5901\nBen Made,5902\n';
    const { id } = (await server.ask('POST', '/api/imports', { as, body })).body;
    await importAtRest(server, id);
    // As a server leaves it that is ended in the middle: its transaction is gone, and nobody moves it on.
    await server.db.query(
      "UPDATE staff_import SET state = 'writing', seen_at = seen_at - INTERVAL 1 MINUTE WHERE id = ?",
      [id],
    );
    expect((await server.ask('GET', `/api/imports/${id}`, { as })).body.state).toBe('read');
    expect((await server.ask('POST', `/api/imports/${id}/write`, { as, body: {} })).status).toBe(202);
    expect((await importAtRest(server, id)).body).toMatchObject({ state: 'written', done: 2, total: 2 });
    // One that was being read is read again.
    await server.db.query("UPDATE staff_import SET state = 'reading', seen_at = NULL WHERE id = ?", [id]);
    expect((await server.ask('GET', `/api/imports/${id}`, { as })).body.state).toBe('read');
  });

  test('ended at the commit of an import, its state says what is so', async () => {
    const as = 'specialist' as const;
    const body = 'name,extension\nCid Made,5911\n';
    const { id } = (await server.ask('POST', '/api/imports', { as, body })).body;
    await importAtRest(server, id);
    await server.ask('POST', `/api/imports/${id}/write`, { as, body: {} });
    const { state } = (await importAtRest(server, id)).body;
    const [rows] = await server.db.query<RowDataPacket[]>("SELECT id FROM line WHERE extension = '5911'");
    expect([state, rows.length]).toEqual(['written', 1]);
  });
});

describe('the database goes away', () => {
  let server: TestServer;
  let way: DatabaseWay;
  beforeAll(async () => {
    way = await databaseWay();
    server = await testServer(undefined, undefined, undefined, { waitMs: 1000, answerMs: 1000 }, way.through);
  });
  afterAll(async () => {
    way.letGo();
    await server.stop();
    await way.close();
  });
  const ask = (method: string, path: string, body?: unknown) =>
    server.ask(method, path, { as: 'specialist', body });
  const thirtyChanges = () =>
    Promise.all(Array.from({ length: 30 }, () => ask('PUT', '/api/people/ines/status', { status: 'away' })));
  const allRefused = (answers: Awaited<ReturnType<typeof thirtyChanges>>) => {
    for (const { status, body, headers } of answers) {
      expect([status, body.outcome, headers.get('retry-after')]).toEqual([503, 'not-written', '2']);
      expect(body.message).toContain('Nothing was written');
    }
  };
  /** Once the database is asked again, which is once a second, all goes on. */
  const untilWritten = () =>
    until(
      async () => (await ask('PUT', '/api/people/ines/status', { status: 'away' })).status === 200,
      100_000,
    );

  test('while it stands still each question is refused in time, and health says so; then all goes on', async () => {
    expect((await ask('GET', '/api/health')).status).toBe(200);
    way.standStill();
    try {
      allRefused(await thirtyChanges());
      expect((await ask('GET', '/api/health')).status).toBe(503);
    } finally {
      way.letGo();
    }
    await untilWritten();
    expect((await ask('GET', '/api/people/ines')).body.person.status).toBe('away');
    expect((await ask('GET', '/api/health')).status).toBe(200);
  });

  test('while somebody else holds what a change needs, it is refused in time with nothing written', async () => {
    const other = openDb(server.config, { answerMs: 60_000 });
    let letGo: () => void = () => undefined;
    let holding: Promise<void> = Promise.resolve();
    try {
      await new Promise<void>((held) => {
        holding = inTransaction(other, async (tx) => {
          await tx.query('SELECT * FROM organisation FOR UPDATE');
          await new Promise<void>((resolve) => {
            letGo = resolve;
            held();
          });
        });
      });
      allRefused(await thirtyChanges());
    } finally {
      letGo();
      await holding;
      await other.end();
    }
    await untilWritten();
    expect((await ask('GET', '/api/people/ines')).body.person.status).toBe('away');
  });

  test('where the connection is lost at the commit, nobody says that nothing was written', async () => {
    const db = openDb(server.config);
    const cut = {
      ...db,
      connection: async () => {
        const connection = await db.connection();
        return new Proxy(connection, {
          get: (target, name) =>
            name === 'commit'
              ? async () => {
                  await target.commit();
                  throw Object.assign(new Error('Connection lost'), { code: 'PROTOCOL_CONNECTION_LOST' });
                }
              : typeof Reflect.get(target, name) === 'function'
                ? (Reflect.get(target, name) as (...args: unknown[]) => unknown).bind(target)
                : Reflect.get(target, name),
        });
      },
    };
    await expect(inTransaction(cut, (tx) => tx.query('SELECT 1'))).rejects.toBeInstanceOf(OutcomeUnknown);
    await db.end();
  });
});

test('the stand-ins end with whoever started them, at whichever moment that goes', async () => {
  for (const afterMs of [0, 150, 400, 900]) {
    const { file, execArgv } = scriptAt('standins/main.ts');
    const child = fork(file, [], {
      execArgv: [...execArgv],
      env: { ...process.env, HOSTLER_SIP_PORT: '0' },
      stdio: ['ignore', 'ignore', 'inherit', 'ipc'],
      serialization: 'advanced',
    });
    const end = ended(child);
    await new Promise((resolve) => setTimeout(resolve, afterMs));
    if (child.connected) child.disconnect();
    expect(await end).toEqual({ code: 0 });
  }
}, 60_000);

test('a database that the application’s account could do too much with is not started on', async () => {
  const test1 = await freshDatabase();
  expect(await rightsTooWide(test1.db, test1.config.database)).toEqual([]);
  const wide = {
    query: () =>
      Promise.resolve([[{ g: `GRANT ALL PRIVILEGES ON \`${test1.config.database}\`.* TO x@y` }], []]),
  };
  expect(await rightsTooWide(wide, test1.config.database)).toHaveLength(1);
  expect(await migrate(test1.config)).toEqual([]);
  await test1.drop();
});
