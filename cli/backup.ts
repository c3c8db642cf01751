import { backUp, restore } from '../server/backup';
import { dbConfig } from '../server/db';
import { keyFile } from '../server/secrets';
import { fail, options } from './io';

const FAILED = 1;
const failed = (error: unknown): number => {
  process.stderr.write(`${error instanceof Error ? error.message : String(error)}\n`);
  return FAILED;
};
const count = (n: number, one: string, more: string) => `${n} ${n === 1 ? one : more}`;

/** `backup --to FOLDER [--untried]`: a dump of one moment, tried by loading it, with what it is known by. */
export async function backup(args: string[]): Promise<number> {
  const given = options(args, { to: { type: 'string' }, untried: { type: 'boolean' } });
  if (!given.ok) return fail(given.message);
  if (typeof given.value.to !== 'string')
    return fail('--to FOLDER is needed: a folder that is not there yet');
  try {
    const { folder, node, manifest, notTried } = await backUp(dbConfig(), given.value.to, {
      isTried: given.value.untried !== true,
    });
    const rows = Object.values(manifest.rows ?? {}).reduce((sum, n) => sum + n, 0);
    process.stdout.write(
      [
        `${folder}: ${manifest.bytes} bytes, of ${manifest.at}${node === null ? '' : `, from the node ${node}`}.`,
        notTried === null
          ? `Tried: it came back with ${count(rows, 'row', 'rows')} in ${count(Object.keys(manifest.rows ?? {}).length, 'table', 'tables')}.`
          : `Not tried: ${notTried}.`,
        manifest.binlog
          ? `With the binary logs from ${manifest.binlog.file} on it can be restored to any moment since.`
          : 'The database keeps no binary log: it can be restored as it is now, and not to a later moment.',
        manifest.keys.length > 0
          ? `Its secrets open only with ${keyFile()}: keep a copy of that file, and not beside this backup.`
          : 'It holds no sealed secrets.',
        '',
      ].join('\n'),
    );
    return 0;
  } catch (error) {
    return failed(error);
  }
}

/** `restore --from FOLDER [--replace] [--until TIME --logs FOLDER]`: puts a backup in the place of what there is. */
export async function restoreBackup(args: string[]): Promise<number> {
  const given = options(args, {
    from: { type: 'string' },
    replace: { type: 'boolean' },
    until: { type: 'string' },
    logs: { type: 'string' },
  });
  if (!given.ok) return fail(given.message);
  const { from, until, logs } = given.value;
  if (typeof from !== 'string') return fail('--from FOLDER is needed: what backup has written');
  if ((until === undefined) !== (logs === undefined))
    return fail('--until TIME and --logs FOLDER go together: a moment, and the binary logs that lead there');
  if (typeof until === 'string' && (Number.isNaN(Date.parse(until)) || !/(Z|[+-]\d{2}:?\d{2})$/.test(until)))
    return fail('--until is a time with its offset, such as 2026-11-30T14:20:00-08:00');
  try {
    const { manifest, migrated, missingKeys } = await restore(dbConfig(), from, {
      replace: given.value.replace === true,
      ...(typeof until === 'string' && typeof logs === 'string'
        ? { until: { at: new Date(until), folder: logs } }
        : {}),
    });
    process.stdout.write(
      [
        `Restored: the database is as it was at ${typeof until === 'string' ? until : manifest.at}.`,
        ...(migrated.length > 0 ? [`Brought up to this version: ${migrated.join(', ')}.`] : []),
        ...(missingKeys.length > 0
          ? [
              `Some secrets do not open: ${keyFile()} does not hold ${count(missingKeys.length, 'the key', 'keys')} ${missingKeys.join(', ')}. Put back the key file of that time.`,
            ]
          : []),
        'Start every server anew.',
        '',
      ].join('\n'),
    );
    return missingKeys.length > 0 ? FAILED : 0;
  } catch (error) {
    return failed(error);
  }
}
