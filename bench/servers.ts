import { fork, type ChildProcess } from 'node:child_process';
import { join } from 'node:path';
import type { Person } from '../core/estate';
import { scriptAt } from '../server/base';
import { dbEnv, type DbConfig } from '../server/db';
import { Client, cpuOf, latencyOf } from './client';
import { freePort } from './free-port';

const REQUESTS = 600;
/** One of so many requests is a change. */
const ONE_IN = 20;

/** Starts a server as `npm start` does, and signs in at it. */
export async function serverOn(own: DbConfig, folder: string, client: Client): Promise<ChildProcess> {
  const { file, execArgv } = scriptAt('server/main.ts');
  const child = fork(file, [], {
    cwd: process.cwd(),
    env: {
      ...process.env,
      NODE_ENV: 'production' as const,
      ...dbEnv(own),
      HOSTLER_PORT: new URL(client.url).port,
      HOSTLER_LOG: 'warn',
      HOSTLER_SIP_PORT: '0',
      HOSTLER_TURN_PORT: '0',
      HOSTLER_KEY_FILE: join(folder, 'keys.json'),
      HOSTLER_SPOOL: join(folder, 'spool'),
    },
    execArgv: [...execArgv],
  });
  await new Promise((done) =>
    child.on('message', (message) => (message === 'listening' ? done(null) : null)),
  );
  await client.signIn();
  return child;
}

/** A person's page, 100 times a second. */
export async function underLoad(figures: Map<string, number>, server: Running): Promise<void> {
  const { client } = server;
  await quiet(server);
  const { p50, p95, p99, failed } = await latencyOf(`${client.url}/api/people/ines`, client.cookie);
  if (failed > 0) throw new Error(`${failed} requests were not answered`);
  figures.set('a page 100 times a second: 50 of 100 within', p50);
  figures.set('97.5 of 100 within (95 of 100 is no more)', p95);
  figures.set('99 of 100 within', p99);
}

/** Waits until a server that has just been asked for all that it works out once does nothing more. */
async function quiet({ client, child }: Running): Promise<void> {
  await client.ask('GET', '/api/people');
  await client.ask('GET', '/api/today');
  for (let tries = 0; tries < 120; tries += 1) {
    const before = cpuOf(child);
    await new Promise((done) => setTimeout(done, 500));
    if (cpuOf(child) - before < 50) return;
  }
}

interface Running {
  readonly client: Client;
  readonly child: ChildProcess;
}

/** The CPU of a request at servers that take turns, in µs: pages of people, and now and then a change. */
async function cpuOfRequest(servers: readonly Running[]): Promise<number> {
  const cpu = () => servers.reduce((sum, { child }) => sum + cpuOf(child), 0);
  const one = async (n: number) => {
    const { client } = servers[n % servers.length]!;
    const { version, person } = await client.ask<{ version: number; person: Person }>(
      'GET',
      '/api/people/ines',
    );
    if (n % ONE_IN === 0)
      await client.ask('PUT', '/api/people/ines', {
        version,
        person: { ...person, maxCalls: 1 + (person.maxCalls % 7) },
      });
  };
  // What is done the first time is not counted.
  for (let n = 0; n < 2 * ONE_IN + 1; n += 1) await one(n);
  const before = cpu();
  for (let n = 0; n < REQUESTS; n += 1) await one(n);
  return ((cpu() - before) * 1000) / (REQUESTS * (1 + 1 / ONE_IN));
}

/** What a request costs with another server on the same database, of what it costs without. */
export async function besideAnother(
  figures: Map<string, number>,
  first: Running,
  own: DbConfig,
  folder: string,
): Promise<void> {
  const alone = await cpuOfRequest([first]);
  const client = new Client(`http://127.0.0.1:${await freePort()}`);
  const child = await serverOn(own, folder, client);
  try {
    await quiet({ client, child });
    const both = await cpuOfRequest([first, { client, child }]);
    figures.set('CPU of a request, one server, µs', alone);
    figures.set('the same, two servers on the database, µs', both);
  } finally {
    child.kill('SIGTERM');
  }
}
