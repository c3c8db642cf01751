import { fail, options, readEstateFile } from './io';

/** `check --estate FILE`: says each fault of an estate file with its path. */
export async function check(args: string[]): Promise<number> {
  const given = options(args, { estate: { type: 'string' } });
  if (!given.ok) return fail(given.message);
  if (typeof given.value.estate !== 'string') return fail('--estate FILE is needed');
  const read = readEstateFile(given.value.estate);
  if (!read.ok) return fail(read.message);
  const { name, people, groups, menus } = read.value;
  process.stdout.write(
    `${name}: no faults; ${people.length} people, ${groups.length} groups, ${menus.length} menus\n`,
  );
  return 0;
}
