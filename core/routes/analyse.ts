import { TooComplex } from './automaton';
import { Descent } from './descent';
import type { Analysis, AnalyseOptions, ExampleCall, RouteFinding } from './findings';
import { listFindings } from './lists';
import { prepare, type Prepared } from './prepare';
import { referenceFindings } from './references';
import { roundFindings } from './round';
import { routeFindings } from './route-findings';
import { watchRoutes } from './seen';
import { callOf, exampleOf, keep, sendingsOf, type Shown } from './shown';
import { firstOf, isNone } from './space';
import type { RouteTable } from './types';

/** What the table does, rather than what it says: nothing where the conditions tangle too much. */
function callFindings(table: RouteTable, options: AnalyseOptions): RouteFinding[] | null {
  try {
    const prepared = prepare(table, options.fromMs);
    const descent = new Descent(prepared);
    const wayless = new Map<number, Shown>();
    const { all, look } = watchRoutes(prepared);
    descent.descend([descent.everything()], look, options.dialled ? null : wayless);
    for (const { from, map } of options.dialled ?? []) {
      const stream = descent.fitting(map, from);
      if (stream) descent.descend([stream], () => {}, wayless);
    }
    return [
      ...routeFindings(prepared, all, options.plan ?? null),
      ...waylessFindings(prepared, wayless, options.dialled !== undefined),
      ...roundFindings(descent, options.sendsBack),
    ];
  } catch (fault) {
    if (!(fault instanceof TooComplex)) throw fault;
    return null;
  }
}

/**
 * Analyses a whole table, exactly: the numbers that its routes can tell apart are sorted into sets by automata over
 * the symbols that can be dialled, and all sets are taken through the table from every peer, with every kind of
 * caller, at every way in which the schedules can stand.
 */
export function analyseTable(table: RouteTable, options: AnalyseOptions): Analysis {
  const found = callFindings(table, options);
  return {
    findings: [...referenceFindings(table), ...(found ?? []), ...listFindings(table)],
    complete: found !== null,
  };
}

function waylessFindings(
  prepared: Prepared,
  wayless: ReadonlyMap<number, Shown>,
  isKnown: boolean,
): RouteFinding[] {
  return [...wayless]
    .sort(([a], [b]) => a - b)
    .map(([peer, shown]): RouteFinding => {
      const example = exampleOf(prepared, shown);
      const { name = '' } = prepared.table.peers[peer] ?? {};
      return {
        kind: 'no-way-out',
        weight: isKnown ? 'fault' : 'note',
        ...(example.call && example.call.from !== '' ? { peer: example.call.from } : {}),
        ...example,
        says: `A call from ${name} to ${example.example} is taken by no route${example.met === undefined ? '' : ` once it is ${example.met}`}: the caller gets 404, not found.`,
      };
    });
}

/** A route by which numbers that are watched come to a system. */
export interface Reached {
  readonly route: string;
  readonly peer: string;
  readonly call: ExampleCall;
}

/** Numbers that are watched: a digit map, and the peer that such calls come from; left out: any. */
export interface Watched {
  readonly map: string;
  readonly from?: string;
}

/**
 * The routes that send some numbers on, exactly, each with the smallest that shows it.
 * @param groups numbers that are asked for together
 * @param fromMs from when on schedules are looked at, for 53 weeks; ms since 1970
 * @returns for each group its routes; null where the conditions of the routes tangle too much
 */
export function routesReached(
  table: RouteTable,
  groups: readonly (readonly Watched[])[],
  fromMs: number,
): readonly (readonly Reached[])[] | null {
  try {
    const descent = new Descent(prepare(table, fromMs));
    return groups.map((watched) => reached(descent, watched));
  } catch (fault) {
    if (!(fault instanceof TooComplex)) throw fault;
    return null;
  }
}

function reached(descent: Descent, watched: readonly Watched[]): Reached[] {
  const { prepared } = descent;
  const { routes } = prepared.table;
  const sendings = routes.map(sendingsOf);
  /** By route and peer. */
  const found = new Map<string, { readonly route: number; readonly peer: string }>();
  const shown = new Map<string, Shown>();
  for (const { map, from } of watched) {
    const stream = descent.fitting(map, from);
    if (!stream) continue;
    descent.descend(
      [stream],
      ({ stream: within, atom, route, acts }) => {
        if (isNone(acts)) return;
        for (const { peer } of sendings[route]!) {
          const key = `${route} ${peer}`;
          found.set(key, { route, peer });
          keep(shown, key, { stream: within, number: atom.first, place: firstOf(acts) });
        }
      },
      null,
    );
  }
  return [...found].map(([key, { route, peer }]) => ({
    route: routes[route]!.id,
    peer,
    call: callOf(prepared, shown.get(key)!).call,
  }));
}
