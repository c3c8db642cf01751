import type { ChildProcess } from 'node:child_process';
import { randomBytes } from 'node:crypto';
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { hash } from '@node-rs/argon2';
import mysql, { type RowDataPacket } from 'mysql2/promise';
import type { PeopleHead, PeopleRows, PersonSummary } from '../api/people';
import type { Estate, Person } from '../core/estate';
import { putAccount } from '../server/auth';
import { asOwner, dbConfig, migrate, openDb, type DbConfig } from '../server/db';
import { replaceEstate } from '../server/estate';
import { estateOf } from './changes.bench';
import { Client, memoryOf, PASSWORD } from './client';
import { freePort } from './free-port';
import { besideAnother, serverOn, underLoad } from './servers';

/**
 * `npm run bench -- scale [PEOPLE …]`: what a server does with as many people, through the API as the screens use it;
 * each figure for each size, and how it grows from the first to the last.
 */
const SIZES = process.argv.slice(2).map(Number).filter(Boolean);
const AGAIN = 7;
const SLATE = 5000;
const PART = 200;

type Figures = Map<string, number>;
const median = (values: readonly number[]) => [...values].sort((a, b) => a - b)[values.length >> 1]!;

/** How long something takes, in ms: the first time, and the middle of some more. */
async function timed(figures: Figures, what: string, work: () => Promise<unknown>, again = AGAIN) {
  const took: number[] = [];
  for (let n = 0; n <= again; n += 1) {
    const began = performance.now();
    await work();
    took.push(performance.now() - began);
  }
  if (again > 0) figures.set(`${what}, the first time`, took[0]!);
  figures.set(what, median(again > 0 ? took.slice(1) : took));
}

const page = (client: Client, id: string) =>
  client.ask<{ version: number; person: Person }>('GET', `/api/people/${id}`);

/** Somebody who is not sent to shared desks: those make a check of the whole roster. */
async function plainOne(client: Client, ids: readonly string[]): Promise<Person> {
  for (const id of ids) {
    const { person } = await page(client, id);
    if (person.roster === undefined) return person;
  }
  throw new Error('everybody is on the roster');
}

/** The list of people as a browser fetches it: of what it is made, and the parts that it does not have. */
function listFetcher(client: Client) {
  let known = new Map<string, PeopleRow>();
  return async (): Promise<PeopleRow> => {
    const [have] = known.keys();
    const { parts, people } = await client.ask<PeopleHead>(
      'GET',
      have ? `/api/people?have=${have}` : '/api/people',
    );
    const rows = new Map(parts.flatMap(({ hash }) => (known.has(hash) ? [[hash, known.get(hash)!]] : [])));
    if (people && parts[0]) rows.set(parts[0].hash, people);
    const missing = parts.flatMap(({ hash }) => (rows.has(hash) ? [] : [hash]));
    for (let i = 0; i < missing.length; i += 10) {
      const names = missing.slice(i, i + 10);
      const got = await client.ask<PeopleRows>('GET', `/api/people-parts?names=${names.join(',')}`);
      names.forEach((name, n) => rows.set(name, got.parts[n] ?? []));
    }
    known = new Map(parts.map(({ hash }) => [hash, rows.get(hash)!]));
    return parts.flatMap(({ hash }) => rows.get(hash)!);
  };
}
type PeopleRow = readonly PersonSummary[];

async function edits(figures: Figures, client: Client): Promise<void> {
  let n = 0;
  const list = listFetcher(client);
  const people = await list();
  // Somebody whom nobody's plan leads to, as most are.
  const { id } = await plainOne(client, people.map((each) => each.id).slice(-200));
  const edit = async (whom = id) => {
    const { version, person } = await page(client, whom);
    n += 1;
    const after = { ...person, maxCalls: 1 + (n % 7) };
    await client.ask('POST', '/api/effect', {
      entries: [{ kind: 'person', id: whom, name: person.name, base: person, after }],
    });
    await client.ask('PUT', `/api/people/${whom}`, { version, person: after });
  };
  await timed(figures, 'an edit: read, its effect told, put live', () => edit());
  await timed(
    figures,
    'Findings after a change of somebody whom the reception leads to',
    async () => {
      await edit('ines');
      await client.ask('GET', '/api/findings');
    },
    1,
  );
  await timed(figures, 'Findings after a change', async () => {
    await edit();
    const began = performance.now();
    await client.ask('GET', '/api/findings');
    figures.set('Findings alone after a change', performance.now() - began);
  });
  await timed(figures, 'Today after a change', async () => {
    await edit();
    await client.ask('GET', '/api/today');
  });
  await timed(figures, 'the list of people after a change', async () => {
    await edit();
    await list();
  });
}

async function slate(figures: Figures, client: Client): Promise<void> {
  const { people } = await client.ask<Estate>('GET', '/api/estate');
  const some = people.slice(0, SLATE);
  const { id } = await client.ask<{ id: number }>('POST', '/api/slates', { name: 'Everybody' });
  await timed(
    figures,
    `a slate of ${SLATE} people, put on in parts of ${PART}`,
    async () => {
      for (let at = 0; at < some.length; at += PART)
        await client.ask('PUT', `/api/slates/${id}/entries`, {
          entries: some.slice(at, at + PART).map((person) => ({
            kind: 'person',
            id: person.id,
            name: person.name,
            base: person,
            after: { ...person, maxCalls: person.maxCalls + 1 },
          })),
        });
    },
    0,
  );
  await timed(
    figures,
    '  put live',
    () => client.ask('POST', `/api/slates/${id}/apply`, { overrule: 'for the bench' }),
    0,
  );
}

async function staffList(figures: Figures, client: Client, people: number): Promise<void> {
  const rows = Array.from(
    { length: people },
    (_, n) => `Person${n} Sample${n % 97},8${100_000 + n},,+1604${String(5_000_000 + n)}`,
  );
  const rest = async (id: number, wanted: string) => {
    for (let tries = 0; tries < 6000; tries += 1) {
      const { state } = await client.ask<{ state: string }>('GET', `/api/imports/${id}`);
      if (state === wanted) return;
      if (state === 'failed') throw new Error('the import failed');
      await new Promise((done) => setTimeout(done, 50));
    }
    throw new Error('the import takes too long');
  };
  let id = 0;
  await timed(
    figures,
    'a staff list of as many rows: read and checked',
    async () => {
      ({ id } = await client.ask<{ id: number }>(
        'POST',
        '/api/imports',
        ['Name,Extension,Direct,Mobile', ...rows].join('\n'),
      ));
      await rest(id, 'read');
    },
    0,
  );
  await timed(
    figures,
    '  written',
    async () => {
      await client.ask('POST', `/api/imports/${id}/write`, {});
      await rest(id, 'written');
    },
    0,
  );
}

/** How often everybody was changed in the year before; the first day of it, and how far its changes lie apart. */
const CHANGES = 20;
const YEAR = "TIMESTAMP'2025-11-01 00:00:00'";
const APART_DAYS = 15;
const HISTORIC = ['organisation', 'estate_object', 'line', 'line_number', 'endpoint'] as const;

/** A year before the first day: everybody changed so often, and as many entries in the record. */
async function makeHistory(own: DbConfig): Promise<void> {
  const owner = await mysql.createConnection({ ...asOwner(own), timezone: 'Z' });
  const columnsOf = async (table: string) => {
    const [columns] = await owner.query<RowDataPacket[]>(
      'SELECT column_name AS name FROM information_schema.columns WHERE table_schema = DATABASE() AND table_name = ?',
      [table],
    );
    return columns.map(({ name }) => `\`${String(name)}\``).join(', ');
  };
  const versions = async (table: string, from: string, to: string) => {
    const columns = await columnsOf(table);
    await owner.query(
      `INSERT INTO ${table} (${columns}, row_start, row_end) SELECT ${columns}, ${from}, ${to} FROM ${table}`,
    );
  };
  try {
    await owner.query('SET @@session.system_versioning_insert_history = 1');
    for (const table of HISTORIC)
      await versions(table, YEAR, `${YEAR} + INTERVAL ${CHANGES * APART_DAYS} DAY`);
    for (let n = 0; n < CHANGES; n += 1) {
      const at = (nth: number) => `${YEAR} + INTERVAL ${nth * APART_DAYS} DAY + INTERVAL position SECOND`;
      await versions('person', at(n), at(n + 1));
      await owner.query(
        `INSERT INTO record_entry (at, who, kind, person_id, subject, before_json, after_json)
         SELECT ${at(n)}, 'specialist', 'person-changed', id, name, JSON_OBJECT('maxCalls', ${n}), JSON_OBJECT('maxCalls', ${n + 1}) FROM person ORDER BY position`,
      );
    }
  } finally {
    await owner.end();
  }
}

async function history(figures: Figures, client: Client, own: DbConfig, people: number): Promise<void> {
  await makeHistory(own);
  const { complaints } = await client.ask<{ complaints: readonly { id: string }[] }>(
    'GET',
    '/api/people/ines/diagnosis',
  );
  const then = Date.parse('2026-05-05T12:00:00Z');
  figures.set('changes kept of the year before, of people', people * CHANGES);
  await timed(figures, '  a complaint about a moment half a year ago', () =>
    client.ask('GET', `/api/people/ines/diagnosis?complaint=${complaints[0]!.id}&at=${then}`),
  );
  await timed(figures, '  the record, first page', () => client.ask('GET', '/api/record'));
  await timed(figures, '  the record, as of half a year ago', () =>
    client.ask('GET', `/api/record?to=${new Date(then).toISOString()}`),
  );
  await timed(figures, '  the record of a person, half a year ago', () =>
    client.ask('GET', `/api/record?person=ines&to=${new Date(then).toISOString()}`),
  );
}

async function measure(people: number): Promise<Figures> {
  const figures: Figures = new Map();
  const config = dbConfig();
  const { database: _own, owner: _owner, ...server } = asOwner(config);
  const database = `hostler_bench_${randomBytes(6).toString('hex')}`;
  const own = { ...config, database };
  const admin = await mysql.createConnection(server);
  await admin.query(`CREATE DATABASE ${database} CHARACTER SET utf8mb4 COLLATE utf8mb4_bin`);
  const folder = mkdtempSync(join(tmpdir(), 'hostler-scale-'));
  const client = new Client(`http://127.0.0.1:${await freePort()}`);
  let child: ChildProcess | null = null;
  let peak = 0;
  const watching = setInterval(() => {
    if (child && child.exitCode === null) peak = Math.max(peak, memoryOf(child));
  }, 250);
  try {
    await migrate(own);
    const db = openDb(own, { answerMs: 600_000 });
    const estate = estateOf(people);
    await replaceEstate(db, { ...estate, dialling: { ...estate.dialling, extensionDigits: 7 } }, 'bench');
    await putAccount(db, 'specialist', 'specialist', await hash(PASSWORD), null);
    await db.end();
    await timed(
      figures,
      'start, until the list of people is given',
      async () => {
        child = await serverOn(own, folder, client);
        await client.ask('GET', '/api/people');
      },
      0,
    );
    await timed(figures, 'the list of people, its first part', () => client.ask('GET', '/api/people'));
    await timed(figures, 'the list of people, whole', () => listFetcher(client)());
    await timed(figures, 'somebody looked for in it by the server', () =>
      client.ask('GET', '/api/people-found?text=ruth'),
    );
    await timed(figures, 'a person’s page', () => page(client, 'ines'));
    await timed(figures, 'Today', () => client.ask('GET', '/api/today'));
    await timed(figures, 'Findings', () => client.ask('GET', '/api/findings'));
    await edits(figures, client);
    await timed(figures, 'the record, first page', () => client.ask('GET', '/api/record'));
    figures.set('memory of the server after that, MiB', memoryOf(child!));
    await underLoad(figures, { client, child: child! });
    await besideAnother(figures, { client, child: child! }, own, folder);
    await slate(figures, client);
    await staffList(figures, client, people);
    await history(figures, client, own, people);
    figures.set('memory of the server at most, MiB', peak);
  } finally {
    clearInterval(watching);
    (child as ChildProcess | null)?.kill('SIGTERM');
    await admin.query(`DROP DATABASE ${database}`);
    await admin.end();
    rmSync(folder, { recursive: true, force: true });
  }
  return figures;
}

async function main(): Promise<void> {
  const sizes = SIZES.length > 0 ? SIZES : [5000, 50_000];
  const all: Figures[] = [];
  for (const people of sizes) {
    process.stdout.write(`${people} people\n`);
    const figures = await measure(people);
    all.push(figures);
    for (const [what, value] of figures)
      process.stdout.write(`  ${what.padEnd(56)} ${String(Math.round(value)).padStart(9)}\n`);
  }
  if (all.length < 2) return;
  const [first, last] = [all[0]!, all.at(-1)!];
  const times = sizes.at(-1)! / sizes[0]!;
  process.stdout.write(
    `| | ${sizes.join(' | ')} | grows as n to the |\n| --- | ${sizes.map(() => '---: | ').join('')}---: |\n`,
  );
  for (const [what, value] of last) {
    const slope = Math.log(value / (first.get(what) ?? value)) / Math.log(times);
    process.stdout.write(
      `| ${what.trim()} | ${all.map((each) => Math.round(each.get(what) ?? 0).toLocaleString('en')).join(' | ')} | ${slope.toFixed(2)} |\n`,
    );
  }
}

main().then(
  () => process.exit(0),
  (error: unknown) => {
    process.stderr.write(`${String(error)}\n`);
    process.exit(1);
  },
);
