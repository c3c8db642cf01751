import { spawn, type ChildProcess } from 'node:child_process';
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { Phones } from '../../../api/phones';
import { scriptAt } from '../../base';
import { dbEnv } from '../../db';
import { freshDatabase, PASSWORD, putTestData, type TestDb } from '../../test';
import { freePort } from '../../../bench/free-port';
import { workedEstate } from '../../../core/tests/worked';

let ours: TestDb;
let folder: string;
const children: ChildProcess[] = [];
beforeAll(async () => {
  ours = await freshDatabase();
  await putTestData(ours.db, workedEstate());
  folder = mkdtempSync(join(tmpdir(), 'hostler-two-'));
}, 60_000);
afterAll(async () => {
  for (const child of children) {
    const over = new Promise((done) => child.once('exit', done));
    if (child.exitCode === null && child.signalCode === null) {
      child.kill('SIGKILL');
      await over;
    }
  }
  await ours.drop();
  rmSync(folder, { recursive: true, force: true });
});

/** A server as `npm start` runs it, in a process of its own. */
async function start() {
  const port = await freePort();
  const { file, execArgv } = scriptAt('server/main.ts');
  const child = spawn(process.execPath, [...execArgv, file], {
    env: {
      ...process.env,
      ...dbEnv(ours.config),
      HOSTLER_PORT: String(port),
      HOSTLER_TLS_PORT: '0',
      HOSTLER_SIP_PORT: '0',
      HOSTLER_LOG: 'fatal',
      HOSTLER_KEY_FILE: join(folder, 'keys.json'),
      HOSTLER_SPOOL: join(folder, 'spool'),
    },
    stdio: ['ignore', 'inherit', 'inherit', 'ipc'],
  });
  children.push(child);
  await new Promise<void>((done, failed) => {
    child.on('message', (message) => message === 'listening' && done());
    child.once('exit', (code) => failed(new Error(`the server ended with code ${code}`)));
  });
  const url = `http://127.0.0.1:${port}`;
  return { child, url };
}
const signIn = async (url: string): Promise<string> => {
  const answer = await fetch(`${url}/api/session`, {
    method: 'POST',
    headers: { Origin: url, 'Content-Type': 'application/json' },
    body: JSON.stringify({ name: 'specialist', password: PASSWORD }),
  });
  return answer.headers.get('set-cookie')?.split(';')[0] ?? '';
};
const get = async <T>(url: string, path: string, cookie: string): Promise<T> =>
  (await (await fetch(url + path, { headers: { Cookie: cookie } })).json()) as T;

/** Waits until what a server shows of its phones is so: looked at again whenever it says that they have changed. */
async function until(url: string, cookie: string, isSo: (phones: Phones) => boolean): Promise<Phones> {
  const stop = new AbortController();
  const events = await fetch(`${url}/api/phones/events`, {
    headers: { Cookie: cookie },
    signal: stop.signal,
  });
  const reader = events.body!.getReader();
  try {
    for (let looks = 0; looks < 2000; looks += 1) {
      await reader.read();
      const phones = await get<Phones>(url, '/api/phones', cookie);
      if (isSo(phones)) return phones;
    }
    throw new Error('it does not come to be so');
  } finally {
    stop.abort();
  }
}

test('the server that runs the phone system is killed: nobody is signed out, and all phones come again at the other', async () => {
  const one = await start();
  const cookie = await signIn(one.url);
  const wanted = workedEstate().people.flatMap(({ endpoints }) => endpoints).length;
  expect(wanted).toBeGreaterThan(3);
  const two = await start();
  const users = ({ registrations }: Phones) => [...new Set(registrations.map(({ user }) => user))].sort();
  const settled = await until(one.url, cookie, (phones) => users(phones).length > 3);
  // The same session is good at the other, which shows the same phones at the same place.
  const there = await until(two.url, cookie, (phones) => users(phones).length >= users(settled).length);
  expect(there.place).toEqual(settled.place);
  const before = await get<Phones>(two.url, '/api/phones', cookie);

  const gone = new Promise((done) => one.child.once('exit', done));
  one.child.kill('SIGKILL');
  await gone;
  const names = users(before);
  const after = await until(
    two.url,
    cookie,
    (phones) => phones.place !== null && names.every((name) => users(phones).includes(name)),
  );
  expect(after.place).not.toEqual(before.place);
  expect((await get<{ readonly name: string }>(two.url, '/api/session', cookie)).name).toBe('specialist');

  // One that is started in its place comes in to what the other runs now.
  const again = await start();
  const shown = await until(again.url, cookie, (phones) => users(phones).length >= names.length);
  expect(shown.place).toEqual(after.place);
}, 120_000);

test('told to end, a server answers what a thread works on for somebody', async () => {
  const { child, url } = await start();
  const headers = { Cookie: await signIn(url) };
  const works = async () =>
    /hostler_worker_tasks\{script="server\/findings\/worker.ts",state="running"\} [1-9]/.test(
      await (await fetch(`${url}/api/metrics`, { headers })).text(),
    );
  let ended = false;
  const answer = fetch(`${url}/api/findings`, { headers }).finally(() => (ended = true));
  while (!(await works())) expect(ended).toBe(false);
  const gone = new Promise((done) => child.once('exit', done));
  child.kill('SIGTERM');
  expect((await answer).status).toBe(200);
  expect(await gone).toBe(0);
}, 60_000);
