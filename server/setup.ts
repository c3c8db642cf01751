import { randomInt } from 'node:crypto';
import { mkdirSync, readFileSync, renameSync, writeFileSync } from 'node:fs';
import { dirname, resolve } from 'node:path';
import type { RowDataPacket } from 'mysql2/promise';
import { emptyEstate } from '../core/editing';
import { isInside } from '../core/calls/time';
import { faultLine, type Estate } from '../core/estate';
import { readEstateFile } from '../core/routes';
import { hashPassword, putAccount } from './auth';
import {
  asOwner,
  dbConfig,
  inTransaction,
  locked,
  migrate,
  openDb,
  openKeeper,
  type Db,
  type Tx,
  connect,
} from './db';
import type { Drill } from '../core/calls/drills';
import type { Behind } from '../core/changes/restarts';
import type { SlateEntry } from '../core/changes/slate';
import { insertSignOn } from './desks';
import { insertSeatOn } from './seats';
import { putDrill } from './drills';
import { readRevision, replaceEstate } from './estate';
import { MODELS } from '../core/devices/phones';
import { putFirmwareFile, sha256 } from './provisioning';
import type { Role } from './base';
import { putRunning } from './restarts';
import { demoCalls, demoHistory } from './setup-past';
import { demoRound } from './setup-round';
import { demoInWork, type DemoInWork } from './setup-work';
import { addSlate, patchSlate, putEntries } from './slates';

/** Prepares a database: migrations, and where it is empty the demo estate and the demo accounts. */
const ESTATE = resolve(__dirname, '../demo/skerrow.estate.json');
const WORK = resolve(__dirname, '../demo/skerrow.work.json');
const ACCOUNTS = resolve(__dirname, '../var/demo-accounts.json');
const OWN_ACCOUNTS = resolve(__dirname, '../var/own-accounts.json');
/** An organisation that begins with nothing, in the place of the demo. */
const IS_EMPTY = process.env.HOSTLER_EMPTY === '1';
const DEMO: readonly { name: string; role: Role; person?: string }[] = [
  { name: 'specialist', role: 'specialist' },
  { name: 'helpdesk', role: 'help-desk' },
  { name: 'manager', role: 'manager' },
  // Ines Okafor, by her extension: her own page.
  { name: '4101', role: 'staff', person: 'ines' },
];

const LETTERS = 'abcdefghijkmnpqrstuvwxyz23456789';
const newPassword = () =>
  Array.from({ length: 3 }, () =>
    Array.from({ length: 4 }, () => LETTERS[randomInt(LETTERS.length)]).join(''),
  ).join('-');

/** What `demo/work.ts` writes. */
interface DemoWork extends DemoInWork {
  readonly drills: readonly Drill[];
  readonly slate: { readonly name: string; readonly note: string; readonly entries: readonly SlateEntry[] };
  readonly running: readonly Behind[];
}

const HOUR_MS = 3_600_000;
/** Whoever of the agents is on shift now sits at a shared desk, a few desks left free. */
async function seatDemo(tx: Tx, estate: Estate, now: Date): Promise<void> {
  const inside = new Set(
    estate.schedules.filter((each) => isInside(each, now.getTime())).map(({ id }) => id),
  );
  const agents = estate.people.filter(({ endpoints }) => endpoints.some(({ kind }) => kind === 'hot-desk'));
  const here = agents.filter(({ roster = [] }) => roster.some(({ schedule }) => inside.has(schedule)));
  const others = agents.filter((person) => !here.includes(person));
  const desks = estate.desks ?? [];
  const stay = desks.filter(({ signOff }) => signOff?.atShiftEnd === false);
  const free = desks.filter((desk) => !stay.includes(desk) && desk.allowed === undefined);
  const seated = [
    ...stay.flatMap((desk, n) => (others[n] ? [[desk, others[n], 9 + n] as const] : [])),
    ...free.slice(0, -4).flatMap((desk, n) => (here[n] ? [[desk, here[n], 0.5 + 0.1 * n] as const] : [])),
  ];
  // Half of them let their colleagues see where they sit.
  for (const [n, [, person]] of seated.entries())
    if (n % 2 === 0)
      await tx.execute('INSERT IGNORE INTO desk_shown (person, since) VALUES (?, ?)', [person.id, now]);
  for (const [desk, person, hours] of seated)
    await insertSignOn(tx, {
      desk: desk.id,
      person: person.id,
      site: 'harbour',
      since: new Date(now.getTime() - hours * HOUR_MS),
      how: 'by-code',
    });
}

/** Three of the service desk take calls: two at their desk phones, one at home. */
async function seatService(tx: Tx, estate: Estate, now: Date): Promise<void> {
  for (const [n, [seat, kind]] of (
    [
      ['service-1', 'desk'],
      ['service-2', 'desk'],
      ['service-home-1', 'mobile'],
    ] as const
  ).entries()) {
    const person = ['noor', 'ruth', 'ines'].map((id) => estate.people.find((each) => each.id === id))[n];
    const endpoint = person?.endpoints.find((each) => each.kind === kind);
    if (person && endpoint && estate.seats?.some(({ id }) => id === seat))
      await insertSeatOn(tx, {
        seat,
        person: person.id,
        at: { endpoint: endpoint.id },
        since: new Date(now.getTime() - (n + 1) * HOUR_MS),
      });
  }
}

/** The moment that the demo plays at. */
const demoNow = (now: Date): Date => (process.env.HOSTLER_NOW ? new Date(process.env.HOSTLER_NOW) : now);

async function demoEstate(db: Db, keeper: Db): Promise<void> {
  if (await readRevision(db)) return;
  if (IS_EMPTY) return void (await replaceEstate(db, emptyEstate(), 'set-up'));
  const read = readEstateFile(JSON.parse(readFileSync(ESTATE, 'utf8')));
  if (!read.ok) throw new Error(`demo estate: ${read.faults.map(faultLine).join('; ')}`);
  const work = JSON.parse(readFileSync(WORK, 'utf8')) as DemoWork;
  const at = new Date();
  const past = await demoCalls(keeper, read.estate, demoNow(at));
  await inTransaction(db, async (connection) => {
    await demoHistory(connection, past);
    for (const drill of work.drills) await putDrill(connection, drill, 'specialist', at);
    const slate = await addSlate(connection, work.slate.name, 'specialist', at);
    await patchSlate(connection, slate, { note: work.slate.note, shared: true }, at);
    await putEntries(connection, slate, work.slate.entries, 'specialist', at);
    await putRunning(connection, work.running, at);
    await seatService(connection, read.estate, demoNow(at));
    await seatDemo(connection, read.estate, demoNow(at));
    await demoRound(connection, read.estate, at);
    await demoInWork(connection, read.estate, work, at);
    // Images made up for the stand-ins: all that counts is that they arrive whole.
    for (const { id, name, firmwareLeast } of MODELS.filter(({ kind }) => kind === 'desk')) {
      const body = Buffer.from(`${name} ${firmwareLeast}, made up for the stand-ins\n`.repeat(400));
      await putFirmwareFile(
        connection,
        { model: id, version: firmwareLeast, sha256: sha256(body), addedBy: 'set-up' },
        body,
        at,
      );
    }
  });
}

/**
 * The demo's accounts. Their passwords are written to a file before they count, and told this once: a set-up that is
 * ended between the two takes them from the file.
 */
async function demoAccounts(db: Db): Promise<void> {
  const [[row]] = await db.query<RowDataPacket[]>('SELECT COUNT(*) AS n FROM account');
  if (Number(row?.n) > 0) return;
  const file = process.env.HOSTLER_ACCOUNTS_FILE ?? (IS_EMPTY ? OWN_ACCOUNTS : ACCOUNTS);
  const given = process.env.HOSTLER_DEMO_PASSWORD;
  const accounts =
    accountsIn(file) ??
    DEMO.filter(({ person }) => !IS_EMPTY || person === undefined).map((each) => ({
      ...each,
      password: given ?? newPassword(),
    }));
  mkdirSync(dirname(file), { recursive: true });
  writeFileSync(`${file}.new`, JSON.stringify(accounts), { mode: 0o600 });
  renameSync(`${file}.new`, file);
  const hashed = await Promise.all(
    accounts.map(async (each) => ({ ...each, hash: await hashPassword(each.password) })),
  );
  await inTransaction(db, async (tx) => {
    for (const { name, role, person, hash } of hashed) await putAccount(tx, name, role, hash, person ?? null);
  });
  if (given !== undefined) return;
  process.stdout.write(
    `${IS_EMPTY ? 'Accounts' : 'Demo accounts'} (name, password, what it may do); they are told this once, and stand in ${file}:\n`,
  );
  for (const { name, password, role } of accounts)
    process.stdout.write(`  ${name.padEnd(12)} ${password.padEnd(16)} ${role}\n`);
}

/** The accounts that a set-up before has written down; null: none, or not whole. */
function accountsIn(file: string): readonly ((typeof DEMO)[number] & { password: string })[] | null {
  try {
    const found = JSON.parse(readFileSync(file, 'utf8')) as ((typeof DEMO)[number] & { password: string })[];
    return found.every(({ name, role, password }) => name && role && password) ? found : null;
  } catch {
    return null;
  }
}

async function main(): Promise<void> {
  const config = dbConfig();
  await migrate(config);
  const db = openDb(config);
  const keeper = openKeeper(config);
  const lock = await connect(asOwner(config));
  try {
    // Two set-ups at once, on two servers say, do it once between them.
    await locked(lock, config, 'set-up', async () => {
      await demoEstate(db, keeper);
      await demoAccounts(db);
    });
  } finally {
    await lock.end();
    await Promise.all([db.end(), keeper.end()]);
  }
}

main().catch((error: unknown) => {
  process.stderr.write(`${error instanceof Error ? error.message : String(error)}\n`);
  process.exitCode = 1;
});
