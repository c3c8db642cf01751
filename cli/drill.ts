import { readDrills, runDrills } from '../core/calls/drills';
import { writeJUnit } from '../core/formats';
import { compileEstate } from '../core/calls/engine';
import { fail, failWith, options, readEstateFile, readJson } from './io';

/** `drill --estate FILE --drills FILE [--json | --junit]`: runs all drills; exit code 1 if one fails. */
export async function drill(args: string[]): Promise<number> {
  const given = options(args, {
    estate: { type: 'string' },
    drills: { type: 'string' },
    json: { type: 'boolean' },
    junit: { type: 'boolean' },
  });
  if (!given.ok) return fail(given.message);
  const { estate: estateFile, drills: drillFile, json, junit } = given.value;
  if (typeof estateFile !== 'string') return fail('--estate FILE is needed');
  if (typeof drillFile !== 'string') return fail('--drills FILE is needed');
  if (estateFile === '-' && drillFile === '-')
    return fail('only one of --estate and --drills can be standard input');
  if (json && junit) return fail('only one of --json and --junit can be given');
  const estate = readEstateFile(estateFile);
  if (!estate.ok) return fail(estate.message);
  const input = readJson(drillFile);
  if (!input.ok) return fail(input.message);
  const read = readDrills(input.value);
  if (!read.ok) return failWith(read.faults);
  const results = runDrills(compileEstate(estate.value), read.drills);
  const failed = results.filter(({ ok }) => !ok).length;
  if (junit)
    process.stdout.write(
      writeJUnit(
        `Drills of ${estate.value.name}`,
        results.map((each) => ({
          suite: each.name,
          name: each.for.name,
          failure: each.ok ? null : each.says,
        })),
      ),
    );
  else if (json) process.stdout.write(`${JSON.stringify(results)}\n`);
  else {
    for (const each of results)
      process.stdout.write(
        `${each.ok ? 'holds ' : 'FAILS '} ${each.name} · ${each.for.name}: ${each.says}\n`,
      );
    process.stdout.write(`${results.length - failed} hold, ${failed} fail\n`);
  }
  return failed > 0 ? 1 : 0;
}
