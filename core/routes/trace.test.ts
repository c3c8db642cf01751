import { compileTable, endsOf, traceRoute } from './trace';
import { readTable } from './schema';
import type { Route } from '../estate';
import type { RoutedCall, RouteTable } from './types';
import { routeOf as route, sendTo as to } from '../tests/routes';

const table = (...routes: Route[]): RouteTable => ({
  peers: ['desk', 'cloud', 'carrier', 'spare'].map((id) => ({ id, name: id, expects: 'any' })),
  lists: [{ id: 'movers', name: 'Movers', numbers: ['+12505550101'] }],
  routes,
  schedules: [
    {
      id: 'day',
      name: 'Day',
      timeZone: 'Europe/London',
      weekly: [{ days: ['mon', 'tue', 'wed', 'thu', 'fri'], from: '08:00', to: '18:00' }],
    },
  ],
});
const call = (more: Partial<RoutedCall> = {}): RoutedCall => ({
  from: 'desk',
  dialled: '+12505550101',
  caller: '+12505550199',
  ...more,
});
const trace = (given: RouteTable, more: Partial<RoutedCall> = {}) => {
  expect(readTable(given)).toMatchObject({ ok: true });
  return traceRoute(compileTable(given), call(more));
};

describe('the first enabled route whose conditions hold acts', () => {
  const MORNING = Date.parse('2026-11-25T09:00:00Z');
  const cases: readonly (readonly [Route['when'], Partial<RoutedCall>, boolean, RegExp])[] = [
    [{ from: ['cloud'] }, {}, false, /not for calls from desk/],
    [{ from: ['cloud', 'desk'] }, {}, true, /./],
    [{ dialled: { prefixes: ['+1250', '+44'] } }, {}, true, /./],
    [{ dialled: { prefixes: ['+44'] } }, {}, false, /begins with none of \+44/],
    [{ dialled: { map: '+1[2-9]x.' } }, {}, true, /./],
    [{ dialled: { map: 'xxxx' } }, {}, false, /does not fit xxxx/],
    [{ dialled: { minDigits: 11, maxDigits: 11 } }, {}, true, /./],
    [{ dialled: { minDigits: 12 } }, {}, false, /fewer than 12/],
    [{ dialled: { maxDigits: 10 } }, {}, false, /more than 10/],
    [{ caller: { prefixes: ['+1250'] } }, {}, true, /./],
    [{ caller: { prefixes: ['+1250'] } }, { caller: '+44' }, false, /the caller begins with none/],
    [{ list: { id: 'movers', of: 'dialled' } }, {}, true, /./],
    [{ list: { id: 'movers', of: 'caller' } }, {}, false, /the caller is not on the list Movers/],
    [{ schedule: { id: 'day', inside: true } }, { atMs: MORNING }, true, /./],
    [{ schedule: { id: 'day', inside: false } }, { atMs: MORNING }, false, /inside Day/],
    [{ schedule: { id: 'day', inside: true } }, {}, false, /not known/],
  ];
  test.each(cases.map((each, i) => [i, ...each] as const))(
    'condition %d',
    (_i, when, more, holds, because) => {
      const done = trace(table(route('first', to('cloud'), when), route('last', to('carrier'))), more);
      expect([done.route, done.end]).toEqual(
        holds ? ['first', { kind: 'peer', peer: 'cloud' }] : ['last', { kind: 'peer', peer: 'carrier' }],
      );
      expect(done.passed).toEqual(holds ? [] : [{ route: 'first', because: expect.stringMatching(because) }]);
    },
  );
  test('one that is switched off does not; where none does, there is no route', () => {
    const done = trace(table(route('off', to('cloud'), {}, false)));
    expect(done).toMatchObject({
      route: null,
      end: { kind: 'no-route', cause: 404 },
      passed: [{ route: 'off', because: 'it is switched off' }],
    });
  });
});

test('a rewriting changes number and caller and goes on below, never back up', () => {
  const done = trace(
    table(
      route('national', to('carrier'), { dialled: { prefixes: ['1'] } }),
      route('bare', { rewrite: { rewrite: { drop: 1, prepend: '' }, caller: { drop: 2, prepend: '0' } } }),
      route('rest', to('cloud', { drop: 1, prepend: '9' })),
    ),
  );
  expect(done).toMatchObject({ route: 'bare', number: '12505550101', caller: '02505550199', end: null });
  expect(done.branches).toMatchObject([
    { route: 'rest', number: '92505550101', end: { kind: 'peer', peer: 'cloud' }, passed: [] },
  ]);
});

test('down or full: the next peer in turn, then the routes below', () => {
  const given = table(route('one', to('cloud', undefined, ['spare'])), route('two', to('carrier')));
  expect(trace(given, { down: ['cloud'] }).end).toEqual({ kind: 'peer', peer: 'spare' });
  const below = trace(given, { down: ['cloud'], full: ['spare'] });
  expect(below).toMatchObject({ route: 'two', end: { peer: 'carrier' } });
  expect(below.passed).toEqual([{ route: 'one', because: expect.stringContaining('down or full') }]);
});

test('a fork rings all its branches; one that is refused leaves the others', () => {
  const fork: Route['then'] = {
    fork: {
      branches: [{ peer: 'desk' }, { peer: 'cloud', delayMs: 3000, rewrite: { drop: 2, prepend: '' } }],
    },
  };
  const done = trace(table(route('both', fork)), { down: ['desk'] });
  expect(done.branches).toMatchObject([
    { number: '+12505550101', end: { kind: 'refused', cause: 503 } },
    { number: '2505550101', delayMs: 3000, end: { kind: 'peer', peer: 'cloud' } },
  ]);
  expect(endsOf(done).map(({ kind }) => kind)).toEqual(['refused', 'peer']);
});

test('a refusal has its cause', () => {
  expect(trace(table(route('no', { refuse: { cause: 603 } }))).end).toMatchObject({
    kind: 'refused',
    cause: 603,
  });
});

test('a call that a peer sends back is a new pass from there, with one hop less, until none is left', () => {
  const given = table(route('from-cloud', to('carrier'), { from: ['cloud'] }), route('all', to('cloud')));
  const back = trace(given, { sendsBack: { cloud: { rewrite: { drop: 1, prepend: '' } } } });
  expect(back.branches).toMatchObject([
    { route: 'from-cloud', number: '12505550101', end: { kind: 'peer', peer: 'carrier' } },
  ]);
  const round = traceRoute(compileTable({ ...table(route('all', to('cloud'))), hopLimit: 3 }), {
    ...call(),
    sendsBack: { cloud: {} },
  });
  let depth = 0;
  for (let at = round; at.branches[0]; at = at.branches[0]) depth += 1;
  expect([depth, endsOf(round)]).toEqual([3, [{ kind: 'loop', cause: 483 }]]);
});

test('forks that come back twice each are cut off, not gone through', () => {
  const fork: Route['then'] = { fork: { branches: [{ peer: 'desk' }, { peer: 'cloud' }] } };
  const given = { ...table(route('both', fork)), hopLimit: 100 };
  const ends = endsOf(traceRoute(compileTable(given), { ...call(), sendsBack: { desk: {}, cloud: {} } }));
  expect(new Set(ends.map(({ kind }) => kind))).toEqual(new Set(['loop']));
  expect(ends.length).toBeLessThan(20_002);
});

describe('a table with faults', () => {
  const good = table(route('one', to('cloud')));
  const withRoute = (change: object) => ({ ...good, routes: [{ ...good.routes[0], ...change }] });
  test.each<[string, unknown, string, RegExp]>([
    ['no table', 7, '', /object/],
    [
      'an unknown form',
      { ...good, peers: [{ id: 'a', name: 'A', expects: 'local' }] },
      'peers[0].expects',
      /./,
    ],
    [
      'a map',
      withRoute({ when: { dialled: { map: '1T' } } }),
      'routes[0].when.dialled.map',
      /at 2 the timer/,
    ],
    ['nothing to do', withRoute({ then: {} }), 'routes[0].then', /send, fork/],
    [
      'a fork of nothing',
      withRoute({ then: { fork: { branches: [] } } }),
      'routes[0].then.fork.branches',
      /a branch/,
    ],
    ['a cause', withRoute({ then: { refuse: { cause: 200 } } }), 'routes[0].then.refuse.cause', /400/],
    ['a misspelt field', withRoute({ whne: {} }), 'routes[0].whne', /known/],
    ['a peer', withRoute({ then: to('nobody') }), 'routes[0].then.send.peer', /"nobody"/],
    ['a list', withRoute({ when: { list: { id: 'x', of: 'caller' } } }), 'routes[0].when.list.id', /"x"/],
    ['two of one id', { ...good, peers: [...good.peers, good.peers[0]] }, 'peers[4].id', /twice/],
  ])('%s: its path', (_what, value, path, message) => {
    const read = readTable(value);
    expect(read.ok).toBe(false);
    if (!read.ok)
      expect(read.faults).toContainEqual(
        expect.objectContaining({ path, message: expect.stringMatching(message) }),
      );
  });
});
