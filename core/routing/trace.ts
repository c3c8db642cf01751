import { isInside } from '../time';
import { matchesMap, readDigitMap, type DigitMap } from './digit-map';
import type {
  CompiledTable,
  Passed,
  Rewrite,
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
  return {
    table,
    maps,
    lists: new Map(table.lists.map(({ id, numbers }) => [id, new Set(numbers)])),
  };
}

/** A number with leading characters taken off and others put before. */
export const rewritten = (number: string, rewrite: Rewrite | undefined): string =>
  rewrite ? rewrite.prepend + number.slice(rewrite.drop) : number;

const digitsIn = (number: string) => number.replace(/^\+/, '').length;

/** Which condition of a route fails; null where all hold. */
function failing(
  { maps, lists, table }: CompiledTable,
  { when, enabled }: Route,
  from: string,
  number: string,
  caller: string | null,
  atMs: number | undefined,
): string | null {
  if (!enabled) return 'it is switched off';
  if (when.from && !when.from.includes(from)) return `it is not for calls from ${from}`;
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
    if (who === null || !lists.get(when.list.id)?.has(who))
      return `the ${when.list.of === 'dialled' ? 'number' : 'caller'} is not on the list ${when.list.id}`;
  }
  if (when.schedule) {
    const schedule = table.schedules?.find(({ id }) => id === when.schedule?.id);
    if (!schedule || atMs === undefined) return `it is not known whether it is inside ${when.schedule.id}`;
    if (isInside(schedule, atMs) !== when.schedule.inside)
      return `it is ${when.schedule.inside ? 'outside' : 'inside'} ${schedule.name}`;
  }
  return null;
}

/**
 * Traces a call through a table: top to bottom, the first enabled route whose conditions hold acts.
 * @returns the tree of what was done, with the routes that did not act and why
 */
export function traceRoute(compiled: CompiledTable, call: RoutedCall): RouteTrace {
  const { routes, hopLimit = HOP_LIMIT } = compiled.table;
  const isFree = (peer: string) => !call.down?.includes(peer) && !call.full?.includes(peer);
  let steps = 0;

  /** What a peer does with the call: it ends there, or comes back as a new pass with one hop less. */
  const atPeer = (
    peer: string,
    number: string,
    caller: string | null,
    hops: number,
  ): Pick<RouteTrace, 'end' | 'branches'> => {
    const back = call.sendsBack?.[peer];
    if (!back) return { end: { kind: 'peer', peer }, branches: [] };
    return { end: null, branches: [pass(peer, rewritten(number, back.rewrite), caller, hops - 1, 0)] };
  };

  const ended = (
    route: string | null,
    number: string,
    caller: string | null,
    end: RouteEnd,
    passed: Passed[],
  ) => ({
    route,
    number,
    caller,
    end,
    branches: [],
    passed,
  });

  const pass = (
    from: string,
    number: string,
    caller: string | null,
    hops: number,
    first: number,
  ): RouteTrace => {
    const passed: Passed[] = [];
    steps += 1;
    if (hops <= 0 || steps > MOST_STEPS)
      return ended(null, number, caller, { kind: 'loop', cause: 483 }, passed);
    for (let at = first; at < routes.length; at += 1) {
      const route = routes[at]!;
      const because = failing(compiled, route, from, number, caller, call.atMs);
      if (because !== null) {
        passed.push({ route: route.id, because });
        continue;
      }
      const { then } = route;
      if ('refuse' in then)
        return ended(
          route.id,
          number,
          caller,
          { kind: 'refused', cause: then.refuse.cause, why: 'the route refuses it' },
          passed,
        );
      if ('rewrite' in then) {
        const next = rewritten(number, then.rewrite.rewrite);
        const shown = caller === null ? null : rewritten(caller, then.rewrite.caller);
        return {
          route: route.id,
          number: next,
          caller: shown,
          end: null,
          branches: [pass(from, next, shown, hops, at + 1)],
          passed,
        };
      }
      if ('fork' in then) {
        const branches = then.fork.branches.map((branch): RouteTrace => {
          const sent = rewritten(number, branch.rewrite);
          const does: Pick<RouteTrace, 'end' | 'branches'> = isFree(branch.peer)
            ? atPeer(branch.peer, sent, caller, hops)
            : { end: { kind: 'refused', cause: 503, why: `${branch.peer} is down or full` }, branches: [] };
          return {
            route: route.id,
            number: sent,
            caller,
            ...does,
            passed: [],
            ...(branch.delayMs ? { delayMs: branch.delayMs } : {}),
          };
        });
        return { route: route.id, number, caller, end: null, branches, passed };
      }
      const peer = [then.send.peer, ...(then.send.orElse ?? [])].find(isFree);
      if (peer === undefined) {
        passed.push({ route: route.id, because: 'every peer that it sends to is down or full' });
        continue;
      }
      const sent = rewritten(number, then.send.rewrite);
      return { route: route.id, number: sent, caller, ...atPeer(peer, sent, caller, hops), passed };
    }
    return ended(null, number, caller, { kind: 'no-route', cause: 404 }, passed);
  };
  return pass(call.from, call.dialled, call.caller ?? null, hopLimit, 0);
}

/** Where a call ends: the ends of all branches, in their order. */
export const endsOf = (trace: RouteTrace): readonly RouteEnd[] =>
  trace.end ? [trace.end] : trace.branches.flatMap(endsOf);
