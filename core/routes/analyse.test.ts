import { analyseTable } from './analyse';
import { compileTable, endsOf, traceRoute } from './trace';
import { isE164 } from './lists';
import { proposeTwoSystems } from './two-systems';
import { rewritten } from './languages';
import type { Route } from '../estate';
import type { RouteFinding, RouteFindingKind } from './findings';
import type { RouteTable } from './types';
import { routeOf as route, sendTo as to } from '../tests/routes';

const FROM_MS = Date.parse('2026-11-25T08:00:00Z');
const table = (...routes: Route[]): RouteTable => ({
  peers: [
    { id: 'desk', name: 'Desk system', expects: 'dialled' },
    { id: 'cloud', name: 'Cloud', expects: 'e164' },
    { id: 'carrier', name: 'Carrier', expects: 'e164' },
  ],
  lists: [],
  routes,
});
const dialled = (...prefixes: string[]): Route['when'] => ({ dialled: { prefixes } });
const find = (given: RouteTable, kind: RouteFindingKind, more: object = {}): RouteFinding[] =>
  analyseTable(given, { fromMs: FROM_MS, ...more }).findings.filter((finding) => finding.kind === kind);

describe('routes that never fire', () => {
  test('everything is taken above, by one route or by several together', () => {
    const one = table(
      route('all', to('cloud'), dialled('+1')),
      route('some', to('carrier'), dialled('+1604')),
    );
    expect(find(one, 'never-fires')).toEqual([
      expect.objectContaining({ route: 'some', by: ['all'], example: '+1604' }),
    ]);
    const digits = Array.from({ length: 10 }, (_, digit) =>
      route(`d${digit}`, to('cloud'), dialled(`9${digit}`)),
    );
    const together = table(
      ...digits,
      route('nine', to('carrier'), { dialled: { prefixes: ['9'], minDigits: 2 } }),
    );
    expect(find(together, 'never-fires')).toMatchObject([{ route: 'nine', by: digits.map(({ id }) => id) }]);
    // One string more, and it acts.
    const open = table(...digits, route('nine', to('carrier'), dialled('9')));
    expect(find(open, 'never-fires')).toEqual([]);
    expect(find(open, 'partly-covered')).toMatchObject([{ route: 'nine', example: '90' }]);
  });

  test('conditions that cannot hold together', () => {
    const given = table(
      route('short', to('cloud'), { dialled: { prefixes: ['+1604'], maxDigits: 3 } }),
      route('map', to('cloud'), { dialled: { prefixes: ['7'], map: '[2-6]xxx' } }),
      route('none', to('cloud'), { dialled: { prefixes: [] } }),
    );
    expect(find(given, 'never-fires')).toMatchObject(
      ['short', 'map', 'none'].map((id) => ({ route: id, by: [] })),
    );
  });

  test('what is switched off takes nothing and is not judged', () => {
    const given = table(route('all', to('cloud'), {}, false), route('some', to('carrier'), dialled('+1')));
    expect(find(given, 'never-fires')).toEqual([]);
    expect(
      find(table(route('all', to('cloud')), route('off', to('carrier'), {}, false)), 'never-fires'),
    ).toEqual([]);
  });

  test('peers, callers, lists and hours count', () => {
    const schedules = [
      {
        id: 'day',
        name: 'Day',
        timeZone: 'America/Vancouver',
        weekly: [{ days: ['mon' as const], from: '08:00', to: '18:00' }],
      },
    ];
    const lists = [{ id: 'l', name: 'L', numbers: ['+12505550101', '+12505550102'] }];
    const split = (first: Route['when'], second: Route['when']): RouteTable => ({
      ...table(route('a', to('cloud'), first), route('b', to('cloud'), second), route('rest', to('carrier'))),
      schedules,
      lists,
    });
    const both: [Route['when'], Route['when']][] = [
      [{ from: ['desk'] }, { from: ['cloud', 'carrier'] }],
      [{ schedule: { id: 'day', inside: true } }, { schedule: { id: 'day', inside: false } }],
    ];
    for (const [first, second] of both)
      expect(find(split(first, second), 'never-fires')).toMatchObject([{ route: 'rest', by: ['a', 'b'] }]);
    const partly: [Route['when'], Route['when']][] = [
      [{ from: ['desk'] }, { from: ['cloud'] }],
      [{ schedule: { id: 'day', inside: true } }, { schedule: { id: 'day', inside: true } }],
      [{ list: { id: 'l', of: 'caller' } }, { caller: { prefixes: ['+', '0'] } }],
      [{ list: { id: 'l', of: 'dialled' } }, { dialled: { prefixes: ['+'] } }],
    ];
    for (const [first, second] of partly)
      expect(find(split(first, second), 'never-fires').filter(({ route: id }) => id === 'rest')).toEqual([]);
    // A list of exactly the numbers that a map fits covers it.
    const listed = split({ list: { id: 'l', of: 'dialled' } }, { dialled: { map: '+1250555010[12]' } });
    expect(find(listed, 'never-fires')).toMatchObject([{ route: 'b', by: ['a'], example: '+12505550101' }]);
  });

  test('a route that only a rewritten number comes to', () => {
    const given = table(
      route(
        'out',
        { rewrite: { rewrite: { drop: 1, prepend: '+1' } } },
        { dialled: { map: '9[2-9]xxxxxxxxx' } },
      ),
      route('raw', { refuse: { cause: 404 } }, { dialled: { prefixes: ['+1604'], maxDigits: 10 } }),
      route('bc', to('carrier'), dialled('+1604')),
      route('plus', to('cloud'), dialled('+')),
    );
    expect(find(given, 'never-fires')).toEqual([]);
    const covered = { ...given, routes: [given.routes[0]!, given.routes[3]!, given.routes[2]!] };
    expect(find(covered, 'never-fires')).toMatchObject([{ route: 'bc', by: ['plus'], example: '+1604' }]);
  });

  test('a number that a list takes off above a rewriting does not come out of it, unless another becomes the same', () => {
    const given = (map: string): RouteTable => ({
      ...table(
        route('plus', { refuse: { cause: 404 } }, dialled('+')),
        route('listed', to('desk'), { list: { id: 'l', of: 'dialled' } }),
        route('form', { rewrite: { rewrite: { drop: 1, prepend: '+' } } }, { dialled: { map } }),
        route('last', to('carrier'), { dialled: { map: '+2' } }),
      ),
      lists: [{ id: 'l', name: 'L', numbers: ['12'] }],
    });
    const last = (map: string) => find(given(map), 'never-fires').map(({ route: id }) => id);
    expect(last('1[23]')).toEqual(['last']);
    expect(last('[13]2')).toEqual([]);
  });

  test('a route below one that sends all the same to a peer acts while that is down', () => {
    const given = table(
      route('first', to('cloud'), dialled('+')),
      route('second', to('carrier'), dialled('+')),
    );
    expect(find(given, 'never-fires')).toMatchObject([{ route: 'second', weight: 'risk' }]);
  });
});

test('a fork is bypassed where a route above takes some of its list', () => {
  const fork: Route['then'] = { fork: { branches: [{ peer: 'desk' }, { peer: 'cloud' }] } };
  const given: RouteTable = {
    ...table(
      route('bc', to('carrier'), dialled('+1250')),
      route('both', fork, { list: { id: 'two', of: 'dialled' } }),
    ),
    lists: [{ id: 'two', name: 'Two', numbers: ['+16045550101', '+12505550109', '+12505550104'] }],
  };
  expect(find(given, 'fork-bypassed')).toMatchObject([
    { route: 'both', by: ['bc'], example: '+12505550104', count: 2, mend: { kind: 'move', before: 'bc' } },
  ]);
  expect(find({ ...given, routes: [...given.routes].reverse() }, 'fork-bypassed')).toEqual([]);
});

describe('forms', () => {
  const plan = { countryCode: '1', outsideCode: '9', internationalPrefix: '011', nationalPrefix: '1' };
  const applied = (finding: RouteFinding, number: string) =>
    finding.mend?.kind === 'rewrite' ? rewritten(number, finding.mend.rewrite) : null;

  test('a number that comes to a peer in another form, and the rewriting that mends it', () => {
    const [out] = find(table(route('out', to('carrier'), dialled('91'))), 'wrong-form', { plan });
    expect(out).toMatchObject({ route: 'out', peer: 'carrier', example: '91', sent: '91', weight: 'fault' });
    expect(applied(out!, '916045550101')).toBe('+16045550101');
    const [abroad] = find(table(route('out', to('carrier'), dialled('9011'))), 'wrong-form', { plan });
    expect(applied(abroad!, '9011442079460000')).toBe('+442079460000');
    const [inward] = find(table(route('in', to('desk'), dialled('+'))), 'wrong-form');
    expect(applied(inward!, '+16045550101')).toBe('16045550101');
    const [twice] = find(
      table(route('x', to('carrier', { drop: 0, prepend: '+' }), dialled('+'))),
      'wrong-form',
    );
    expect(applied(twice!, '+16045550101')).toBe('+16045550101');
  });

  test('what is rewritten into the right form is right, also further up', () => {
    expect(
      find(table(route('out', to('carrier', { drop: 2, prepend: '+1' }), dialled('91'))), 'wrong-form'),
    ).toEqual([]);
    const above = table(
      route('form', { rewrite: { rewrite: { drop: 2, prepend: '+1' } } }, dialled('91')),
      route('out', to('carrier'), dialled('+')),
    );
    expect(find(above, 'wrong-form')).toEqual([]);
    const [missed] = find(
      { ...above, routes: [above.routes[0]!, route('out', to('carrier'))] },
      'wrong-form',
    );
    expect(missed).toMatchObject({ weight: 'risk', example: '0' });
  });

  test('a rewriting that takes everything off', () => {
    const given = table(
      route('gone', to('carrier', { drop: 12, prepend: '' }), { dialled: { map: '+1xxxxxxxxxx' } }),
    );
    expect(find(given, 'empties-number')).toMatchObject([{ route: 'gone', example: '+10000000000' }]);
  });
});

describe('numbers with no way out', () => {
  const given = table(route('bc', to('carrier'), { ...dialled('+1604', '0', '1'), from: ['desk'] }));
  test('from each peer the smallest', () => {
    expect(find(given, 'no-way-out')).toMatchObject([
      { peer: 'desk', example: '2' },
      { peer: 'cloud', example: '0' },
      { peer: 'carrier', example: '0' },
    ]);
  });
  test('only what somebody may dial, where that is known', () => {
    const none = find(given, 'no-way-out', { dialled: [{ from: 'desk', map: '+1604xxxxxxx' }] });
    expect(none).toEqual([]);
    const some = find(given, 'no-way-out', { dialled: [{ from: 'desk', map: '+1[2-9]x4xxxxxxx' }] });
    expect(some).toMatchObject([{ peer: 'desk', example: '+12040000000', weight: 'fault' }]);
  });
});

test('a call that goes round, with its path, and a mend that ends it', () => {
  const given = table(
    route('in', to('desk', { drop: 1, prepend: '' }), { ...dialled('+'), from: ['carrier', 'cloud'] }),
    route('out', to('cloud', { drop: 0, prepend: '+' }), { from: ['desk'] }),
  );
  const sendsBack = { desk: {}, cloud: {} };
  expect(find(given, 'goes-round')).toEqual([]);
  expect(find(given, 'goes-round', { sendsBack: { desk: {} } })).toEqual([]);
  const [round] = find(given, 'goes-round', { sendsBack });
  expect(new Set(round?.path?.map(({ route: id }) => id))).toEqual(new Set(['in', 'out']));
  expect(endsOf(traceRoute(compileTable(given), round!.call!))).toEqual([{ kind: 'loop', cause: 483 }]);
  expect(round?.mend).toMatchObject({ kind: 'from' });
  if (round?.mend?.kind !== 'from') return;
  const { route: id, from } = round.mend;
  const mended = {
    ...given,
    routes: given.routes.map((each) => (each.id === id ? { ...each, when: { ...each.when, from } } : each)),
  };
  expect(find(mended, 'goes-round', { sendsBack })).toEqual([]);
});

test('lists: numbers on two of them, and what is no E.164; peers and lists that are not there', () => {
  const given: RouteTable = {
    ...table(
      route('x', to('nobody'), { from: ['ghost'], list: { id: 'gone', of: 'dialled' } }),
      route('y', to('cloud'), { list: { id: 'a', of: 'dialled' } }),
    ),
    lists: [
      { id: 'a', name: 'A', numbers: ['+12505550103', '+12505550101', '250 555 0104'] },
      { id: 'b', name: 'B', numbers: ['+12505550101', '+12505550103', '+1 (250) 555-0105'] },
    ],
  };
  expect(find(given, 'list-overlap')).toMatchObject([
    { lists: ['a', 'b'], example: '+12505550101', count: 2 },
  ]);
  expect(find(given, 'list-number-not-E.164')).toMatchObject([
    { list: 'a', example: '250 555 0104' },
    { list: 'b', mend: { kind: 'number', becomes: '+12505550105' } },
  ]);
  expect(find(given, 'unknown-peer').map(({ peer }) => peer)).toEqual(['ghost', 'nobody']);
  expect(find(given, 'unknown-list')).toMatchObject([{ route: 'x', list: 'gone' }]);
  expect(['+1', '+0123', '123', '+12505550101'].map(isE164)).toEqual([false, false, false, true]);
});

test('people with phones on two systems: the fork goes where nothing takes its numbers, in the form of each system', () => {
  const plan = { countryCode: '1', outsideCode: '9', internationalPrefix: '011', nationalPrefix: '1' };
  const given: RouteTable = {
    ...table(
      route(
        'form',
        { rewrite: { rewrite: { drop: 1, prepend: '+' } } },
        { ...dialled('91'), from: ['desk'] },
      ),
      route('premium', { refuse: { cause: 403 } }, dialled('+1900')),
      route('bc', to('carrier'), dialled('+1250')),
      route('rest', to('carrier'), dialled('+')),
    ),
    lists: [{ id: 'two', name: 'Two', numbers: ['+12505550101', '+16045550101'] }],
  };
  const asked = { list: 'two', first: 'desk', second: 'cloud', delayMs: 3000 };
  const { table: proposed, route: fork } = proposeTwoSystems(given, asked, { fromMs: FROM_MS, plan });
  expect(proposed.routes.map(({ id }) => id)).toEqual(['form', 'premium', fork.id, 'bc', 'rest']);
  expect(find(proposed, 'fork-bypassed')).toEqual([]);
  expect(find(proposed, 'wrong-form').filter(({ route: id }) => id === fork.id)).toEqual([]);
  const ends = endsOf(traceRoute(compileTable(proposed), { from: 'desk', dialled: '912505550101' }));
  expect(ends.map((end) => (end.kind === 'peer' ? end.peer : end.kind))).toEqual(['desk', 'cloud']);
});

test('maps that tangle beyond measure: the analysis says that it is not complete, and a trace works all the same', () => {
  const given: RouteTable = {
    ...table(
      route('tangle', to('cloud'), { dialled: { map: `x.1${'x'.repeat(24)}` } }),
      route('rest', to('carrier')),
    ),
    lists: [{ id: 'l', name: 'L', numbers: ['0'] }],
  };
  const { findings, complete } = analyseTable(given, { fromMs: FROM_MS });
  expect(complete).toBe(false);
  expect(findings.map(({ kind }) => kind)).toEqual(['list-number-not-E.164']);
  const compiled = compileTable(given);
  expect(traceRoute(compiled, { from: 'desk', dialled: `001${'0'.repeat(24)}` }).route).toBe('tangle');
  expect(traceRoute(compiled, { from: 'desk', dialled: `002${'0'.repeat(24)}` }).route).toBe('rest');
});
