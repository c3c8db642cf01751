import { writeFileSync } from 'node:fs';
import { dbConfig, migrate, openDb, type Db } from '../server/db';
import { estateFile, replaceEstate } from '../server/estate';
import { fail, options, readEstateFile } from './io';

export async function withDb(work: (db: Db) => Promise<number>): Promise<number> {
  const config = dbConfig();
  try {
    await migrate(config);
  } catch (error) {
    const { code } = error as NodeJS.ErrnoException;
    if (code !== 'ECONNREFUSED' && code !== 'ENOENT') throw error;
    return fail(
      'The database is not running. Start it with npm start, or name a MariaDB by HOSTLER_DB_HOST.',
    );
  }
  const db = openDb(config);
  try {
    return await work(db);
  } finally {
    await db.end();
  }
}

/** `import --estate FILE`: puts an estate in the place of the one in the database, all or nothing. */
export async function importEstate(args: string[]): Promise<number> {
  const given = options(args, { estate: { type: 'string' } });
  if (!given.ok) return fail(given.message);
  if (typeof given.value.estate !== 'string') return fail('--estate FILE is needed');
  const read = readEstateFile(given.value.estate);
  if (!read.ok) return fail(read.message);
  return withDb(async (db) => {
    await replaceEstate(db, read.value, 'command line');
    process.stdout.write(`${read.value.name}: ${read.value.people.length} people imported\n`);
    return 0;
  });
}

/** `export [--estate FILE]`: writes the estate of the database to a file, or to standard output. */
export async function exportEstate(args: string[]): Promise<number> {
  const given = options(args, { estate: { type: 'string' } });
  if (!given.ok) return fail(given.message);
  const file = typeof given.value.estate === 'string' ? given.value.estate : '-';
  return withDb(async (db) => {
    const stored = await estateFile(db);
    if (!stored) return fail('The database holds no estate.');
    const text = `${JSON.stringify(stored, null, 1)}\n`;
    if (file === '-') process.stdout.write(text);
    else writeFileSync(file, text);
    return 0;
  });
}
