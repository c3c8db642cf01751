import { compileTable, namesIn, traceRoute, type RouteTable } from '../../core/routes';
import { traceRows } from './routeRows';

const table: RouteTable = {
  peers: [
    { id: 'desk', name: 'Desk system', expects: 'dialled' },
    { id: 'cloud', name: 'Cloud', expects: 'e164' },
  ],
  lists: [],
  routes: [
    {
      id: 'form',
      name: 'Form',
      enabled: true,
      when: { dialled: { prefixes: ['91'] } },
      then: { rewrite: { rewrite: { drop: 1, prepend: '+' } } },
    },
    {
      id: 'both',
      name: 'Both',
      enabled: true,
      when: { dialled: { prefixes: ['+1250'] } },
      then: { fork: { branches: [{ peer: 'desk' }, { peer: 'cloud', delayMs: 3000 }] } },
    },
    {
      id: 'no',
      name: 'No',
      enabled: true,
      when: { dialled: { prefixes: ['+1900'] } },
      then: { refuse: { cause: 403 } },
    },
    {
      id: 'all',
      name: 'All',
      enabled: true,
      when: { dialled: { prefixes: ['+'] } },
      then: { send: { peer: 'cloud' } },
    },
  ],
};
const rows = (dialled: string, more: object = {}) =>
  traceRows(
    traceRoute(compileTable(table), { from: 'desk', dialled, ...more }),
    table.routes,
    namesIn(table, [], []),
  );

test('a trace becomes rows that hang from each other', () => {
  const all = rows('912505550101', { down: ['desk'] });
  expect(all.map(({ title, text, state, depth, parent }) => [title, text, state, depth, parent])).toEqual([
    ['Form', 'becomes +1 250 555 0101, and goes on below', 'goes-on', 1, -1],
    ['Both', 'rings at 2 systems', 'goes-on', 2, 0],
    ['Desk system', 'Desk system is down or full: 503, service unavailable', 'lost', 3, 1],
    ['Cloud', 'as +1 250 555 0101, 3 s later', 'reached', 3, 1],
  ]);
});
test('refused, taken by no route, sent back until no hop is left', () => {
  expect(rows('919005550101').at(-1)).toMatchObject({
    title: 'No',
    text: 'refused: 403, forbidden',
    state: 'lost',
  });
  expect(rows('4101').map(({ title, passed }) => [title, passed.length])).toEqual([['No route takes it', 4]]);
  const round = rows('916045550101', { sendsBack: { cloud: {} } });
  expect(round.at(-1)).toMatchObject({ title: 'It goes round', state: 'lost' });
  expect(round[1]).toMatchObject({ title: 'All: to Cloud', text: 'as +1 604 555 0101, and is sent back' });
});
