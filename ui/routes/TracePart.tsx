import type { TableBody } from '../../api/routing';
import { View } from 'react-native';
import { bareNumber, showNumber } from '../../core/calls/dialling';
import type { RoutedCall, RouteNames } from '../../core/routes';
import { RouteTree } from '../drawings/RouteTree';
import { traceRows } from '../drawings/routeRows';
import { messageOf } from '../data/api';
import { useRouteTrace } from '../data/routing';
import { space } from '../kit/theme';
import { Choice, Field, Fold, Skeleton, Tick, Trouble } from '../kit/parts';
import { Words } from '../kit/Words';

export interface AskedCall {
  readonly from: string;
  readonly dialled: string;
  readonly caller: string;
  readonly down: readonly string[];
  readonly back: readonly string[];
  readonly atMs?: number;
}
export const noCall = (from: string): AskedCall => ({ from, dialled: '', caller: '', down: [], back: [] });

const DIALLED = /^\+?[0-9*#A-D]+$/;

/** The call as the engine takes it; null: there is nothing to trace yet. */
function callOf(
  { from, dialled, caller, down, back, atMs }: AskedCall,
  { peers }: TableBody,
): RoutedCall | null {
  if (!DIALLED.test(bareNumber(dialled)) || from === '') return null;
  return {
    from,
    dialled: bareNumber(dialled),
    ...(DIALLED.test(bareNumber(caller)) ? { caller: bareNumber(caller) } : {}),
    ...(atMs === undefined ? {} : { atMs }),
    down,
    sendsBack: Object.fromEntries(
      back.map((id) => [id, peers.find((peer) => peer.id === id)?.sendsBack ?? {}]),
    ),
  };
}

/** A call through the table as it stands, drawn as a tree, with why routes passed it on. */
export function TracePart({
  table,
  names,
  asked,
  onChange,
}: {
  readonly table: TableBody;
  readonly names: RouteNames;
  readonly asked: AskedCall;
  readonly onChange: (asked: AskedCall) => void;
}) {
  const call = callOf(asked, table);
  const trace = useRouteTrace(table, call);
  const set = (patch: Partial<AskedCall>) => onChange({ ...asked, ...patch });
  const toggle = (all: readonly string[], id: string) =>
    all.includes(id) ? all.filter((each) => each !== id) : [...all, id];
  const rows = trace.data ? traceRows(trace.data, table.routes, names) : [];
  const passed = rows.flatMap((row) => row.passed);
  const shown = call && (call.dialled.startsWith('+') ? showNumber(call.dialled) : call.dialled);
  const returning = table.peers.filter(({ sendsBack }) => sendsBack);
  return (
    <View style={{ gap: space(3) }}>
      <Choice
        titled
        label="From"
        value={asked.from}
        options={table.peers.map(({ id, name }) => ({ value: id, label: name }))}
        onChange={(from) => set({ from })}
      />
      <Field
        label="Number, as it comes to the table"
        mono
        keyboard="phone-pad"
        value={asked.dialled}
        onChange={(dialled) => set({ dialled })}
        error={
          asked.dialled !== '' && !DIALLED.test(bareNumber(asked.dialled))
            ? 'Digits, with or without + before them'
            : null
        }
      />
      {call && trace.isError ? (
        <Trouble message={messageOf(trace.error)} retry={() => void trace.refetch()} />
      ) : null}
      {call && trace.isPending ? <Skeleton rows={2} /> : null}
      {call && trace.data ? (
        <RouteTree call={`${names.peer(call.from)} calls ${shown}`} rows={rows} />
      ) : call ? null : (
        <Words tone="soft">Type a number to see its way through the table.</Words>
      )}
      {passed.length > 0 ? (
        <View style={{ marginHorizontal: -space(4) }}>
          <Fold title={`Why ${passed.length === 1 ? 'one route' : `${passed.length} routes`} passed it on`}>
            <View style={{ paddingHorizontal: space(4), gap: space(1) }}>
              {passed.map(({ route, because }, i) => (
                <Words key={`${route}-${i}`} size="small">
                  <Words size="small" strong>
                    {table.routes.find(({ id }) => id === route)?.name ?? route}
                  </Words>
                  {`: ${because}`}
                </Words>
              ))}
            </View>
          </Fold>
        </View>
      ) : null}
      <View style={{ marginHorizontal: -space(4) }}>
        <Fold
          title="Caller, and systems out of order"
          open={asked.caller !== '' || asked.down.length > 0 || asked.back.length > 0}
        >
          <View style={{ paddingHorizontal: space(4), gap: space(2) }}>
            <Field
              label="The caller’s number, where it counts"
              mono
              keyboard="phone-pad"
              value={asked.caller}
              onChange={(caller) => set({ caller })}
            />
            {table.peers.map(({ id, name }) => (
              <Tick
                key={id}
                label={`${name} is out of order or full`}
                on={asked.down.includes(id)}
                onPress={() => set({ down: toggle(asked.down, id) })}
              />
            ))}
            {returning.map(({ id, name }) => (
              <Tick
                key={`back ${id}`}
                label={`${name} sends the call back`}
                on={asked.back.includes(id)}
                onPress={() => set({ back: toggle(asked.back, id) })}
              />
            ))}
          </View>
        </Fold>
      </View>
    </View>
  );
}
