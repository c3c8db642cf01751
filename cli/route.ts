import {
  analyseAndTry,
  compileTable,
  readTable,
  readTableForAnalysis,
  traceRoute,
  type Analysis,
  type RoutedCall,
  type RouteTrace,
} from '../core/routes';
import { faultsOf, parts } from '../core/estate';
import { instantOf } from '../core/calls/time';
import { fail, failWith, options, readJson } from './io';

const { closed, list, requiredId, requiredText, text, maybe, instant } = parts;
const circumstances = {
  caller: text(40),
  at: instant(),
  down: list(requiredId()),
  full: list(requiredId()),
  sendsBack: maybe(parts.anything()),
};
const dialled = () =>
  requiredText(40).matches(/^\+?[0-9*#A-D]+$/, 'must be digits, *, #, A to D, with or without a leading +');
const callSchema = closed({ from: requiredId(), dialled: dialled(), ...circumstances });
/** Of a call that goes with an analysis only how peers send calls back, and from when, counts. */
const analysisSchema = closed({ from: text(40), dialled: text(40), ...circumstances });

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

const sayFindings = ({ findings, complete }: Analysis): string =>
  [
    ...findings.map(
      ({ kind, weight, route, says }) => `${weight} ${kind}${route ? ` ${route}` : ''}: ${says}`,
    ),
    ...(findings.length === 0 ? ['nothing found'] : []),
    ...(complete
      ? []
      : ['not complete: the conditions of the routes tangle too much to go through all of them']),
  ].join('\n');

type Call = Omit<RoutedCall, 'atMs'> & { at?: string };
const withInstant = ({ at, ...call }: Call): RoutedCall => {
  const atMs = at === undefined ? null : instantOf(at);
  return { ...call, ...(atMs === null ? {} : { atMs }) };
};

/**
 * `route --table FILE --call FILE [--json]`: the way of a call, or of each of an array of calls, through a route
 * table, with why each route passed it on. `route --table FILE --analyse [--call FILE] [--json]`: what is wrong in the
 * table; the call then says which peers send calls back, and from when on schedules are looked at.
 */
export async function route(args: string[]): Promise<number> {
  const string = { type: 'string' } as const;
  const flag = { type: 'boolean' } as const;
  const given = options(args, { table: string, call: string, analyse: flag, json: flag });
  if (!given.ok) return fail(given.message);
  const { table: file, call: callFile } = given.value as Record<string, string | undefined>;
  const analyse = given.value.analyse === true;
  const print = (value: unknown, words: () => string) =>
    process.stdout.write(given.value.json === true ? `${JSON.stringify(value)}\n` : `${words()}\n`);
  if (file === undefined) return fail('--table FILE is needed');
  if (callFile === undefined && !analyse) return fail('--call FILE or --analyse is needed');
  if (file === '-' && callFile === '-') return fail('only one of --table and --call can be standard input');
  const json = readJson(file);
  if (!json.ok) return fail(json.message);
  const read = (analyse ? readTableForAnalysis : readTable)(json.value);
  if (!read.ok) return failWith(read.faults);
  const callJson = callFile === undefined ? { ok: true as const, value: {} } : readJson(callFile);
  if (!callJson.ok) return fail(callJson.message);
  const calls: readonly unknown[] = Array.isArray(callJson.value) ? callJson.value : [callJson.value];
  const faults = calls.flatMap((call, at) =>
    faultsOf(analyse ? analysisSchema : callSchema, call).map((fault) =>
      Array.isArray(callJson.value)
        ? { ...fault, path: `[${at}]${fault.path ? `.${fault.path}` : ''}` }
        : fault,
    ),
  );
  if (faults.length > 0) return failWith(faults);
  const asked = calls.map((call) => withInstant(call as Call));
  if (analyse) {
    const [{ atMs, sendsBack }] = [asked[0] ?? { from: '', dialled: '' }] as [Partial<RoutedCall>];
    const analysis = analyseAndTry(read.table, {
      fromMs: atMs ?? Date.now(),
      ...(sendsBack ? { sendsBack } : {}),
    });
    print(analysis, () => sayFindings(analysis));
    return 0;
  }
  const compiled = compileTable(read.table);
  const traces = asked.map((call) => traceRoute(compiled, call));
  print(Array.isArray(callJson.value) ? traces : traces[0], () =>
    traces.map((trace) => say(trace).join('\n')).join('\n\n'),
  );
  return 0;
}
