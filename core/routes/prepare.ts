import { scheduleClock } from '../calls/time';
import { ORDER, PLUS, symbolAt, WIDTH, type Automaton } from './automaton';
import { readDigitMap } from './digit-map';
import { imageOf, type Language } from './languages';
import { TextMachine, type TextCondition } from './machine';
import { Memberships, split } from './split';
import { noneIn, placeOf, setBit, type Bits, type Callers, type Space } from './space';
import type { Rewrite, Route, RouteTable } from './types';

const YEAR_MS = 371 * 86_400_000;
/** Combinations of schedules that nothing is known of are gone through up to this many. */
const MOST_UNKNOWN = 10;

/** One way in which all schedules can stand at once. */
export interface SchedulesStanding {
  /** A moment at which they stand so; null: it is not known when. */
  readonly atMs: number | null;
  readonly inside: ReadonlySet<string>;
}

/** What of a route's conditions concerns one text: which condition, and which list it must be on; -1: none. */
interface Asks {
  readonly condition: number;
  readonly list: number;
}

/** What the routes of a table can tell apart in the numbers dialled and the callers. */
export interface Conditions {
  readonly dialled: TextMachine;
  readonly dialledLists: Memberships;
  readonly callers: TextMachine;
  readonly callerLists: Memberships;
  /** The routes, from the top, that a class of numbers on some lists fits, as far as the number goes. */
  readonly candidates: (text: number, member: number) => readonly number[];
  /** Whether a class of callers on some lists fits a route; null: no caller is shown. */
  readonly callerFits: (route: number, caller: Pick<Callers, 'text' | 'member'> | null) => boolean;
}
/** A table with everything that its routes can tell apart worked out. */
export interface Prepared extends Conditions {
  readonly table: RouteTable;
  readonly standings: readonly SchedulesStanding[];
}

/** Different conditions once, each by its place. */
function conditionsOf(texts: readonly (TextCondition | null)[]): {
  readonly all: readonly TextCondition[];
  readonly of: readonly number[];
} {
  const all: TextCondition[] = [];
  const places = new Map<string, number>();
  const of = texts.map((text) => {
    if (text === null) return -1;
    const key = JSON.stringify([
      text.prefixes ? [...text.prefixes].sort() : null,
      text.map?.text,
      text.minDigits,
      text.maxDigits,
    ]);
    const known = places.get(key);
    if (known !== undefined) return known;
    places.set(key, all.length);
    all.push(text);
    return all.length - 1;
  });
  return { all, of };
}

function dialledOf({ when }: Route): TextCondition {
  const { prefixes, map, minDigits, maxDigits } = when.dialled ?? {};
  const read = map === undefined ? null : readDigitMap(map);
  // A map that cannot be read fits nothing, and so does a prefix that is none of an empty list.
  const never = read && !read.ok;
  return {
    ...(never ? { prefixes: [] } : prefixes ? { prefixes } : {}),
    ...(read?.ok ? { map: read.map } : {}),
    ...(minDigits === undefined ? {} : { minDigits }),
    ...(maxDigits === undefined ? {} : { maxDigits }),
  };
}

/** The rewritings of numbers that a route can do. */
export const rewritesOf = ({ then }: Route): readonly (Rewrite | undefined)[] =>
  'send' in then
    ? [then.send.rewrite]
    : 'fork' in then
      ? then.fork.branches.map(({ rewrite }) => rewrite)
      : 'rewrite' in then
        ? [then.rewrite.rewrite]
        : [];

/**
 * Works out all that the routes of a table can tell apart.
 * @param fromMs from when on the schedules are looked at, for 53 weeks; ms since 1970
 */
export const prepare = (table: RouteTable, fromMs: number): Prepared => ({
  ...conditionsOfTable(table),
  table,
  standings: standingsOf(table, fromMs),
});

/** Works out what the routes of a table can tell apart in numbers and callers. */
export function conditionsOfTable(table: RouteTable): Conditions {
  const { routes } = table;
  const listAt = new Map(table.lists.map(({ id }, at) => [id, at]));
  const asked = (of: 'dialled' | 'caller') =>
    routes.map(({ when }) => (when.list?.of === of ? (listAt.get(when.list.id) ?? -2) : -1));
  const numbersOf = (asks: readonly number[]) => {
    const used = new Set(asks);
    return table.lists.map(({ numbers }, at) => (used.has(at) ? numbers : []));
  };
  const dialledList = asked('dialled');
  const callerList = asked('caller');
  const drops = routes.flatMap((route) => rewritesOf(route).map((rewrite) => rewrite?.drop ?? 0));
  const dialledConditions = conditionsOf(routes.map(dialledOf));
  const callerConditions = conditionsOf(
    routes.map(({ when }) => (when.caller ? { prefixes: when.caller.prefixes } : null)),
  );
  const dialled = new TextMachine(dialledConditions.all, Math.max(0, ...drops) + 1);
  const callers = new TextMachine(callerConditions.all);
  const dialledLists = new Memberships(numbersOf(dialledList));
  const callerLists = new Memberships(numbersOf(callerList));

  const byCondition = dialledConditions.all.map(() => ({
    any: [] as number[],
    byList: new Map<number, number[]>(),
  }));
  routes.forEach((_, route) => {
    const { any, byList } = byCondition[dialledConditions.of[route]!]!;
    const list = dialledList[route]!;
    if (list === -1) any.push(route);
    else byList.set(list, [...(byList.get(list) ?? []), route]);
  });
  const found = new Map<number, readonly number[]>();
  const candidates = (text: number, member: number): readonly number[] => {
    const key = text * 2_097_152 + member;
    const known = found.get(key);
    if (known) return known;
    const all: number[] = [];
    for (const condition of dialled.classes[text]!.holds) {
      const { any, byList } = byCondition[condition]!;
      for (const route of any) all.push(route);
      if (byList.size > 0)
        for (const list of dialledLists.lists[member]!)
          for (const route of byList.get(list) ?? []) all.push(route);
    }
    all.sort((a, b) => a - b);
    found.set(key, all);
    return all;
  };

  const asksOf: readonly Asks[] = routes.map((_, route) => ({
    condition: callerConditions.of[route]!,
    list: callerList[route]!,
  }));
  const callerFits: Prepared['callerFits'] = (route, caller) => {
    const { condition, list } = asksOf[route]!;
    if (condition === -1 && list === -1) return true;
    if (!caller) return false;
    return (
      (condition === -1 || callers.classes[caller.text]!.holds.includes(condition)) &&
      (list === -1 || callerLists.lists[caller.member]!.includes(list))
    );
  };
  return { dialled, dialledLists, callers, callerLists, candidates, callerFits };
}

/** The ways in which the schedules that routes ask for can stand together. */
function standingsOf({ routes, schedules = [] }: RouteTable, fromMs: number): readonly SchedulesStanding[] {
  const asked = [...new Set(routes.flatMap(({ when }) => (when.schedule ? [when.schedule.id] : [])))];
  const known = schedules.filter(({ id }) => asked.includes(id));
  const clocks = known.map((schedule) => ({ id: schedule.id, ...scheduleClock(schedule) }));
  const moments = new Set([fromMs]);
  for (const { nextChange } of clocks)
    for (let at = nextChange(fromMs); at < fromMs + YEAR_MS; at = nextChange(at)) moments.add(at);
  const standings = new Map<string, SchedulesStanding>();
  for (const atMs of [...moments].sort((a, b) => a - b)) {
    const inside = clocks.filter((clock) => clock.inside(atMs)).map(({ id }) => id);
    const key = inside.join(' ');
    if (!standings.has(key)) standings.set(key, { atMs, inside: new Set(inside) });
  }
  let all = [...standings.values()];
  for (const id of asked
    .filter((each) => !known.some((schedule) => schedule.id === each))
    .slice(0, MOST_UNKNOWN))
    all = all.flatMap((standing) => [standing, { atMs: null, inside: new Set([...standing.inside, id]) }]);
  return all;
}

/** All strings that can be dialled: digits with or without a leading `+`, and the other keys that the table speaks of. */
export function everyNumber({ table }: Pick<Prepared, 'table'>): Language {
  const spoken = new Set<number>();
  for (const { when } of table.routes) {
    for (const prefix of when.dialled?.prefixes ?? [])
      for (let at = 0; at < prefix.length; at += 1) spoken.add(symbolAt(prefix, at));
    const read = when.dialled?.map === undefined ? null : readDigitMap(when.dialled.map);
    if (read?.ok)
      for (const { symbols } of read.map.alternatives.flat())
        for (let symbol = 10; symbol < WIDTH; symbol += 1)
          if ((symbols & (1 << symbol)) !== 0) spoken.add(symbol);
  }
  const next = new Int32Array(3 * WIDTH).fill(-1);
  for (const symbol of ORDER) {
    if (symbol === PLUS) next[symbol] = 1;
    else if (symbol < 10 || spoken.has(symbol)) for (const from of [0, 1, 2]) next[from * WIDTH + symbol] = 2;
  }
  const automaton: Automaton = { start: 0, size: 3, next };
  return { regular: { automaton, states: [2], except: new Set() } };
}

/** The numbers that fit a digit map. */
export function numbersThatFit(map: string): Language | null {
  const read = readDigitMap(map);
  if (!read.ok) return null;
  const machine = new TextMachine([{ map: read.map }]);
  const all = everyNumber({
    table: {
      peers: [],
      lists: [],
      routes: [
        { id: '', name: '', enabled: true, when: { dialled: { map } }, then: { refuse: { cause: 404 } } },
      ],
    },
  });
  const fitting = split(all, machine, new Memberships([])).filter(
    ({ text, language }) => language.regular && machine.classes[text]!.holds.length > 0,
  );
  const [first] = fitting;
  if (!first?.language.regular) return null;
  return {
    regular: {
      automaton: first.language.regular.automaton,
      states: fitting.flatMap(({ language }) => [...(language.regular?.states ?? [])]),
      except: new Set(),
    },
  };
}

/** Makes the space of a set of callers: what of it each route fits. */
function spaceOf(prepared: Prepared, callers: readonly Callers[]): Space {
  const { table, standings, callerFits } = prepared;
  const peers = Math.max(1, table.peers.length);
  const shape = { peers, callers, times: standings.length };
  const masks = table.routes.map(({ enabled, when }, route): Bits => {
    const bits = noneIn(shape);
    if (!enabled) return bits;
    const fits = callers.map((caller) => callerFits(route, caller.language ? caller : null));
    const stands = standings.map(
      ({ inside }) => !when.schedule || inside.has(when.schedule.id) === when.schedule.inside,
    );
    for (let peer = 0; peer < peers; peer += 1) {
      if (when.from && !when.from.includes(table.peers[peer]?.id ?? '')) continue;
      for (let caller = 0; caller < callers.length; caller += 1)
        if (fits[caller] === true)
          for (let time = 0; time < stands.length; time += 1)
            if (stands[time] === true) setBit(bits, placeOf(shape, peer, caller, time));
    }
    return bits;
  });
  return { ...shape, masks };
}

const NO_CALLER: Callers = { text: -1, member: 0, language: null, first: null };

/** The space of all callers. */
export function wholeSpace(prepared: Prepared): Space {
  const asks = prepared.table.routes.some(
    ({ when }) => when.caller !== undefined || when.list?.of === 'caller',
  );
  const atoms = asks
    ? split(everyNumber({ table: { ...prepared.table, routes: [] } }), prepared.callers, prepared.callerLists)
    : [];
  return spaceOf(prepared, [NO_CALLER, ...atoms]);
}

/** The space of callers after a rewriting: each part of what the callers of a space become, parted anew. */
export function rewrittenSpace(prepared: Prepared, space: Space, rewrite: Rewrite): Space {
  const callers = space.callers.flatMap((caller, before): Callers[] =>
    caller.language === null
      ? [{ ...NO_CALLER, before }]
      : imageOf([{ language: caller.language, rewrite }])
          .flatMap((language) => split(language, prepared.callers, prepared.callerLists))
          .map((atom) => ({ ...atom, before })),
  );
  return spaceOf(prepared, callers);
}
