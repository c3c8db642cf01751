import { readCpl, writeCpl } from '../core/formats';
import { fail, failWith, options, readEstateFile, readText } from './io';

/**
 * `cpl --estate FILE --person ID [--script FILE] [--domain NAME]`: a person's plan as a CPL script (RFC 3880), or a
 * script as a plan. What could not be carried over is told on standard error.
 */
export async function cpl(args: string[]): Promise<number> {
  const text = { type: 'string' } as const;
  const given = options(args, { estate: text, person: text, script: text, domain: text });
  if (!given.ok) return fail(given.message);
  const { estate: file, person: id, script, domain } = given.value as Record<string, string | undefined>;
  if (file === undefined) return fail('--estate FILE is needed');
  if (id === undefined) return fail('--person ID is needed');
  if (file === '-' && script === '-') return fail('only one of --estate and --script can be standard input');
  const read = readEstateFile(file);
  if (!read.ok) return fail(read.message);
  const estate = read.value;
  const person = estate.people.find((each) => each.id === id);
  if (!person) return fail(`there is no person "${id}"`);
  if (script === undefined) {
    const { xml, notes } = writeCpl(person, estate, domain);
    process.stdout.write(xml);
    for (const note of notes) process.stderr.write(`note: ${note}\n`);
    return 0;
  }
  const source = readText(script);
  if (!source.ok) return fail(source.message);
  const plan = readCpl(source.value, person, estate);
  if (!plan.ok) return failWith(plan.faults);
  for (const { line, text: said } of plan.notes) process.stderr.write(`line ${line}: ${said}\n`);
  process.stdout.write(`${JSON.stringify({ plan: plan.plan, schedules: plan.schedules }, null, 2)}\n`);
  return 0;
}
