import { randomInt } from 'node:crypto';
import { mkdirSync, readFileSync, writeFileSync } from 'node:fs';
import { dirname, resolve } from 'node:path';
import type { RowDataPacket } from 'mysql2/promise';
import { faultLine } from '../core/estate';
import { readEstateFile } from '../core/routing';
import { hashPassword } from './auth/passwords';
import { putAccount } from './auth/queries';
import { dbConfig, migrate, openDb, type Db } from './db';
import { readRevision, replaceEstate } from './estate/queries';
import type { Role } from './http/routes';

/** Prepares a database: migrations, and where it is empty the demo estate and the demo accounts. */
const ESTATE = resolve(__dirname, '../demo/skerrow.estate.json');
const ACCOUNTS = resolve(__dirname, '../var/demo-accounts.json');
const DEMO: readonly { name: string; role: Role }[] = [
  { name: 'specialist', role: 'specialist' },
  { name: 'helpdesk', role: 'help-desk' },
  { name: 'manager', role: 'manager' },
];

const LETTERS = 'abcdefghijkmnpqrstuvwxyz23456789';
const newPassword = () =>
  Array.from({ length: 3 }, () =>
    Array.from({ length: 4 }, () => LETTERS[randomInt(LETTERS.length)]).join(''),
  ).join('-');

async function demoEstate(db: Db): Promise<void> {
  if (await readRevision(db)) return;
  const read = readEstateFile(JSON.parse(readFileSync(ESTATE, 'utf8')));
  if (!read.ok) throw new Error(`demo estate: ${read.faults.map(faultLine).join('; ')}`);
  await replaceEstate(db, read.estate, 'set-up');
}

async function demoAccounts(db: Db): Promise<void> {
  const [[row]] = await db.query<RowDataPacket[]>('SELECT COUNT(*) AS n FROM account');
  if (Number(row?.n) > 0) return;
  const accounts = DEMO.map((account) => ({
    ...account,
    password: process.env.HOSTLER_DEMO_PASSWORD ?? newPassword(),
  }));
  for (const { name, role, password } of accounts)
    await putAccount(db, name, role, await hashPassword(password));
  const file = process.env.HOSTLER_ACCOUNTS_FILE ?? ACCOUNTS;
  mkdirSync(dirname(file), { recursive: true });
  writeFileSync(file, JSON.stringify(accounts), { mode: 0o600 });
}

async function main(): Promise<void> {
  const config = dbConfig();
  await migrate(config);
  const db = openDb(config);
  try {
    await demoEstate(db);
    await demoAccounts(db);
  } finally {
    await db.end();
  }
}

main().catch((error: unknown) => {
  process.stderr.write(`${error instanceof Error ? error.message : String(error)}\n`);
  process.exitCode = 1;
});
