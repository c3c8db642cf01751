import type { TableMend } from './findings';
import type { Route, RouteTable } from './types';

/** A table with one mend made; the table itself where the mend speaks of something that is no longer there. */
export function applyMend<T extends RouteTable>(table: T, mend: TableMend): T {
  const routes = (change: (route: Route) => Route): T => ({ ...table, routes: table.routes.map(change) });
  if (mend.kind === 'number')
    return {
      ...table,
      lists: table.lists.map((list) =>
        list.id === mend.list
          ? {
              ...list,
              numbers: list.numbers.map((number) => (number === mend.number ? mend.becomes : number)),
            }
          : list,
      ),
    };
  if (mend.kind === 'remove') return { ...table, routes: table.routes.filter(({ id }) => id !== mend.route) };
  if (mend.kind === 'move') {
    const moved = table.routes.find(({ id }) => id === mend.route);
    if (!moved || mend.route === mend.before || !table.routes.some(({ id }) => id === mend.before))
      return table;
    return {
      ...table,
      routes: table.routes.flatMap((route) =>
        route.id === mend.route ? [] : route.id === mend.before ? [moved, route] : [route],
      ),
    };
  }
  if (mend.kind === 'from')
    return routes((route) =>
      route.id === mend.route ? { ...route, when: { ...route.when, from: mend.from } } : route,
    );
  return routes((route) => {
    if (route.id !== mend.route) return route;
    const { then } = route;
    if ('fork' in then)
      return {
        ...route,
        then: {
          fork: {
            branches: then.fork.branches.map((branch, at) =>
              at === mend.branch ? { ...branch, rewrite: mend.rewrite } : branch,
            ),
          },
        },
      };
    return 'send' in then ? { ...route, then: { send: { ...then.send, rewrite: mend.rewrite } } } : route;
  });
}
