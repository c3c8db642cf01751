import * as fc from 'fast-check';
import type { Route } from '../estate';
import { routeOf as route, sendTo as to } from '../tests/routes';
import { analyseTable } from './analyse';
import { applyMend } from './mends';
import { analyseAndTry } from './tried-mends';
import type { RouteTable } from './types';

const options = {
  fromMs: Date.parse('2026-11-25T08:00:00Z'),
  plan: { countryCode: '1', outsideCode: '9', internationalPrefix: '011', nationalPrefix: '1' },
};
const table = (...routes: Route[]): RouteTable => ({
  peers: [
    { id: 'desk', name: 'Desk', expects: 'any' },
    { id: 'carrier', name: 'Carrier', expects: 'e164' },
  ],
  lists: [],
  routes,
});
const mendsOf = (given: RouteTable) =>
  analyseAndTry(given, options).findings.flatMap(({ kind, mend }) => (mend ? [[kind, mend] as const] : []));

test('a + before a number that begins with a nought is not offered: it is no number', () => {
  const zeros = table(route('abroad', to('carrier'), { dialled: { prefixes: ['0044'] } }));
  const offered = analyseTable(zeros, options).findings.find(({ kind }) => kind === 'wrong-form');
  expect(offered).toBeDefined();
  for (const [, mend] of mendsOf(zeros))
    expect(JSON.stringify(applyMend(zeros, mend))).not.toContain('"prepend":"+"');
});

test('the outside code and the prefix are taken off where that brings every number into its form', () => {
  const abroad = table(route('abroad', to('carrier'), { dialled: { map: '9011[2-9]xxxxxxx.' } }));
  expect(mendsOf(abroad)).toEqual([
    ['wrong-form', { kind: 'rewrite', route: 'abroad', rewrite: { drop: 4, prepend: '+' } }],
  ]);
});

test('where some numbers would be wrong afterwards nothing is offered', () => {
  const mixed = table(route('all', to('carrier'), { dialled: { prefixes: ['+1', '5'] } }));
  expect(mendsOf(mixed)).toEqual([]);
});

const maps = ['9011xxxxx.', '91xxxxxxxxxx', '00xxxxx.', '+1xxxxxxxxxx', '5xxx', '011xxxxx.'];
test('whatever is offered takes its finding away and brings no new fault', () => {
  fc.assert(
    fc.property(
      fc.array(
        fc.record({
          map: fc.constantFrom(...maps),
          drop: fc.integer({ min: 0, max: 4 }),
          prepend: fc.constantFrom('', '+', '+1'),
          peer: fc.constantFrom('desk', 'carrier'),
        }),
        { minLength: 1, maxLength: 4 },
      ),
      (drawn) => {
        const given = table(
          ...drawn.map(({ map, drop, prepend, peer }, at) =>
            route(
              `r${at}`,
              { send: { peer, ...(drop || prepend ? { rewrite: { drop, prepend } } : {}) } },
              { dialled: { map } },
            ),
          ),
        );
        const faults = (of: RouteTable) =>
          analyseTable(of, options)
            .findings.filter(({ weight }) => weight === 'fault')
            .map(({ kind, route: at, peer }) => `${kind} ${at ?? ''} ${peer ?? ''}`);
        const before = faults(given);
        for (const { mend, kind, route: at } of analyseAndTry(given, options).findings) {
          if (!mend) continue;
          const after = faults(applyMend(given, mend));
          expect(after.every((each) => before.includes(each))).toBe(true);
          const same = (each: string) => each.startsWith(`${kind} ${at ?? ''} `);
          expect(after.filter(same).length).toBeLessThan(Math.max(1, before.filter(same).length));
        }
      },
    ),
    { numRuns: 60 },
  );
});
