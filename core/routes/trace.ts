import { isInside } from '../calls/time';
import { TooComplex } from './automaton';
import { matchesMap, readDigitMap, type DigitMap } from './digit-map';
import { rewritten } from './languages';
import { conditionsOfTable, type Conditions } from './prepare';
import type {
  Branch,
  CompiledTable,
  Passed,
  Peer,
  Route,
  RoutedCall,
  RouteEnd,
  RouteTable,
  RouteTrace,
} from './types';

const HOP_LIMIT = 10;
/** Forks of forks through peers that send back: more steps than this are a table gone wrong. */
const MOST_STEPS = 10_000;

/** Makes a table ready; maps that cannot be read match nothing (`tableFaults` tells of them). */
export function compileTable(table: RouteTable): CompiledTable {
  const maps = new Map<string, DigitMap>();
  for (const { when } of table.routes) {
    const read = when.dialled?.map === undefined ? null : readDigitMap(when.dialled.map);
    if (read?.ok) maps.set(read.map.text, read.map);
  }
  const lists = new Map<string, ReadonlySet<string>>();
  return {
    table,
    maps,
    isListed: (list, number) => {
      let known = lists.get(list);
      if (!known) {
        known = new Set(table.lists.find(({ id }) => id === list)?.numbers);
        lists.set(list, known);
      }
      return known.has(number);
    },
    peers: new Map<string, Peer>(table.peers.map((peer) => [peer.id, peer])),
    fitting: fittingRoutes(table),
  };
}

/** More kinds of calls than this are not kept; they are worked out again. */
const MOST_KEPT = 100_000;

/**
 * An index of the routes: which of them, from the top, fit a call in all but the hour. Calls that no condition tells
 * apart share what was worked out for the first of them, so the number of routes does not count.
 */
function fittingRoutes(table: RouteTable): CompiledTable['fitting'] {
  const { routes } = table;
  let conditions: Conditions | null | undefined;
  const kept = new Map<string, readonly number[]>();
  return (from, number, caller) => {
    try {
      conditions ??= conditionsOfTable(table);
      const text = conditions.dialled.read(number);
      const shown = caller === null ? null : conditions.callers.read(caller);
      if (text === null || (caller !== null && shown === null)) return null;
      const member = conditions.dialledLists.idOf(number);
      const who =
        caller === null || shown === null
          ? null
          : { text: shown, member: conditions.callerLists.idOf(caller) };
      const key = `${text} ${member} ${who ? `${who.text} ${who.member}` : ''} ${from}`;
      const known = kept.get(key);
      if (known) return known;
      const { callerFits, candidates } = conditions;
      const fitting = candidates(text, member).filter((at) => {
        const { enabled, when } = routes[at]!;
        return enabled && (!when.from || when.from.includes(from)) && callerFits(at, who);
      });
      if (kept.size >= MOST_KEPT) kept.clear();
      kept.set(key, fitting);
      return fitting;
    } catch (fault) {
      if (!(fault instanceof TooComplex)) throw fault;
      // The conditions tangle: every route is looked at.
      return null;
    }
  };
}

const digitsIn = (number: string) => number.replace(/^\+/, '').length;

/** Why a route does not act at this hour; null: it does. */
function untimely({ table }: CompiledTable, { when }: Route, atMs: number | undefined): string | null {
  if (when.schedule) {
    const schedule = table.schedules?.find(({ id }) => id === when.schedule?.id);
    if (!schedule || atMs === undefined) return `it is not known whether it is inside ${when.schedule.id}`;
    if (isInside(schedule, atMs) !== when.schedule.inside)
      return `it is ${when.schedule.inside ? 'outside' : 'inside'} ${schedule.name}`;
  }
  return null;
}

/** Which condition of a route fails; null where all hold. */
function failing(
  compiled: CompiledTable,
  route: Route,
  from: string,
  number: string,
  caller: string | null,
  atMs: number | undefined,
): string | null {
  const { maps, isListed, peers, table } = compiled;
  const { when, enabled } = route;
  if (!enabled) return 'it is switched off';
  if (when.from && !when.from.includes(from))
    return `it is not for calls from ${peers.get(from)?.name ?? from}`;
  const { prefixes, map, minDigits, maxDigits } = when.dialled ?? {};
  if (prefixes && !prefixes.some((prefix) => number.startsWith(prefix)))
    return `${number} begins with none of ${prefixes.join(', ')}`;
  const digits = digitsIn(number);
  if (minDigits !== undefined && digits < minDigits) return `${number} has fewer than ${minDigits} digits`;
  if (maxDigits !== undefined && digits > maxDigits) return `${number} has more than ${maxDigits} digits`;
  if (map !== undefined) {
    const known = maps.get(map);
    if (!known || !matchesMap(known, number)) return `${number} does not fit ${map}`;
  }
  if (when.caller && (caller === null || !when.caller.prefixes.some((prefix) => caller.startsWith(prefix))))
    return `the caller begins with none of ${when.caller.prefixes.join(', ')}`;
  if (when.list) {
    const who = when.list.of === 'dialled' ? number : caller;
    if (who === null || !isListed(when.list.id, who))
      return `the ${when.list.of === 'dialled' ? 'number' : 'caller'} is not on the list ${table.lists.find(({ id }) => id === when.list?.id)?.name ?? when.list.id}`;
  }
  return untimely(compiled, route, atMs);
}

const NOTHING = {};

/** A call on its way through a table. */
interface Journey {
  readonly compiled: CompiledTable;
  readonly call: RoutedCall;
  steps: number;
}
/** The call as it comes to a pass, and how far it got: enough to say why routes passed it on. */
interface Pass {
  readonly journey: Journey;
  readonly from: string;
  readonly number: string;
  readonly caller: string | null;
  readonly first: number;
  /** The route that acted, or the end of the table. */
  acted: number;
  /** Routes that could not act although their conditions hold. */
  held: Map<number, string> | null;
}

function explained({
  journey: { compiled, call },
  from,
  number,
  caller,
  first,
  acted,
  held,
}: Pass): Passed[] {
  return compiled.table.routes.slice(first, acted).map((route, i) => ({
    route: route.id,
    because:
      held?.get(first + i) ??
      failing(compiled, route, from, number, caller, call.atMs) ??
      'its conditions do not hold',
  }));
}

/** A step with why routes passed the call on, which is put into words when somebody asks for it. */
function withPassed(step: Omit<RouteTrace, 'passed'>, pass: Pass | null): RouteTrace {
  let passed: readonly Passed[] | undefined;
  return {
    route: step.route,
    number: step.number,
    caller: step.caller,
    end: step.end,
    branches: step.branches,
    ...(step.delayMs === undefined ? NOTHING : { delayMs: step.delayMs }),
    get passed() {
      passed ??= pass ? explained(pass) : [];
      return passed;
    },
  };
}

function isFree({ call: { down, full } }: Journey, peer: string): boolean {
  return !down?.includes(peer) && !full?.includes(peer);
}

/** What a peer does with the call: it ends there, or comes back as a new pass with one hop less. */
function atPeer(
  journey: Journey,
  peer: string,
  number: string,
  caller: string | null,
  hops: number,
): Pick<RouteTrace, 'end' | 'branches'> {
  const back = journey.call.sendsBack?.[peer];
  if (!back) return { end: { kind: 'peer', peer }, branches: [] };
  return {
    end: null,
    branches: [goDown(journey, peer, rewritten(number, back.rewrite), caller, hops - 1, 0)],
  };
}

function goDown(
  journey: Journey,
  from: string,
  number: string,
  caller: string | null,
  hops: number,
  first: number,
): RouteTrace {
  const { compiled, call } = journey;
  const { routes } = compiled.table;
  journey.steps += 1;
  if (hops <= 0 || journey.steps > MOST_STEPS)
    return withPassed({ route: null, number, caller, end: { kind: 'loop', cause: 483 }, branches: [] }, null);
  const pass: Pass = { journey, from, number, caller, first, acted: first, held: null };
  const fitting = compiled.fitting(from, number, caller);
  for (let i = fitting ? 0 : first; i < (fitting ?? routes).length; i += 1) {
    const at = fitting ? fitting[i]! : i;
    if (at < first) continue;
    const route = routes[at]!;
    const because = fitting
      ? untimely(compiled, route, call.atMs)
      : failing(compiled, route, from, number, caller, call.atMs);
    if (because !== null) continue;
    pass.acted = at;
    const step = act(pass, route, hops, at);
    if (step) return withPassed(step, pass);
    pass.held ??= new Map();
    pass.held.set(at, 'every peer that it sends to is down or full');
  }
  pass.acted = routes.length;
  return withPassed(
    { route: null, number, caller, end: { kind: 'no-route', cause: 404 }, branches: [] },
    pass,
  );
}

/** What a route does whose conditions hold; null: no peer that it sends to takes the call. */
function act(
  { journey, from, number, caller }: Pass,
  { id, then }: Route,
  hops: number,
  at: number,
): Omit<RouteTrace, 'passed'> | null {
  if ('refuse' in then)
    return {
      route: id,
      number,
      caller,
      end: { kind: 'refused', cause: then.refuse.cause, why: 'the route refuses it' },
      branches: [],
    };
  if ('rewrite' in then) {
    const next = rewritten(number, then.rewrite.rewrite);
    const shown = caller === null ? null : rewritten(caller, then.rewrite.caller);
    return {
      route: id,
      number: next,
      caller: shown,
      end: null,
      branches: [goDown(journey, from, next, shown, hops, at + 1)],
    };
  }
  if ('fork' in then)
    return {
      route: id,
      number,
      caller,
      end: null,
      branches: then.fork.branches.map((branch) => ring(journey, id, branch, number, caller, hops)),
    };
  const { send } = then;
  const peer = isFree(journey, send.peer) ? send.peer : send.orElse?.find((each) => isFree(journey, each));
  if (peer === undefined) return null;
  const sent = rewritten(number, send.rewrite);
  const { end, branches } = atPeer(journey, peer, sent, caller, hops);
  return { route: id, number: sent, caller, end, branches };
}

/** One branch of a fork. */
function ring(
  journey: Journey,
  route: string,
  { peer, rewrite, delayMs }: Branch,
  number: string,
  caller: string | null,
  hops: number,
): RouteTrace {
  const sent = rewritten(number, rewrite);
  const { end, branches }: Pick<RouteTrace, 'end' | 'branches'> = isFree(journey, peer)
    ? atPeer(journey, peer, sent, caller, hops)
    : {
        end: {
          kind: 'refused',
          cause: 503,
          why: `${journey.compiled.peers.get(peer)?.name ?? peer} is down or full`,
        },
        branches: [],
      };
  return withPassed(
    { route, number: sent, caller, end, branches, ...(delayMs ? { delayMs } : NOTHING) },
    null,
  );
}

/**
 * Traces a call through a table: top to bottom, the first enabled route whose conditions hold acts.
 * @returns the tree of what was done, with the routes that did not act and why
 */
export function traceRoute(compiled: CompiledTable, call: RoutedCall): RouteTrace {
  const { hopLimit = HOP_LIMIT } = compiled.table;
  return goDown({ compiled, call, steps: 0 }, call.from, call.dialled, call.caller ?? null, hopLimit, 0);
}

/** Where a call ends: the ends of all branches, in their order. */
export const endsOf = (trace: RouteTrace): readonly RouteEnd[] =>
  trace.end ? [trace.end] : trace.branches.flatMap(endsOf);
