import { promiseListFaults, withNewNames, type Estate, type Fault, type ReachPromise } from '../core/estate';
import { sliceFor, finderOf } from '../core/editing';
import { promisesFor, provePromises, sayPromise } from '../core/assurance/promises';
import { instantOf } from '../core/calls/time';
import { fail, failWith, options, readEstateFile, readJson, type Read } from './io';

/** One promise of one person, as `prove --json` prints it; times of calls as in a call file. */
interface Result {
  readonly person: string;
  readonly promise: ReachPromise;
  /** Only where all cases were gone through. */
  readonly holds: boolean;
  readonly complete: boolean;
  readonly cases: number;
  readonly broken?: { readonly call: unknown; readonly why: string };
}

/** The promises of a person, and how a list of them was written: a name of before is printed as it was given. */
interface Promised {
  readonly of: (person: string) => readonly ReachPromise[];
  readonly written?: readonly ReachPromise[];
}

const ownPromises = ({ promises }: Estate): Promised => ({
  of: (person) => promisesFor(promises, person).map(({ promise }) => promise),
});

function readPromises(file: string, estate: Estate): Read<Promised> | readonly Fault[] {
  const json = readJson(file);
  if (!json.ok) return json;
  const value = withNewNames(json.value);
  const faults = promiseListFaults(value, estate);
  return faults.length > 0
    ? faults
    : {
        ok: true,
        value: {
          of: () => value as readonly ReachPromise[],
          written: json.value as readonly ReachPromise[],
        },
      };
}

const stateOf = ({ holds, broken }: Result): string => (broken ? 'broken' : holds ? 'holds' : 'not proved');

function print(estate: Estate, results: readonly Result[]): void {
  const names = {
    person: (id: string) => estate.people.find((each) => each.id === id)?.name,
    schedule: (id: string) => estate.schedules.find((each) => each.id === id)?.name,
    status: (id: string) => estate.statuses.find((each) => each.id === id)?.name,
  };
  for (const result of results) {
    const why = result.broken
      ? `: ${result.broken.why}`
      : result.holds
        ? ''
        : ': there are more cases than were checked';
    process.stdout.write(
      `${stateOf(result).padEnd(10)}  ${names.person(result.person)}: ${sayPromise(result.promise, names)}${why}\n`,
    );
  }
  const count = (state: string) => results.filter((each) => stateOf(each) === state).length;
  process.stdout.write(
    `${count('holds')} hold, ${count('broken')} are broken, ${count('not proved')} are not proved\n`,
  );
}

/**
 * `prove --estate FILE [--person ID] [--promise FILE] [--at TIME] [--json]`: proves promises of everybody or one person
 * over all cases of the 53 weeks from a moment; exit code 1 if one is broken.
 */
export async function prove(args: string[]): Promise<number> {
  const given = options(args, {
    estate: { type: 'string' },
    person: { type: 'string' },
    promise: { type: 'string' },
    at: { type: 'string' },
    json: { type: 'boolean' },
  });
  if (!given.ok) return fail(given.message);
  const { estate: file, person, promise, at, json } = given.value;
  if (typeof file !== 'string') return fail('--estate FILE is needed');
  if (file === '-' && promise === '-')
    return fail('only one of --estate and --promise can be standard input');
  const fromMs = typeof at === 'string' ? instantOf(at) : Date.now();
  if (fromMs === null)
    return fail(`--at: "${String(at)}" is no time with its offset, like 2026-11-24T14:00:00-07:00`);
  const read = readEstateFile(file);
  if (!read.ok) return fail(read.message);
  const estate = read.value;
  if (typeof person === 'string' && !estate.people.some(({ id }) => id === person))
    return fail(`--person: there is no person "${person}" in the estate`);
  const promised =
    typeof promise === 'string'
      ? readPromises(promise, estate)
      : ({ ok: true, value: ownPromises(estate) } as const);
  if (!('ok' in promised)) return failWith(promised);
  if (!promised.ok) return fail(promised.message);
  const finder = finderOf(estate);
  const some = typeof person === 'string' ? [person] : estate.people.map(({ id }) => id);
  const results = some.flatMap((id): readonly Result[] => {
    const promises = promised.value.of(id);
    if (promises.length === 0) return [];
    const ran = provePromises(sliceFor(estate, finder, id), id, promises, {
      spread: 0,
      fromMs,
      everyStatus: false,
    });
    return ran.proofs.map(({ promise: each, holds, broken }, i) => ({
      person: id,
      promise: promised.value.written?.[i] ?? each,
      holds: holds && ran.complete,
      complete: ran.complete,
      cases: ran.cases,
      ...(broken ? { broken: { call: broken.call, why: broken.why } } : {}),
    }));
  });
  if (json) process.stdout.write(`${JSON.stringify(results)}\n`);
  else print(estate, results);
  return results.some(({ broken }) => broken) ? 1 : 0;
}
