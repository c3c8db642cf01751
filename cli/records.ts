import { compileEstate } from '../core/calls/engine';
import { readTariff } from '../core/formats';
import {
  answerTimes,
  costOf,
  readRecords,
  recordValues,
  replay as replayed,
  type CallRecord,
} from '../core/records';
import { faultLine } from '../core/estate';
import { fail, options, readEstateFile, readText, type Read } from './io';

const string = { type: 'string' } as const;
const flag = { type: 'boolean' } as const;

function recordsIn(file: string): Read<readonly CallRecord[]> {
  const text = readText(file);
  if (!text.ok) return text;
  const values = recordValues(text.value);
  if (!values.ok) return { ok: false, message: faultLine(values.fault) };
  const read = readRecords(values.values);
  return read.ok
    ? { ok: true, value: read.records }
    : { ok: false, message: read.faults.map(faultLine).join('\n') };
}
const percent = (share: number | null) => (share === null ? '–' : `${(share * 100).toFixed(1)} %`);
const print = (json: unknown, value: unknown, words: () => string) => {
  process.stdout.write(json === true ? `${JSON.stringify(value)}\n` : `${words()}\n`);
  return 0;
};

/**
 * `times --records FILE [--endpoint ID] [--json]`: how soon phones are answered after they begin to ring, by Kaplan and
 * Meier, with 95 % intervals.
 */
export async function times(args: string[]): Promise<number> {
  const given = options(args, { records: string, endpoint: string, json: flag });
  if (!given.ok) return fail(given.message);
  const { records: file, endpoint } = given.value as Record<string, string | undefined>;
  if (file === undefined) return fail('--records FILE is needed');
  const records = recordsIn(file);
  if (!records.ok) return fail(records.message);
  const found = answerTimes(records.value, endpoint);
  return print(given.value.json, found, () =>
    [
      `${found.answered} of ${found.n} that rang were answered`,
      ...found.curve.map(
        ({ atMs, atRisk, share, low, high }) =>
          `  ${(atMs / 1000).toFixed(1).padStart(6)} s  ${percent(share).padStart(7)}  (${percent(low)} to ${percent(high)}; ${atRisk} still rang)`,
      ),
    ].join('\n'),
  );
}

/** `replay --estate FILE [--after FILE] --records FILE [--json]`: calls that went, run again under one estate and another. */
export async function replay(args: string[]): Promise<number> {
  const given = options(args, { estate: string, after: string, records: string, json: flag });
  if (!given.ok) return fail(given.message);
  const { estate, after, records: file } = given.value as Record<string, string | undefined>;
  if (estate === undefined) return fail('--estate FILE is needed');
  if (file === undefined) return fail('--records FILE is needed');
  if ([estate, after, file].filter((each) => each === '-').length > 1)
    return fail('only one file can be standard input');
  const before = readEstateFile(estate);
  if (!before.ok) return fail(before.message);
  const other = after === undefined ? null : readEstateFile(after);
  if (other && !other.ok) return fail(other.message);
  const records = recordsIn(file);
  if (!records.ok) return fail(records.message);
  const ran = replayed(
    records.value,
    compileEstate(before.value),
    ...(other ? [compileEstate(other.value)] : []),
  );
  return print(given.value.json, ran, () =>
    ran
      .map(
        (each) =>
          `${each.id}: ${each.outcome.kind} at ${each.outcome.atMs} ms${each.after ? `, then ${each.after.kind} at ${each.after.atMs} ms` : ''}`,
      )
      .join('\n'),
  );
}

/** `cost --tariff FILE --records FILE [--estate FILE] [--json]`: what the legs of calls to numbers cost, exactly. */
export async function cost(args: string[]): Promise<number> {
  const given = options(args, { tariff: string, records: string, estate: string, json: flag });
  if (!given.ok) return fail(given.message);
  const { tariff: tariffFile, records: file, estate } = given.value as Record<string, string | undefined>;
  if (tariffFile === undefined) return fail('--tariff FILE is needed');
  if (file === undefined) return fail('--records FILE is needed');
  if ([tariffFile, file, estate].filter((each) => each === '-').length > 1)
    return fail('only one file can be standard input');
  const text = readText(tariffFile);
  if (!text.ok) return fail(text.message);
  const tariff = readTariff(text.value);
  if (!tariff.ok)
    return fail(
      tariff.faults
        .map(
          ({ line, column, message }) => `line ${line}${column > 0 ? `, column ${column}` : ''}: ${message}`,
        )
        .join('\n'),
    );
  const whose = estate === undefined ? null : readEstateFile(estate);
  if (whose && !whose.ok) return fail(whose.message);
  const records = recordsIn(file);
  if (!records.ok) return fail(records.message);
  const found = costOf(tariff.tariff, records.value, whose?.value.timeZone);
  const money = (hundredThousandths: number) =>
    `${found.currency} ${Math.floor(hundredThousandths / 100_000)}.${String(hundredThousandths % 100_000).padStart(5, '0')}`;
  return print(given.value.json, found, () =>
    [
      `${money(found.total)} in all`,
      ...found.byNumber.map(
        ({ number, name, legs, seconds, total }) =>
          `  ${number}${name ? ` ${name}` : ''}: ${money(total)} for ${legs} ${legs === 1 ? 'call' : 'calls'}, ${seconds} s charged`,
      ),
      ...found.unpriced.map((number) => `  ${number}: no line of the tariff`),
    ].join('\n'),
  );
}
