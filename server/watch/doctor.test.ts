import { chmodSync, mkdtempSync, readdirSync, readFileSync, rmSync } from 'node:fs';
import { createServer as createHttpServer } from 'node:http';
import { createServer, type AddressInfo } from 'node:net';
import { tmpdir } from 'node:os';
import { join, resolve } from 'node:path';
import { SETTINGS } from '../base';
import { UNDER_WAY } from '../db';
import { openKeyring, putSecret } from '../secrets';
import { freshDatabase, type TestDb } from '../test';
import { ownerConnection } from '../backup/tools';
import { examine } from '.';

let test1: TestDb;
const folder = mkdtempSync(join(tmpdir(), 'hostler-doctor-'));
const file = join(folder, 'keys.json');
const before = process.env.HOSTLER_KEY_FILE;
beforeAll(async () => {
  test1 = await freshDatabase();
  process.env.HOSTLER_KEY_FILE = file;
});
afterAll(async () => {
  if (before === undefined) delete process.env.HOSTLER_KEY_FILE;
  else process.env.HOSTLER_KEY_FILE = before;
  await test1.drop();
  rmSync(folder, { recursive: true, force: true });
});

/** What is said of one thing, with its state. */
async function said(what: string, env: Record<string, string> = {}): Promise<string> {
  const found = await examine(test1.config, { HOSTLER_PORT: '0', HOSTLER_TLS_PORT: '0', ...env });
  return found
    .filter((each) => each.what === what)
    .map(({ state, says }) => `${state}: ${says}`)
    .join('; ');
}
const asOwner = async (sql: string, values: readonly unknown[] = []) => {
  const owner = await ownerConnection(test1.config);
  await owner.query('USE ??', [test1.config.database]);
  await owner.query(sql, [...values]);
  await owner.end();
};

test('a database that is as it should be', async () => {
  expect(await said('Tables')).toMatch(/^ok: \d+ migrations, all done$/);
  expect(await said('Rights in the database')).toMatch(/^ok/);
  expect(await said('Clock')).toMatch(/^ok/);
  expect(await said('Database')).toMatch(/^ok: 1[01]\..*MariaDB/);
  expect(await said('Settings')).toBe('');
});

test('keys: not there yet, there, readable by others, and lost', async () => {
  expect(await said('Keys')).toMatch(/^risk: .* is not there yet/);
  await putSecret(test1.db, openKeyring(file), 'test', 'a secret');
  expect(await said('Keys')).toMatch(/^ok/);
  chmodSync(file, 0o644);
  expect(await said('Keys')).toMatch(/^fault: .* can be read by others/);
  rmSync(file);
  expect(await said('Keys')).toMatch(/^fault: .* is not there, and the database holds secrets/);
  openKeyring(file);
  expect(await said('Keys')).toMatch(/^fault: .* lacks k\w+, which secrets are sealed with$/);
});

test('tables of a newer version, changed ones, and a restore that was not finished', async () => {
  await asOwner(
    "INSERT INTO migration (number, name, checksum, applied_at) VALUES (999, '999_later.sql', 'x', UTC_TIMESTAMP())",
  );
  expect(await said('Tables')).toBe('fault: 999_later.sql is of a newer version of Hostler: run that one');
  await asOwner('DELETE FROM migration WHERE number = 999');
  await asOwner('CREATE TABLE ?? (since DATETIME)', [UNDER_WAY]);
  expect(await said('Tables')).toMatch(/^fault: a backup is being restored/);
  await asOwner('DROP TABLE ??', [UNDER_WAY]);
});

test('a port that something else has', async () => {
  const other = createServer();
  await new Promise<void>((done) => other.listen(0, '127.0.0.1', done));
  const { port } = other.address() as AddressInfo;
  expect(await said('Port', { HOSTLER_PORT: String(port) })).toBe(
    `fault: ${port} is in use by something else`,
  );
  other.close();
  expect(await said('Port', { HOSTLER_PORT: 'eighty' })).toBe('fault: NaN is no port');
});

test.each([
  [{}, 'ok'],
  [{ HOSTLER_BEHIND_PROXY: '1' }, 'fault'],
  [{ HOSTLER_HOSTNAME: 'hostler.test' }, 'risk'],
  [{ HOSTLER_HOSTNAME: 'hostler.test', HOSTLER_BEHIND_PROXY: '1' }, 'risk'],
  [{ HOSTLER_HOSTNAME: 'hostler.test', HOSTLER_BEHIND_PROXY: '1', HOSTLER_SECURE_COOKIE: '1' }, 'ok'],
])('a proxy with %j', async (env, state) => {
  expect(await said('Proxy', env as Record<string, string>)).toMatch(new RegExp(`^${state}: `));
});

test('a setting that is mistyped is told, with the one that may be meant', async () => {
  expect(await said('Settings', { HOSTLER_PROT: '1', HOSTLER_WHATEVER_ELSE: '1' })).toBe(
    'fault: HOSTLER_PROT is no setting: HOSTLER_PORT may be meant; fault: HOSTLER_WHATEVER_ELSE is no setting',
  );
});

test('a database that is not there', async () => {
  const found = await examine({ ...test1.config, socketPath: join(folder, 'none') }, {});
  expect(found.at(-1)).toEqual({ what: 'Database', state: 'fault', says: 'it cannot be reached (ENOENT)' });
});

test('every setting that the code reads is known', () => {
  const root = resolve(__dirname, '../..');
  const names = new Set<string>();
  for (const top of ['server', 'standins', 'cli', 'bin', 'e2e', 'bench'])
    for (const each of readdirSync(join(root, top), { recursive: true, encoding: 'utf8' }))
      if (/\.(ts|mjs)$/.test(each) && !/doctor\.test\.ts$/.test(each))
        for (const [name] of readFileSync(join(root, top, each), 'utf8').matchAll(
          /\bHOSTLER_[A-Z_]*[A-Z]\b/g,
        ))
          names.add(name);
  expect(names.size).toBeGreaterThan(20);
  expect([...names].filter((name) => !Object.hasOwn(SETTINGS, name))).toEqual([]);
});

test('a collector of traces: none, one that takes them, one that does not, nobody there, and no address', async () => {
  expect(await said('Traces')).toBe('');
  expect(await said('Traces', { HOSTLER_TRACES_URL: 'nowhere' })).toMatch(/^fault: .* is no address/);
  let status = 200;
  const asked: string[] = [];
  const collector = createHttpServer((request, response) => {
    request.on('data', (data: Buffer) => asked.push(data.toString()));
    request.on('end', () => response.writeHead(status).end('{}'));
  });
  await new Promise<void>((resolve) => collector.listen(0, '127.0.0.1', resolve));
  const { port } = collector.address() as AddressInfo;
  const env = { HOSTLER_TRACES_URL: `http://127.0.0.1:${port}/v1/traces` };
  expect(await said('Traces', env)).toBe(`ok: 127.0.0.1:${port} takes them`);
  expect(asked).toEqual(['{"resourceSpans":[]}']);
  status = 404;
  expect(await said('Traces', env)).toBe(`risk: 127.0.0.1:${port} answers with 404 and takes no traces`);
  collector.closeAllConnections();
  await new Promise((resolve) => collector.close(resolve));
  expect(await said('Traces', env)).toBe(`risk: nobody answers at 127.0.0.1:${port}: traces are let go of`);
});
