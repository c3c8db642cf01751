import fc from 'fast-check';
import { analyseTable } from './analyse';
import { compileTable, traceRoute } from './trace';
import { matchesMap, readDigitMap } from './digit-map';
import { rewritten } from './languages';
import type { Form, Route } from '../estate';
import type { RouteTable } from './types';
import { compareWords } from './automaton';

const FROM_MS = Date.parse('2026-11-25T08:00:00Z');

// Everything that small tables can tell apart, gone through one by one.
const PEERS = [
  { id: 'p', name: 'p', expects: 'dialled' as Form },
  { id: 'q', name: 'q', expects: 'e164' as Form },
];
const rewriteOf = fc.record({
  drop: fc.integer({ min: 0, max: 1 }),
  prepend: fc.constantFrom('', '+', '1', '+1'),
});
const listed = fc.uniqueArray(fc.constantFrom('+1', '+12', '+112', '+21', '1', '12', '2'), { maxLength: 4 });
const prefixesOf = fc.uniqueArray(fc.constantFrom('', '1', '12', '+', '+1', '2', '21'), {
  minLength: 1,
  maxLength: 2,
});
const MAPS = Object.fromEntries(
  ['x.', '1x', '[12]x.', '(12|2x)', '+x.', '1.2'].map((text) => {
    const read = readDigitMap(text);
    if (!read.ok) throw new Error(text);
    return [text, read.map];
  }),
);
const whenOf = fc.record(
  {
    from: fc.uniqueArray(fc.constantFrom('p', 'q'), { minLength: 1 }),
    dialled: fc.record(
      {
        prefixes: prefixesOf,
        map: fc.constantFrom(...Object.keys(MAPS)),
        minDigits: fc.integer({ min: 0, max: 3 }),
        maxDigits: fc.integer({ min: 0, max: 3 }),
      },
      { requiredKeys: [] },
    ),
    caller: fc.record({ prefixes: prefixesOf }),
    list: fc.record({
      id: fc.constantFrom('a', 'b'),
      of: fc.constantFrom('dialled' as const, 'caller' as const),
    }),
  },
  { requiredKeys: [] },
);
const thenOf: fc.Arbitrary<Route['then']> = fc.oneof(
  fc.record({ peer: fc.constantFrom('p', 'q'), rewrite: rewriteOf }).map((send) => ({ send })),
  fc.record({ rewrite: rewriteOf }, { requiredKeys: ['rewrite'] }).map((rewrite) => ({ rewrite })),
  fc.record({ rewrite: rewriteOf, caller: rewriteOf }).map((rewrite) => ({ rewrite })),
  fc
    .array(fc.record({ peer: fc.constantFrom('p', 'q'), rewrite: rewriteOf }), { minLength: 1, maxLength: 2 })
    .map((branches) => ({ fork: { branches } })),
  fc.constant({ refuse: { cause: 404 } }),
);
const tables: fc.Arbitrary<RouteTable> = fc
  .record({
    a: listed,
    b: listed,
    routes: fc.array(
      fc.record({ when: whenOf, then: thenOf, enabled: fc.constantFrom(true, true, true, false) }),
      {
        minLength: 1,
        maxLength: 6,
      },
    ),
  })
  .map(({ a, b, routes }) => ({
    peers: PEERS,
    lists: [
      { id: 'a', name: 'a', numbers: a },
      { id: 'b', name: 'b', numbers: b },
    ],
    routes: routes.map((each, at) => {
      const { then } = each;
      // One rewriting of callers in a table, so that callers of few digits tell all apart.
      const isFirst =
        routes.findIndex((route) => 'rewrite' in route.then && route.then.rewrite.caller) === at;
      const single =
        'rewrite' in then && then.rewrite.caller && !isFirst
          ? { rewrite: { rewrite: then.rewrite.rewrite } }
          : then;
      return { ...each, then: single, id: `r${at}`, name: `r${at}` };
    }),
  }));

const NUMBERS = (() => {
  let layer = [''];
  const all: string[] = [];
  for (let length = 1; length <= 6; length += 1) {
    layer = layer.flatMap((text) => ['0', '1', '2'].map((digit) => text + digit));
    all.push(...layer, ...layer.map((text) => `+${text}`));
  }
  return all.sort(compareWords);
})();
/** Enough to tell apart what routes ask of callers, before and after one rewriting that takes off a character. */
const CALLERS = (() => {
  const longer = (all: readonly string[]) =>
    all.flatMap((text) => ['0', '1', '2'].map((digit) => text + digit));
  const one = longer(['']);
  const two = longer(one);
  const three = longer(two);
  const all = [...one, ...two, ...three, ...three.map((text) => `0${text}`)];
  return [null, ...all, ...all.map((text) => `+${text}`)];
})();

interface ShownCall {
  readonly raw: boolean;
  readonly number: string;
}
const smaller = (a: ShownCall, b: ShownCall) =>
  a.raw === b.raw ? compareWords(a.number, b.number) < 0 : a.raw;

/** What every call of a kind shows, route by route. */
function byHand({ routes, lists, peers }: RouteTable) {
  const acts = new Set<string>();
  const takers = new Map<string, Map<string, ShownCall>>();
  const wrong = new Map<string, ShownCall>();
  const wayless = new Map<string, ShownCall>();
  const keep = (map: Map<string, ShownCall>, key: string, shown: ShownCall) => {
    const known = map.get(key);
    if (!known || smaller(shown, known)) map.set(key, shown);
  };
  const fits = ({ when, enabled }: Route, from: string, number: string, caller: string | null) => {
    const { prefixes, map, minDigits = 0, maxDigits = Infinity } = when.dialled ?? {};
    const digits = number.startsWith('+') ? number.length - 1 : number.length;
    const read = map === undefined ? null : MAPS[map]!;
    const onList = when.list && (when.list.of === 'dialled' ? number : caller);
    return (
      enabled &&
      (!when.from || when.from.includes(from)) &&
      (!prefixes || prefixes.some((prefix) => number.startsWith(prefix))) &&
      (!read || matchesMap(read, number)) &&
      digits >= minDigits &&
      digits <= maxDigits &&
      (!when.caller ||
        (caller !== null && when.caller.prefixes.some((prefix) => caller.startsWith(prefix)))) &&
      (!when.list ||
        (onList !== null && lists.find(({ id }) => id === when.list?.id)!.numbers.includes(onList ?? '')))
    );
  };
  const go = (from: string, number: string, caller: string | null, first: number, raw: boolean): void => {
    let taker: Route | null = null;
    const shown = { raw, number };
    for (let at = first; at < routes.length; at += 1) {
      const each = routes[at]!;
      if (!fits(each, from, number, caller)) continue;
      if (taker) {
        const known = takers.get(each.id) ?? new Map<string, ShownCall>();
        keep(known, taker.id, shown);
        takers.set(each.id, known);
        continue;
      }
      taker = each;
      acts.add(each.id);
      const sends =
        'send' in each.then ? [each.then.send] : 'fork' in each.then ? each.then.fork.branches : [];
      sends.forEach(({ peer, rewrite }, branch) => {
        const sent = rewritten(number, rewrite);
        const { expects } = peers.find(({ id }) => id === peer)!;
        const right = expects === 'e164' ? /^\+\d+$/ : /^\d+$/;
        if (/\d/.test(sent) && !right.test(sent) && !number.slice(1).includes('+'))
          keep(wrong, `${each.id} ${branch}`, shown);
      });
      if ('rewrite' in each.then)
        go(
          from,
          rewritten(number, each.then.rewrite.rewrite),
          caller === null ? null : rewritten(caller, each.then.rewrite.caller),
          at + 1,
          false,
        );
    }
    if (!taker && !number.slice(1).includes('+')) keep(wayless, from, shown);
  };
  const asks = routes.some(({ when }) => when.caller || when.list?.of === 'caller');
  // Callers and long numbers in all combinations would take minutes.
  for (const number of asks ? NUMBERS.filter(({ length }) => length < 6) : NUMBERS)
    for (const from of ['p', 'q'])
      for (const caller of asks ? CALLERS : [null]) go(from, number, caller, 0, true);
  return { acts, takers, wrong, wayless };
}

test('on small tables it finds what going through every call finds, and nothing else', () => {
  fc.assert(
    fc.property(tables, (given) => {
      const { findings, complete } = analyseTable(given, { fromMs: FROM_MS });
      const { acts, takers, wrong, wayless } = byHand(given);
      expect(complete).toBe(true);
      const never = findings.filter(({ kind }) => kind === 'never-fires').map(({ route: id }) => id);
      expect(never).toEqual(
        given.routes.filter(({ id, enabled }) => enabled && !acts.has(id)).map(({ id }) => id),
      );
      const covered = findings.filter(
        ({ kind, by }) => (kind === 'partly-covered' || kind === 'never-fires') && by?.length,
      );
      expect(covered.map(({ route: id, by }) => [id, new Set(by)])).toEqual(
        given.routes
          .filter(({ id }) => takers.has(id))
          .map(({ id }) => [id, new Set(takers.get(id)!.keys())]),
      );
      for (const { route: id, met, example } of covered) {
        const [first] = [...takers.get(id!)!.values()].sort((a, b) => (smaller(a, b) ? -1 : 1));
        expect([id, met ?? example]).toEqual([id, first?.number]);
      }
      const forms = findings.filter(({ kind }) => kind === 'wrong-form');
      expect(forms.map(({ route: id, met, example }) => [id, met ?? example])).toEqual(
        [...wrong]
          .sort(([a], [b]) => (a < b ? -1 : 1))
          .map(([key, { number }]) => [key.split(' ')[0], number]),
      );
      const ways = findings.filter(({ kind }) => kind === 'no-way-out');
      expect(ways.map(({ peer, met, example }) => [peer, met ?? example])).toEqual(
        [...wayless].sort(([a], [b]) => (a < b ? -1 : 1)).map(([from, { number }]) => [from, number]),
      );
      // Each example, placed as a call, does what is said of it.
      const compiled = compileTable(given);
      for (const { call, by, kind, route: id } of findings) {
        if (!call || !by || kind === 'never-fires') continue;
        const acted: (string | null)[] = [];
        const walk = (step: ReturnType<typeof traceRoute>): void => {
          acted.push(step.route);
          step.branches.forEach(walk);
        };
        walk(traceRoute(compiled, call));
        expect([id, by[0], acted.includes(by[0]!)]).toEqual([id, by[0], true]);
      }
    }),
    // The same tables each time, so that what short numbers cannot tell apart does not come up by chance; others, and
    // more of them, with HOSTLER_RUNS.
    process.env.HOSTLER_RUNS
      ? { numRuns: Number(process.env.HOSTLER_RUNS) }
      : { numRuns: 20, seed: 20261125 },
  );
});
