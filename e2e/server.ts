import { spawn, spawnSync, type ChildProcess } from 'node:child_process';
import { randomBytes } from 'node:crypto';
import { mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join, resolve } from 'node:path';
import {
  chromium,
  test as base,
  expect,
  type BrowserContext,
  type CDPSession,
  type Page,
} from '@playwright/test';
import mysql from 'mysql2/promise';
import { freePort } from '../bench/free-port';
import type { Estate } from '../core/estate';
import { scriptAt } from '../server/base';
import { asOwner, dbConfig, dbEnv } from '../server/db';

/** A real server with a database of its own, for the tests of one file; it can be ended hard and started again. */
export interface LiveServer {
  readonly url: string;
  readonly restart: () => Promise<void>;
}

interface Profile {
  readonly context: BrowserContext;
  /** A page that stays, through which the browser is cleaned up between tests. */
  readonly kept: Page;
  readonly devtools: CDPSession;
}
/** What a page can leave behind, but for what was loaded of the application. */
const STORED = 'cookies,local_storage,indexeddb,websql,file_systems,service_workers,cache_storage';

export const PASSWORD = 'for the tests only';
const root = resolve(__dirname, '..');
type Cookies = Awaited<ReturnType<BrowserContext['cookies']>>;

/** Servers live for minutes here: little of what V8 would make of their code to run it fast is paid back. */
const SHORT_LIVED = ['--interrupt-budget=2000000', '--v8-pool-size=1'];

function start(env: NodeJS.ProcessEnv): Promise<ChildProcess> {
  const { file, execArgv } = scriptAt('server/main.ts');
  const child = spawn(process.execPath, [...SHORT_LIVED, ...execArgv, file], {
    cwd: root,
    env,
    stdio: ['ignore', 'inherit', 'inherit', 'ipc'],
  });
  return new Promise((done, failed) => {
    child.once('message', () => done(child));
    child.once('exit', (code) => failed(new Error(`the server ended with code ${code}`)));
  });
}

export const test = base.extend<
  { signIn: (name?: string) => Promise<void>; problems: string[] },
  { live: LiveServer; sessions: Map<string, Cookies>; profile: Profile }
>({
  live: [
    async ({}, provide) => {
      const config = dbConfig();
      const { database: _own, owner: _owner, ...server } = asOwner(config);
      const database = `hostler_e2e_${randomBytes(6).toString('hex')}`;
      const admin = await mysql.createConnection(server);
      await admin.query(`CREATE DATABASE ${database} CHARACTER SET utf8mb4 COLLATE utf8mb4_bin`);
      const folder = mkdtempSync(join(tmpdir(), 'hostler-e2e-'));
      const port = await freePort();
      const env: NodeJS.ProcessEnv = {
        ...process.env,
        ...dbEnv({ ...config, database }),
        HOSTLER_PORT: String(port),
        HOSTLER_LOG: 'warn',
        // Two browsers and two servers on two cores: what a change does takes longer here.
        HOSTLER_EFFECT_MS: '15000',
        // Any free port: several servers run side by side.
        HOSTLER_SIP_PORT: '0',
        HOSTLER_KEY_FILE: join(folder, 'keys.json'),
        HOSTLER_SPOOL: join(folder, 'spool'),
        HOSTLER_DEMO_PASSWORD: PASSWORD,
        HOSTLER_ACCOUNTS_FILE: join(folder, 'accounts.json'),
      };
      const { file, execArgv } = scriptAt('server/setup.ts');
      const setUp = spawnSync(process.execPath, [...execArgv, file], {
        cwd: root,
        env,
        stdio: 'inherit',
      });
      expect(setUp.status).toBe(0);
      let child = await start(env);
      const end = (signal: NodeJS.Signals) =>
        new Promise<void>((done) => {
          // One that does not end by itself is ended, so that a stall of the machine takes no other tests with it.
          const late = setTimeout(() => child.kill('SIGKILL'), 20_000);
          child.once('exit', () => {
            clearTimeout(late);
            done();
          });
          child.kill(signal);
        });
      await provide({
        url: `http://127.0.0.1:${port}`,
        restart: async () => {
          await end('SIGKILL');
          child = await start(env);
        },
      });
      await end('SIGTERM');
      await admin.query(`DROP DATABASE ${database}`);
      await admin.end();
      rmSync(folder, { recursive: true, force: true });
    },
    { scope: 'worker' },
  ],
  baseURL: async ({ live }, provide) => provide(live.url),
  /** One browser for all tests of a worker: what it has compiled of the application once it need not compile again. */
  profile: [
    async ({ live, launchOptions }, provide, { project }) => {
      const folder = mkdtempSync(join(tmpdir(), 'hostler-browser-'));
      const { viewport, hasTouch, timezoneId, locale } = project.use;
      const context = await chromium.launchPersistentContext(folder, {
        ...launchOptions,
        ...Object.fromEntries(
          Object.entries({ viewport, hasTouch, timezoneId, locale }).filter(
            ([, value]) => value !== undefined,
          ),
        ),
        baseURL: live.url,
        // Each frame that something moves in is laid out and painted anew; one test looks at what moves.
        reducedMotion: 'reduce',
      });
      const [kept = await context.newPage()] = context.pages();
      // It keeps the process in which the application's pages run.
      await kept.goto('/api/health/live');
      await provide({ context, kept, devtools: await context.newCDPSession(kept) });
      await context.close();
      rmSync(folder, { recursive: true, force: true });
    },
    { scope: 'worker' },
  ],
  /** Each test has that browser as if it were new. */
  context: async ({ profile: { context, kept, devtools }, live, permissions }, provide) => {
    if (permissions) await context.grantPermissions(permissions);
    await provide(context);
    await context.unrouteAll({ behavior: 'ignoreErrors' });
    for (const page of context.pages()) if (page !== kept) await page.close();
    await context.clearPermissions();
    await context.clearCookies();
    await devtools.send('Storage.clearDataForOrigin', { origin: live.url, storageTypes: STORED });
  },
  /** What the browser complained of: errors of scripts, and whatever the content security policy stopped. */
  problems: [
    async ({ page }, provide) => {
      const found: string[] = [];
      page.on('pageerror', (error) => found.push(error.message));
      page.on('console', (message) => {
        if (/Content Security Policy|Uncaught/.test(message.text())) found.push(message.text());
      });
      await provide(found);
      expect(found).toEqual([]);
    },
    { auto: true },
  ],
  /** Sessions that tests of this worker have begun, by name. */
  sessions: [async ({}, provide) => provide(new Map()), { scope: 'worker' }],
  /**
   * Signs in as the form does (which a test of its own goes through), without loading a page for it; a session that
   * an earlier test began is gone on with while it is good.
   */
  signIn: async ({ page, context, live, sessions }, provide) =>
    provide(async (name = 'specialist') => {
      // Whoever was signed in before is not any more.
      if (page.url() !== 'about:blank') await page.goto('about:blank');
      await context.addCookies(sessions.get(name) ?? []);
      // A connection that the test before left open may be closed by the server at this very moment.
      const again = { maxRetries: 2 };
      if (sessions.has(name) && (await page.request.get('/api/session', again)).ok()) return;
      const answer = await page.request.post('/api/session', {
        ...again,
        data: { name, password: PASSWORD },
        headers: { Origin: live.url },
      });
      expect(answer.ok()).toBe(true);
      sessions.set(name, await context.cookies());
    }),
});

export { expect };
export const isPhone = (page: Page): boolean => (page.viewportSize()?.width ?? 0) < 900;
export const strip = (page: Page) => page.getByTestId('ring-strip').getByRole('img').last();

/**
 * Goes to a screen. Where the application is loaded already it goes there as one of its links does: what takes a
 * browser longest is to load it anew. Who comes back to where they are, or is somebody else by now, loads it.
 */
export async function goTo(page: Page, path: string): Promise<void> {
  const here = new URL(page.url());
  if (!here.protocol.startsWith('http') || here.pathname + here.search === path)
    return void (await page.goto(path));
  await page.evaluate((to) => {
    history.pushState(null, '', to);
    dispatchEvent(new PopStateEvent('popstate'));
  }, path);
}

/** Sets the moment bar to a time of today, by its sheet. */
export async function atTime(page: Page, time: string): Promise<void> {
  await page.getByRole('button', { name: /^Day and time/ }).click();
  await page.getByLabel('Time', { exact: true }).fill(time);
  await page.getByRole('button', { name: 'Show', exact: true }).click();
}

/** Drags a thing by its handle to the place of another; each step waits until the page says that it was taken. */
export async function dragTo(page: Page, what: string, from: number, to: number): Promise<void> {
  const handle = (n: number) => page.getByRole('button', { name: `Drag ${what} ${n}`, exact: true });
  const said = (text: RegExp) => page.getByRole('status').filter({ hasText: text });
  // While the page still moves, the handle may not be where it was: then it is let go and taken again.
  await expect(async () => {
    await handle(from).hover();
    const start = (await handle(from).boundingBox())!;
    await page.mouse.down();
    await page.mouse.move(start.x + start.width / 2, start.y + start.height / 2 + 12, { steps: 4 });
    try {
      await expect(said(new RegExp(`^(Picked up ${what}|Over place) ${from}$`))).toHaveCount(1, {
        timeout: 1500,
      });
    } catch (error) {
      await page.mouse.up();
      throw error;
    }
  }).toPass();
  const end = (await handle(to).boundingBox())!;
  await page.mouse.move(end.x + end.width / 2, end.y + end.height / 2 + (to > from ? 12 : -12), { steps: 8 });
  await expect(said(new RegExp(`^Over place ${to}$`))).toHaveCount(1);
  await page.mouse.up();
}

/** Puts somebody back to how the demo has them: other tests of the same server may have left them otherwise. */
export async function asInDemo(page: Page, { url }: LiveServer, id: string): Promise<void> {
  const demo = JSON.parse(readFileSync(join(root, 'demo/skerrow.estate.json'), 'utf8')) as Estate;
  const now = (await (await page.request.get(`/api/people/${id}`)).json()) as { readonly version: number };
  const answer = await page.request.put(`/api/people/${id}`, {
    data: { version: now.version, person: demo.people.find((person) => person.id === id) },
    headers: { Origin: url },
  });
  expect(answer.status()).toBe(200);
}

/** Has nobody sit at a shared desk: where two shifts overlap, the demo has somebody at most of them. */
export async function freeDesk(page: Page, { url }: LiveServer, desk: string): Promise<void> {
  const answer = await page.request.post(`/api/desks/${desk}/sign-off`, {
    data: {},
    headers: { Origin: url },
  });
  // Nobody may sit there already.
  expect(answer.status()).toBeLessThan(500);
  expect([401, 403]).not.toContain(answer.status());
}
