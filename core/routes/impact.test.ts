import fc from 'fast-check';
import { arrivalsOf, sayTableChange, tableImpact } from './impact';
import { compileTable, traceRoute } from './trace';
import type { Route } from '../estate';
import type { RouteTable } from './types';
import { routeOf as route, sendTo as to } from '../tests/routes';

const FROM_MS = Date.parse('2026-11-25T08:00:00Z');
const LISTED = ['+12025550101', '+12025550102', '+12025550103'];
const table = (routes: readonly Route[], numbers: readonly string[] = LISTED): RouteTable => ({
  peers: ['desk', 'cloud'].map((id) => ({ id, name: id, expects: 'any' as const })),
  lists: [{ id: 'moved', name: 'Moved', numbers }],
  routes,
});
const BOTH = ['desk', 'cloud'];
const listed = route('listed', to('cloud'), { list: { id: 'moved', of: 'dialled' } });
const all = route('all', to('desk'), { dialled: { prefixes: ['+1'] } });

describe('what a change of the route table does to calls', () => {
  test('nothing differs where nothing was changed, and a name is no difference', () => {
    const before = table([listed, all]);
    const after = table([{ ...listed, name: 'Other' }, all]);
    expect(tableImpact(before, after, FROM_MS)).toMatchObject({ changes: [], complete: true });
    expect(tableImpact(before, after, FROM_MS).tried).toBeGreaterThan(4);
  });

  test('numbers that come to a list and leave it are counted, each way by itself, from every peer', () => {
    const after = table([listed, all], [LISTED[0]!, '+12025550177', '+12025550178', '+12025550179']);
    const { changes } = tableImpact(table([listed, all]), after, FROM_MS);
    expect(
      changes.map(({ from, weight, numbers, call, was, is }) => [
        from,
        weight,
        numbers,
        call.dialled,
        was.end,
        is.end,
      ]),
    ).toEqual([
      [BOTH, 'other', 3, '+12025550177', { kind: 'peer', peer: 'desk' }, { kind: 'peer', peer: 'cloud' }],
      [BOTH, 'other', 2, '+12025550102', { kind: 'peer', peer: 'cloud' }, { kind: 'peer', peer: 'desk' }],
    ]);
    expect(sayTableChange(changes[0]!, (id) => id)).toBe(
      'Calls from desk and cloud to 3 listed numbers such as +1 202 555 0177 now go to cloud. Before, they went to desk.',
    );
  });

  test('the worst stands first: lost, other ways, another form of the number, found', () => {
    const before = table([
      route('a', to('desk'), { dialled: { prefixes: ['1'] } }),
      route('b', to('desk'), { dialled: { prefixes: ['2'] } }),
      route('c', to('desk'), { dialled: { prefixes: ['3'] } }),
    ]);
    const after = table([
      route('b', to('cloud'), { dialled: { prefixes: ['2'] } }),
      route('c', to('desk', { drop: 0, prepend: '+' }), { dialled: { prefixes: ['3'] } }),
      route('d', to('desk'), { dialled: { prefixes: ['4'] } }),
    ]);
    const { changes } = tableImpact(before, after, FROM_MS);
    expect(changes.map(({ weight, call }) => [weight, call.dialled])).toEqual([
      ['lost', '1'],
      ['other', '2'],
      ['form', '3'],
      ['better', '4'],
    ]);
  });

  test('a number that only a rewriting brings onto the list is found as it is dialled', () => {
    const inward = route(
      'in',
      { rewrite: { rewrite: { drop: 1, prepend: '+1' } } },
      { dialled: { prefixes: ['9'] } },
    );
    const { changes } = tableImpact(
      table([inward, listed, all]),
      table([inward, listed, all], [...LISTED, '+12025550188']),
      FROM_MS,
    );
    expect(changes.map(({ from, numbers, call }) => [from, numbers, call.dialled])).toEqual([
      [BOTH, 1, '92025550188'],
    ]);
  });

  const word = fc
    .array(fc.constantFrom('0', '1', '2'), { minLength: 1, maxLength: 3 })
    .map((all) => all.join(''));
  const when: fc.Arbitrary<Route['when']> = fc.oneof(
    fc.record({ prefixes: fc.array(word, { minLength: 1, maxLength: 2 }) }).map((dialled) => ({ dialled })),
    fc.record({ minDigits: fc.integer({ min: 1, max: 4 }) }).map((dialled) => ({ dialled })),
    fc.constant({ list: { id: 'moved', of: 'dialled' as const } }),
    fc.constantFrom('desk', 'cloud').map((from) => ({ from: [from] })),
  );
  const then: fc.Arbitrary<Route['then']> = fc.oneof(
    fc.constantFrom('desk', 'cloud').map((peer) => to(peer)),
    fc.constant({ refuse: { cause: 403 } }),
  );
  const tables = fc
    .tuple(fc.array(fc.tuple(then, when), { maxLength: 5 }), fc.array(word, { maxLength: 4 }))
    .map(([routes, numbers]) =>
      table(
        routes.map(([does, asks], i) => route(`r${i}`, does, asks)),
        numbers,
      ),
    );
  // A digit that no condition speaks of stands for all such.
  const DIALLED = [1, 2, 3, 4].flatMap((length) =>
    Array.from({ length: 4 ** length }, (_, n) => n.toString(4).padStart(length, '0')).flatMap((digits) => [
      digits,
      `+${digits}`,
    ]),
  );

  test('finds a difference exactly where a call of any number differs, by brute force', () => {
    fc.assert(
      fc.property(tables, tables, (before, after) => {
        const [was, is] = [compileTable(before), compileTable(after)];
        const differing = new Set<string>();
        for (const from of ['desk', 'cloud'])
          for (const dialled of DIALLED) {
            const sides = [was, is].map((each) =>
              arrivalsOf(traceRoute(each, { from, dialled, atMs: FROM_MS })),
            );
            if (JSON.stringify(sides[0]) !== JSON.stringify(sides[1])) differing.add(shapeOf(from, ...sides));
          }
        const { changes, complete } = tableImpact(before, after, FROM_MS);
        expect(complete).toBe(true);
        const found = changes.flatMap(({ from, was: first, is: second }) =>
          from.map((each) => shapeOf(each, arrivalsOf(first), arrivalsOf(second))),
        );
        expect(new Set(found)).toEqual(differing);
      }),
      { numRuns: 120 },
    );
  });
});

/** A difference without the digits of the call. */
const shapeOf = (from: string, ...sides: readonly (readonly { readonly number: string }[])[]): string =>
  JSON.stringify([from, sides.map((side) => side.map(({ number: _number, ...end }) => end))]);
