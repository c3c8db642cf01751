import { andList } from '../estate';
import { showNumber } from '../calls/dialling';
import { TooComplex } from './automaton';
import { Descent } from './descent';
import { sayCause } from './describe';
import type { ExampleCall } from './findings';
import { prepare } from './prepare';
import { callOf } from './shown';
import { eachOf, type Bits } from './space';
import type { RouteMet, Stream } from './sweep';
import { compileTable, traceRoute } from './trace';
import type { CompiledTable, Route, RouteTable, RouteTrace } from './types';

/** Where a call comes to in the end, with all branches of a fork; the numbers as they are sent. */
export interface TableEnd {
  readonly kind: 'peer' | 'refused' | 'no-route' | 'loop';
  readonly peer?: string;
  readonly cause?: number;
  readonly number: string;
  readonly delayMs: number;
}

/** Calls that a change of the table sends elsewhere, all in the same way. */
export interface TableChange {
  /** The peers that they come from. */
  readonly from: readonly string[];
  /** Worst first: calls that no longer get anywhere, other ways, other forms of the number, calls that get somewhere now. */
  readonly weight: 'lost' | 'other' | 'form' | 'better';
  /** How many numbers of lists are concerned, where it is those alone; null: others too, and they are not counted. */
  readonly numbers: number | null;
  /** The smallest call that shows it, and its way before and after. */
  readonly call: ExampleCall;
  readonly was: RouteTrace;
  readonly is: RouteTrace;
}
export interface TableImpact {
  readonly changes: readonly TableChange[];
  /** How many different calls were traced in both tables. */
  readonly tried: number;
  /** False where the conditions tangle, or there are more different calls than are gone through. */
  readonly complete: boolean;
}

const MOST_CALLS = 60_000;
const WEIGHTS: readonly TableChange['weight'][] = ['lost', 'other', 'form', 'better'];

/** All ends of a call with what is sent there. */
export function arrivalsOf(trace: RouteTrace, delayMs = 0): readonly TableEnd[] {
  const later = delayMs + (trace.delayMs ?? 0);
  const { end, number } = trace;
  if (!end) return trace.branches.flatMap((branch) => arrivalsOf(branch, later));
  return [
    {
      kind: end.kind,
      ...(end.kind === 'peer' ? { peer: end.peer } : {}),
      ...('cause' in end ? { cause: end.cause } : {}),
      number,
      delayMs: later,
    },
  ];
}

/** Two tables in one: what the routes of either can tell apart, the joint one can. */
function joined(first: RouteTable, second: RouteTable): RouteTable {
  const peers = new Map([...second.peers, ...first.peers].map((peer) => [peer.id, peer]));
  const renamed = (side: string, { routes }: RouteTable): Route[] =>
    routes.map(({ when: { list, schedule, ...when }, ...route }) => ({
      ...route,
      id: `${side} ${route.id}`,
      when: {
        ...when,
        ...(list ? { list: { ...list, id: `${side} ${list.id}` } } : {}),
        ...(schedule ? { schedule: { ...schedule, id: `${side} ${schedule.id}` } } : {}),
      },
    }));
  const named = <T extends { readonly id: string }>(side: string, things: readonly T[]): T[] =>
    things.map((each) => ({ ...each, id: `${side} ${each.id}` }));
  return {
    ...first,
    peers: [...peers.values()],
    lists: [...named('1', first.lists), ...named('2', second.lists)],
    schedules: [...named('1', first.schedules ?? []), ...named('2', second.schedules ?? [])],
    routes: [...renamed('1', first), ...renamed('2', second)],
  };
}

/** A call that stands for all that neither table tells apart from it; how many numbers, if they can be counted. */
interface Witness {
  readonly call: ExampleCall;
  readonly atom: string;
  readonly numbers: number | null;
}

/**
 * Calls such that every call that the tables can tell apart is stood for by one: exact but for what two rewritings, one
 * in each table, tell apart only together.
 * @returns null where there are too many or the conditions tangle
 */
function witnesses(tables: readonly RouteTable[], fromMs: number): readonly Witness[] | null {
  const all = new Map<string, Witness>();
  try {
    for (const [at, table] of tables.entries()) {
      const prepared = prepare(table, fromMs);
      const see = (stream: Stream, { first, language, text, member }: RouteMet['atom'], places: Bits) => {
        const isRaw = stream.sources.length === 0;
        // Both ways of joining part what is dialled alike.
        if ((isRaw && at > 0) || prepared.dialled.classes[text]!.odd) return;
        for (const place of eachOf(places)) {
          const { call } = callOf(prepared, { stream, number: first, place });
          const key = JSON.stringify(call);
          if (!isRaw && all.has(key)) continue;
          all.set(key, {
            call,
            atom: isRaw ? `${text} ${member}` : '',
            numbers: isRaw ? (language.words?.length ?? null) : 0,
          });
          if (all.size > MOST_CALLS) throw new TooComplex();
        }
      };
      const descent = new Descent(prepared);
      descent.descend(
        [descent.everything()],
        ({ stream, atom, acts }) => see(stream, atom, acts),
        null,
        (stream, atom, bits) => see(stream, atom, bits),
      );
    }
  } catch (fault) {
    if (!(fault instanceof TooComplex)) throw fault;
    return null;
  }
  return [...all.values()];
}

function weigh(was: readonly TableEnd[], is: readonly TableEnd[]): TableChange['weight'] {
  const arrives = (all: readonly TableEnd[]) => all.some(({ kind }) => kind === 'peer');
  if (arrives(was) !== arrives(is)) return arrives(was) ? 'lost' : 'better';
  const ways = (all: readonly TableEnd[]) =>
    JSON.stringify(all.map(({ kind, peer, cause, delayMs }) => [kind, peer, cause, delayMs]));
  return ways(was) === ways(is) ? 'form' : 'other';
}

/** How a way ends, apart from the digits: calls with the same are gathered. */
const sayKey = (all: readonly TableEnd[], exact: boolean): string =>
  JSON.stringify(
    all.map(({ kind, peer, cause, delayMs, number }) => [
      kind,
      peer,
      cause,
      delayMs,
      exact ? number.startsWith('+') : 0,
    ]),
  );

/**
 * What a change of a route table and its lists does to calls: every call that one of the tables tells apart from
 * others is traced in both, from every peer, at every way in which the schedules stand.
 * @param fromMs from when on schedules are looked at, for 53 weeks; ms since 1970
 */
export function tableImpact(before: RouteTable, after: RouteTable, fromMs: number): TableImpact {
  const found = witnesses([joined(before, after), joined(after, before)], fromMs);
  if (!found) return { changes: [], tried: 0, complete: false };
  const [was, is]: readonly CompiledTable[] = [compileTable(before), compileTable(after)];
  const groups = new Map<string, TableChange & { readonly atoms: Map<string, number | null> }>();
  for (const { call, atom, numbers } of found) {
    const at = call.atMs ?? fromMs;
    const [first, second] = [traceRoute(was!, { ...call, atMs: at }), traceRoute(is!, { ...call, atMs: at })];
    const ends = [arrivalsOf(first), arrivalsOf(second)] as const;
    if (JSON.stringify(ends[0]) === JSON.stringify(ends[1])) continue;
    const weight = weigh(...ends);
    const key = `${sayKey(ends[0], weight === 'form')} ${sayKey(ends[1], weight === 'form')}`;
    const known = groups.get(key);
    const atoms = known?.atoms ?? new Map<string, number | null>();
    atoms.set(atom, numbers);
    const from = known?.from.includes(call.from) === true ? known.from : [...(known?.from ?? []), call.from];
    const isShown = !known || isSmaller(call, known.call);
    groups.set(key, {
      ...(isShown ? { call, was: first, is: second } : known),
      from,
      weight,
      numbers: null,
      atoms,
    });
  }
  const changes = [...groups.values()].map(({ atoms, ...change }): TableChange => {
    const counts = [...atoms.values()];
    return {
      ...change,
      numbers: counts.some((count) => count === null)
        ? null
        : counts.reduce<number>((sum, count) => sum + (count ?? 0), 0) || null,
    };
  });
  return {
    changes: changes.sort(
      (a, b) =>
        WEIGHTS.indexOf(a.weight) - WEIGHTS.indexOf(b.weight) ||
        (b.numbers ?? Infinity) - (a.numbers ?? Infinity) ||
        0,
    ),
    tried: found.length,
    complete: true,
  };
}

/** A call that shows something better: dialled with fewer digits, and without a caller that does not count. */
const isSmaller = (a: ExampleCall, b: ExampleCall): boolean =>
  a.dialled.length - b.dialled.length < 0 ||
  (a.dialled.length === b.dialled.length &&
    (a.dialled < b.dialled || (a.dialled === b.dialled && a.caller === undefined && b.caller !== undefined)));

const sayNumber = (number: string) => (number.startsWith('+') ? showNumber(number) : number);

/** Where calls go, as the end of a sentence: `to Cloud and Desk system`. */
function sayWays(all: readonly TableEnd[], peer: (id: string) => string): string {
  const reached = all.flatMap((each) => (each.peer === undefined ? [] : [peer(each.peer)]));
  if (reached.length > 0) return `to ${andList(reached)}`;
  const [first] = all;
  if (first?.kind === 'loop') return 'round and are lost';
  if (first?.kind === 'refused') return `nowhere: refused, ${sayCause(first.cause ?? 0)}`;
  return 'nowhere: no route takes them';
}

/**
 * A change in words, without the digits that lie in its drawing.
 * @param peer what a peer is called
 */
export function sayTableChange(change: TableChange, peer: (id: string) => string): string {
  const { from, weight, numbers, call } = change;
  const example = sayNumber(call.dialled);
  const whence = andList(from.map(peer));
  const who =
    numbers === 1
      ? `Calls from ${whence} to ${example}`
      : `Calls from ${whence} to ${numbers === null ? '' : `${numbers} listed `}numbers such as ${example}`;
  const [was, is] = [arrivalsOf(change.was), arrivalsOf(change.is)];
  if (weight === 'form')
    return `${who} still go ${sayWays(is, peer)}, but as ${andList(is.map(({ number }) => sayNumber(number)))}. Before, as ${was.map(({ number }) => sayNumber(number)).join(' and ')}.`;
  return `${who} now go ${sayWays(is, peer)}. Before, they went ${sayWays(was, peer)}.`;
}
