import { compileTable, readTable, traceRoute, type RoutedCall, type RouteTrace } from '../core/routing';
import { faultsOf, parts } from '../core/estate';
import { instantOf } from '../core/time';
import { fail, failWith, options, readJson } from './io';

const { closed, list, requiredId, requiredText, text, maybe, instant } = parts;
const callSchema = closed({
  from: requiredId(),
  dialled: requiredText(40).matches(
    /^\+?[0-9*#A-D]+$/,
    'must be digits, *, #, A to D, with or without a leading +',
  ),
  caller: text(40),
  at: instant(),
  down: list(requiredId()),
  full: list(requiredId()),
  sendsBack: maybe(parts.anything()),
});

function say(trace: RouteTrace, depth = 0): string[] {
  const pad = '  '.repeat(depth);
  const end = trace.end
    ? trace.end.kind === 'peer'
      ? ` -> ${trace.end.peer}`
      : ` -> ${trace.end.kind} (${trace.end.cause})`
    : '';
  return [
    ...trace.passed.map(({ route, because }) => `${pad}passed ${route}: ${because}`),
    `${pad}${trace.route ?? 'no route'}: ${trace.number}${end}`,
    ...trace.branches.flatMap((branch) => say(branch, depth + 1)),
  ];
}

/**
 * `route --table FILE --call FILE [--json]`: the way of a call through a route table, with why each route passed it on.
 */
export async function route(args: string[]): Promise<number> {
  const string = { type: 'string' } as const;
  const given = options(args, { table: string, call: string, json: { type: 'boolean' } });
  if (!given.ok) return fail(given.message);
  const { table: file, call: callFile } = given.value as Record<string, string | undefined>;
  if (file === undefined) return fail('--table FILE is needed');
  if (callFile === undefined) return fail('--call FILE is needed');
  if (file === '-' && callFile === '-') return fail('only one of --table and --call can be standard input');
  const json = readJson(file);
  if (!json.ok) return fail(json.message);
  const read = readTable(json.value);
  if (!read.ok) return failWith(read.faults);
  const callJson = readJson(callFile);
  if (!callJson.ok) return fail(callJson.message);
  const faults = faultsOf(callSchema, callJson.value);
  if (faults.length > 0) return failWith(faults);
  const { at, ...call } = callJson.value as Omit<RoutedCall, 'atMs'> & { at?: string };
  const atMs = at === undefined ? null : instantOf(at);
  const trace = traceRoute(compileTable(read.table), { ...call, ...(atMs === null ? {} : { atMs }) });
  process.stdout.write(
    given.value.json === true ? `${JSON.stringify(trace)}\n` : `${say(trace).join('\n')}\n`,
  );
  return 0;
}
