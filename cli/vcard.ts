import { writeVCard } from '../core/formats';
import { fail, options, readEstateFile } from './io';

/** `vcard --estate FILE [--person ID]`: people's numbers as vCards (RFC 6350) on standard output. */
export async function vcards(args: string[]): Promise<number> {
  const given = options(args, { estate: { type: 'string' }, person: { type: 'string' } });
  if (!given.ok) return fail(given.message);
  const { estate, person } = given.value;
  if (typeof estate !== 'string') return fail('--estate FILE is needed');
  const read = readEstateFile(estate);
  if (!read.ok) return fail(read.message);
  const people = read.value.people.filter(({ id }) => person === undefined || id === person);
  if (people.length === 0) return fail(`there is no person "${String(person)}"`);
  process.stdout.write(people.map((each) => writeVCard(each, read.value.name)).join(''));
  return 0;
}
