import type { TableGroup, TableGroups } from '../../api/slates';
import { View } from 'react-native';
import { showNumber } from '../../core/calls/dialling';
import { namesIn, type RouteTrace } from '../../core/routes';
import type { Route } from '../../core/estate';
import { RouteTree } from '../drawings/RouteTree';
import { traceRows } from '../drawings/routeRows';

import { space } from '../kit/theme';
import { Words } from '../kit/Words';
import { Differs } from './Differs';

/** What a slate does to calls at the route table: each difference with the way of a call before and after. */
export function TableImpactPart({ table }: { readonly table: TableGroups }) {
  const { groups, more, complete } = table;
  if (!complete)
    return <Words tone="ochre">The conditions of the routes tangle too much to go through all calls.</Words>;
  if (groups.length === 0) return null;
  return (
    <View>
      <Words strong style={{ paddingTop: space(2) }}>
        At the route table
      </Words>
      {groups.map((group) => (
        <Differs key={group.says} weight={group.weight} says={group.says}>
          <Ways group={group} table={table} />
        </Differs>
      ))}
      {more > 0 ? <Words tone="soft">{`and ${more} more`}</Words> : null}
    </View>
  );
}

function Ways({
  group: { call, was, is },
  table,
}: {
  readonly group: TableGroup;
  readonly table: TableGroups;
}) {
  const names = namesIn({ peers: table.peers.map((peer) => ({ ...peer, expects: 'any' })) }, [], []);
  const says = `${names.peer(call.from)} calls ${call.dialled.startsWith('+') ? showNumber(call.dialled) : call.dialled}${call.caller === undefined ? '' : `, from ${showNumber(call.caller)}`}`;
  const side = (title: string, trace: RouteTrace, routes: readonly Route[]) => (
    <View style={{ flexGrow: 1, flexBasis: 280 }}>
      <Words strong size="small">
        {title}
      </Words>
      <RouteTree call={says} rows={traceRows(trace, routes, names)} />
    </View>
  );
  return (
    <View style={{ flexDirection: 'row', flexWrap: 'wrap', gap: space(3), paddingBottom: space(2) }}>
      {side('Live now', was, table.was)}
      {side('With this slate', is, table.is)}
    </View>
  );
}
