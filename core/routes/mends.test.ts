import type { Route } from '../estate';
import { routeOf as route, sendTo as to } from '../tests/routes';
import { applyMend } from './mends';
import { readTable } from './schema';
import { compileTable, traceRoute } from './trace';
import type { RouteTable } from './types';

const table = (...routes: Route[]): RouteTable => ({
  peers: ['desk', 'cloud', 'carrier'].map((id) => ({ id, name: id, expects: 'any' })),
  lists: [{ id: 'movers', name: 'Movers', numbers: ['+12505550101', '+1250555010'] }],
  routes,
});
/** The routes that act on a call, and the number with which it is sent. */
const way = (given: RouteTable, dialled = '+12505550101', from = 'desk') => {
  expect(readTable(given)).toMatchObject({ ok: true });
  return JSON.stringify(traceRoute(compileTable(given), { from, dialled, caller: '+12505550199' }));
};

test('a route is moved before another one, which it then comes before', () => {
  const before = table(
    route('all', to('cloud')),
    route('movers', to('carrier'), { list: { id: 'movers', of: 'dialled' } }),
  );
  const after = applyMend(before, { kind: 'move', route: 'movers', before: 'all' });
  expect(after.routes.map(({ id }) => id)).toEqual(['movers', 'all']);
  expect(way(before)).toContain('"cloud"');
  expect(way(after)).not.toContain('"cloud"');
  expect(applyMend(before, { kind: 'move', route: 'all', before: 'all' })).toBe(before);
});
test('a route is taken out, and the next one acts', () => {
  const before = table(route('all', to('cloud')), route('rest', to('carrier')));
  const after = applyMend(before, { kind: 'remove', route: 'all' });
  expect(after.routes.map(({ id }) => id)).toEqual(['rest']);
  expect(way(after)).not.toContain('"cloud"');
});
test('a route is for calls from some peers only', () => {
  const before = table(route('all', to('cloud')), route('rest', to('carrier')));
  const after = applyMend(before, { kind: 'from', route: 'all', from: ['carrier'] });
  expect(after.routes[0]).toMatchObject({ when: { from: ['carrier'] } });
  expect(after.routes[1]).toBe(before.routes[1]);
  expect(way(after)).not.toEqual(way(before));
});
test('the number is rewritten on a route, or on one branch of its fork', () => {
  const plus = { drop: 1, prepend: '+' };
  const single = table(route('all', to('cloud')));
  expect(applyMend(single, { kind: 'rewrite', route: 'all', rewrite: plus }).routes[0]!.then).toEqual({
    send: { peer: 'cloud', rewrite: plus },
  });
  const fork = table(
    route('all', {
      fork: { branches: [{ peer: 'cloud' }, { peer: 'carrier', rewrite: { drop: 2, prepend: '' } }] },
    }),
  );
  const after = applyMend(fork, { kind: 'rewrite', route: 'all', branch: 1, rewrite: plus });
  expect(after.routes[0]!.then).toEqual({
    fork: { branches: [{ peer: 'cloud' }, { peer: 'carrier', rewrite: plus }] },
  });
});
test('a number of a list becomes another one, in that list alone', () => {
  const lists = [
    { id: 'movers', name: 'Movers', numbers: ['+1250555010', '+12505550102'] },
    { id: 'others', name: 'Others', numbers: ['+1250555010'] },
  ];
  const after = applyMend(
    { ...table(), lists },
    { kind: 'number', list: 'movers', number: '+1250555010', becomes: '+12505550103' },
  );
  expect(after.lists.map(({ numbers }) => numbers)).toEqual([
    ['+12505550103', '+12505550102'],
    ['+1250555010'],
  ]);
});
test('a refusal has nothing that could be rewritten', () => {
  const refused = table(route('none', { refuse: { cause: 1 } } as Route['then']));
  expect(
    applyMend(refused, { kind: 'rewrite', route: 'none', rewrite: { drop: 1, prepend: '' } }).routes,
  ).toEqual(refused.routes);
});
