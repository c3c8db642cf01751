import {
  callFaults,
  compileEstate,
  runCall,
  strangersInWorld,
  type Call,
  type Trace,
} from '../core/calls/engine';
import { faultLine } from '../core/estate';
import { fail, failWith, options, readEstateFile, readJson } from './io';

const seconds = (ms: number) => `${(ms / 1000).toFixed(3).padStart(9)} s`;

const asText = ({ events, legs }: Trace): string =>
  [
    ...events.map((event) => `${seconds(event.atMs)}  ${event.text}`),
    ...legs.map(
      (leg) =>
        `leg ${leg.endpoint}: dialled ${leg.dialledMs}, ${leg.alertMs === null ? 'never rang' : `rang from ${leg.alertMs}`}, ${leg.end} at ${leg.endMs} ms`,
    ),
  ].join('\n');

/** `try --estate FILE --call FILE [--json]`: runs one call, or each of an array of calls, and prints the traces. */
export async function tryCalls(args: string[]): Promise<number> {
  const given = options(args, {
    estate: { type: 'string' },
    call: { type: 'string' },
    json: { type: 'boolean' },
  });
  if (!given.ok) return fail(given.message);
  const { estate: estateFile, call: callFile, json } = given.value;
  if (typeof estateFile !== 'string') return fail('--estate FILE is needed');
  if (typeof callFile !== 'string') return fail('--call FILE is needed');
  if (estateFile === '-' && callFile === '-')
    return fail('only one of --estate and --call can be standard input');
  const estate = readEstateFile(estateFile);
  if (!estate.ok) return fail(estate.message);
  const input = readJson(callFile);
  if (!input.ok) return fail(input.message);
  const many = Array.isArray(input.value);
  const calls = many ? (input.value as unknown[]) : [input.value];
  const place = (i: number) => (many ? `[${i}]` : '');
  const faults = calls.flatMap((call, i) => callFaults(call, place(i)));
  if (faults.length > 0) return failWith(faults);
  const index = compileEstate(estate.value);
  const checked = calls as Call[];
  for (const [i, call] of checked.entries())
    for (const stranger of strangersInWorld(index, call, place(i)))
      process.stderr.write(`note: ${faultLine(stranger)}\n`);
  const traces = checked.map((call) => runCall(index, call));
  process.stdout.write(
    json ? `${JSON.stringify(many ? traces : traces[0])}\n` : `${traces.map(asText).join('\n\n')}\n`,
  );
  return 0;
}
