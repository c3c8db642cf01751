import { analyseTable, compileTable, traceRoute, type RouteTable } from '../core/routes';
import type { Route } from '../core/estate';
import type { Line } from './engine.bench';

const LIST = 50_000;
const TRACES = 20_000;

/** A table of a size: areas, plans by digit map, lists of people with phones on two systems, rewritings, refusals. */
export function tableOf(routes: number): RouteTable {
  const number = (list: number, i: number) =>
    `+1999${String(2_000_000 + ((i * 7919 + list * 131) % 7_999_999))}`;
  const peers = Array.from({ length: 8 }, (_, i) => ({
    id: `p${i}`,
    name: `System ${i}`,
    expects: i === 0 ? ('dialled' as const) : ('e164' as const),
  }));
  const lists = Array.from({ length: 4 }, (_, list) => ({
    id: `l${list}`,
    name: `List ${list}`,
    numbers: Array.from({ length: LIST }, (_each, i) => number(list, i)),
  }));
  const all = Array.from({ length: routes - 2 }, (_, i): Route => {
    const peer = `p${1 + (i % 7)}`;
    const area = String(200 + ((i * 37) % 800));
    const base = { id: `r${i}`, name: `Route ${i}`, enabled: true };
    const kinds: Omit<Route, 'id' | 'name' | 'enabled'>[] = [
      { when: { dialled: { prefixes: [`+1${area}`] } }, then: { send: { peer } } },
      {
        when: { dialled: { map: `9011${area}x.` } },
        then: { send: { peer, rewrite: { drop: 4, prepend: '+' } } },
      },
      {
        when: { dialled: { prefixes: [`91${area}`], minDigits: 12, maxDigits: 12 } },
        then: { rewrite: { rewrite: { drop: 1, prepend: '+' } } },
      },
      {
        when: { from: [peer], dialled: { prefixes: [`+44${area.slice(1)}`], maxDigits: 15 } },
        then: { send: { peer: 'p1' } },
      },
      {
        when: { caller: { prefixes: [`+1${area}`] }, dialled: { map: `+1900xxxx${i % 10}xx` } },
        then: { refuse: { cause: 403 } },
      },
      {
        when: {
          list: { id: `l${i % 4}`, of: i % 12 < 6 ? 'dialled' : 'caller' },
          dialled: { prefixes: ['+1'] },
          from: [peer],
        },
        then: { fork: { branches: [{ peer: 'p1' }, { peer: 'p2', delayMs: 3000 }] } },
      },
    ];
    return { ...base, ...kinds[i % kinds.length]! };
  });
  return {
    peers,
    lists,
    routes: [
      ...all,
      {
        id: 'nanp',
        name: 'North America',
        enabled: true,
        when: { dialled: { map: '+1[2-9]xxxxxxxxx' } },
        then: { send: { peer: 'p1' } },
      },
      {
        id: 'world',
        name: 'World',
        enabled: true,
        when: { dialled: { prefixes: ['+'], minDigits: 8 } },
        then: { send: { peer: 'p2' } },
      },
    ],
  };
}

function traces(table: RouteTable): number {
  const compiled = compileTable(table);
  const calls = Array.from({ length: TRACES }, (_, i) => ({
    from: `p${i % 8}`,
    dialled:
      i % 3 === 0
        ? `+1999${String(2_000_000 + ((i * 7919) % 7_999_999))}`
        : i % 3 === 1
          ? `91${200 + (i % 800)}5550${String(100 + (i % 900))}`
          : `+44${String(20_000_000 + ((i * 104_729) % 79_999_999))}`,
    caller: `+1${200 + (i % 800)}5550101`,
  }));
  let routed = 0;
  for (const call of calls) routed += traceRoute(compiled, call).route === null ? 0 : 1;
  const rates = Array.from({ length: 5 }, () => {
    const began = performance.now();
    for (const call of calls) routed += traceRoute(compiled, call).route === null ? 0 : 1;
    return (TRACES / (performance.now() - began)) * 1000;
  });
  if (routed === 0) throw new Error('no call was routed');
  return rates.sort((a, b) => a - b)[2] ?? 0;
}

/** Route tables of 50 and of 500 routes with four lists of 50,000 numbers. */
export function routingBench(line: Line): void {
  const [small, large] = [tableOf(50), tableOf(500)];
  const [few, many] = [traces(small), traces(large)];
  line(
    'trace through 500 routes, lists of 50,000',
    `${Math.round(many).toLocaleString('en')}/s`,
    `aim: 50,000/s; ${(few / many).toFixed(2)} times the time of 50 routes (aim: 2 at most)`,
  );
  const took = Array.from({ length: 3 }, () => {
    const began = performance.now();
    const { findings, complete } = analyseTable(large, { fromMs: Date.parse('2026-11-25T08:00:00Z') });
    if (!complete || findings.length === 0) throw new Error('the table was not analysed');
    return performance.now() - began;
  }).sort((a, b) => a - b);
  line('full analysis of that table', `${Math.round(took[1] ?? 0)} ms`, 'aim: 1,000 ms');
}
