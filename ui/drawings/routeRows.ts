import { showNumbersIn } from '../../core/calls/dialling';
import { sayCause, type Passed, type RouteNames, type RouteTrace } from '../../core/routes';
import type { Route } from '../../core/estate';

/** One row of the drawing of a trace. */
export interface TraceRow {
  readonly key: string;
  readonly depth: number;
  /** The row that it hangs from; -1: the call itself. */
  readonly parent: number;
  readonly title: string;
  readonly text: string;
  readonly state: 'goes-on' | 'reached' | 'lost';
  /** The route that acted. */
  readonly route: string | null;
  readonly passed: readonly Passed[];
}

/** A trace as rows from the top, each hanging from one above it. */
export function traceRows(
  trace: RouteTrace,
  routes: readonly Route[],
  names: RouteNames,
): readonly TraceRow[] {
  const rows: TraceRow[] = [];
  const routeOf = (id: string | null) => routes.find((each) => each.id === id);

  const add = (step: RouteTrace, parent: number, depth: number, branch: number | null): void => {
    const route = routeOf(step.route);
    const at = rows.length;
    const row = (title: string, text: string, state: TraceRow['state']) =>
      rows.push({
        key: `${at}`,
        depth,
        parent,
        title,
        text: showNumbersIn(text),
        state,
        route: branch === null ? step.route : null,
        passed: step.passed,
      });
    const { end } = step;
    const then = route?.then;
    const peer =
      branch !== null && then && 'fork' in then
        ? then.fork.branches[branch]?.peer
        : then && 'send' in then
          ? then.send.peer
          : undefined;
    const later = step.delayMs ? `, ${step.delayMs / 1000} s later` : '';
    if (!route && end?.kind === 'no-route')
      row('No route takes it', `${step.number}: 404, not found`, 'lost');
    else if (end?.kind === 'loop') row('It goes round', `${step.number}: no hop is left, 483`, 'lost');
    else if (end?.kind === 'refused')
      row(
        branch === null ? (route?.name ?? 'Refused') : names.peer(peer ?? ''),
        branch === null ? `refused: ${sayCause(end.cause)}` : `${end.why}: ${sayCause(end.cause)}`,
        'lost',
      );
    else if (end?.kind === 'peer')
      row(
        branch === null ? `${route?.name ?? ''}: to ${names.peer(end.peer)}` : names.peer(end.peer),
        `as ${step.number}${later}`,
        'reached',
      );
    else if (then && 'fork' in then && branch === null)
      row(route?.name ?? '', `rings at ${then.fork.branches.length} systems`, 'goes-on');
    else if (then && 'rewrite' in then)
      row(route?.name ?? '', `becomes ${step.number}, and goes on below`, 'goes-on');
    else
      row(
        branch === null ? `${route?.name ?? ''}: to ${names.peer(peer ?? '')}` : names.peer(peer ?? ''),
        `as ${step.number}${later}, and is sent back`,
        'goes-on',
      );
    const isFork = then !== undefined && 'fork' in then && branch === null && end === null;
    step.branches.forEach((each, i) => add(each, at, depth + 1, isFork ? i : null));
  };
  add(trace, -1, 1, null);
  return rows;
}
