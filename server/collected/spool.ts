import { readdir, readFile, rename, unlink } from 'node:fs/promises';
import { join } from 'node:path';
import type { Logger } from 'pino';
import { readRecords, recordValues } from '../../core/records';
import type { Queryable } from '../db';
import { putCalls } from './queries';

/** So many files are taken in at once; those that are left come the next time. */
const MOST_FILES = 200;

/**
 * Takes in the records of calls that the phone system has left in a folder: each file goes once its calls are in the
 * database. Two servers may do so at the same time, and one may have ended between the two: no call comes in twice.
 * @returns how many calls were new
 * @throws where the database does not take them: the files stay
 */
export async function takeInSpool(
  keeper: Queryable,
  folder: string,
  log: Pick<Logger, 'error'>,
): Promise<number> {
  const names = await readdir(folder).catch(ifMissing<string[]>([]));
  let added = 0;
  for (const name of names
    .filter((each) => each.endsWith('.jsonl'))
    .sort()
    .slice(0, MOST_FILES)) {
    const file = join(folder, name);
    const text = await readFile(file, 'utf8').catch(ifMissing(null));
    // Another server has taken it in.
    if (text === null) continue;
    const values = recordValues(text);
    const read = values.ok ? readRecords(values.values) : null;
    if (!read?.ok) {
      log.error({ file }, 'a file of call records cannot be read, and is put aside');
      await rename(file, `${file}.unread`).catch(ifMissing(undefined));
      continue;
    }
    added += await putCalls(keeper, read.records);
    await unlink(file).catch(ifMissing(undefined));
  }
  return added;
}

const ifMissing =
  <T>(otherwise: T) =>
  (error: unknown): T => {
    if ((error as { code?: string }).code !== 'ENOENT') throw error;
    return otherwise;
  };
