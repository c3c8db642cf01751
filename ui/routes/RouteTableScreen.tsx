import type { TableBody, TablePage } from '../../api/routing';
import { useState, type ReactNode } from 'react';
import { View, type ViewStyle } from 'react-native';
import { andList, type Fault, type Schedule, type Route } from '../../core/estate';
import { applyMend, namesIn, sayRoute, type RouteFinding, type TableMend } from '../../core/routes';
import { messageOf } from '../data/api';
import { idFrom } from '../data/objects';
import { bodyOf, useAnalysis, useDialling, useGuard, useRouting, useTableWork } from '../data/routing';
import { useCanEdit } from '../data/session';
import { space, useIsWide } from '../kit/theme';
import { ObjectBar } from '../edit/ObjectBar';
import { Ordered } from '../kit/Ordered';
import { PageFrame } from '../kit/PageFrame';
import { Button, Empty, Field, Section, Skeleton, Tick, Trouble } from '../kit/parts';
import { useNamed } from '../edit/Search';
import { ListsPart } from './ListsPart';
import { PeersPart } from './PeersPart';
import { RouteEditor } from './RouteEditor';
import { noCall, TracePart, type AskedCall } from './TracePart';
import { TwoSystemsSheet } from './TwoSystemsSheet';
import { Sheet } from '../kit/Sheet';
import { Words } from '../kit/Words';
import { Findings, RouteRow } from './RouteRow';

const MANY = 8;

export function RouteTableScreen() {
  const page = useRouting();
  const schedules = useNamed('schedule');
  if (page.isError) return <Trouble message={messageOf(page.error)} retry={() => void page.refetch()} />;
  if (page.isPending || schedules.isPending) return <Skeleton />;
  return <TableView page={page.data} schedules={(schedules.data?.objects ?? []) as readonly Schedule[]} />;
}

/** Faults of the server's answer that lie in one route, with paths that begin in it. */
const faultsOfRoute = (faults: readonly Fault[], at: number): readonly Fault[] =>
  faults.flatMap(({ path, message }) =>
    path.startsWith(`routes[${at}].`) ? [{ path: path.slice(`routes[${at}].`.length), message }] : [],
  );

/** The table that joins several systems: its routes as sentences, what is wrong with them, and any call's way through. */
function TableView({ page, schedules }: { page: TablePage; schedules: readonly Schedule[] }) {
  const wide = useIsWide();
  const canEdit = useCanEdit();
  const work = useTableWork(page);
  const dialling = useDialling();
  const table = bodyOf(work.object);
  const { lists } = page;
  const names = namesIn(table, lists, schedules);
  const analysis = useAnalysis(work.changed ? table : undefined, lists);
  const findings = analysis.data?.findings ?? [];
  const guard = useGuard();
  const watched = guard.data?.findings.filter(({ kind }) => kind === 'route') ?? [];
  const [open, setOpen] = useState<string | null>(null);
  const [search, setSearch] = useState('');
  const [onlyWrong, setOnlyWrong] = useState(false);
  const [two, setTwo] = useState(false);
  const [asked, setAsked] = useState<AskedCall>(noCall(table.lines ?? table.peers[0]?.id ?? ''));
  const [tracing, setTracing] = useState(false);
  const edit = (change: (table: TableBody) => TableBody) =>
    work.edit((before) => ({ ...change(bodyOf(before)), name: before.name }));
  const setRoutes = (change: (routes: readonly Route[]) => readonly Route[]) =>
    edit((before) => ({ ...before, routes: change(before.routes) }));
  const mend = canEdit
    ? (each: TableMend) =>
        edit((before) => bodyOf({ ...applyMend({ ...before, lists: [] }, each), name: '' }))
    : null;
  const show = ({ call }: RouteFinding) => {
    if (!call) return;
    setAsked({
      from: call.from,
      dialled: call.dialled,
      caller: call.caller ?? '',
      down: [],
      back: Object.keys(call.sendsBack ?? {}),
      ...(call.atMs === undefined ? {} : { atMs: call.atMs }),
    });
    if (!wide) setTracing(true);
  };
  const add = () => {
    const taken = new Set(table.routes.map(({ id }) => id));
    let id = 'route';
    for (let n = table.routes.length + 1; taken.has(id); n += 1) id = idFrom(`route ${n}`);
    const peer = table.peers[0]?.id ?? '';
    setRoutes((routes) => [
      ...routes,
      { id, name: 'New route', enabled: true, when: {}, then: { send: { peer } } },
    ]);
    setOpen(id);
  };
  const at = table.routes.findIndex(({ id }) => id === open);
  const route = table.routes[at];
  const wanted = search.trim().toLowerCase();
  const isWhole = wanted === '' && !onlyWrong;
  const wrong = new Set(
    findings.flatMap(({ route: id, weight }) => (id === undefined || weight === 'note' ? [] : [id])),
  );
  const shown = table.routes.filter(
    (each) =>
      (!onlyWrong || wrong.has(each.id)) &&
      (wanted === '' || `${each.name} ${sayRoute(each, names)}`.toLowerCase().includes(wanted)),
  );
  const apart = findings.filter((finding) => finding.route === undefined);
  const ofRoute = (id: string) => findings.filter((finding) => finding.route === id);
  const row = (each: Route, handle?: ReactNode) => {
    const place = table.routes.indexOf(each);
    return (
      <RouteRow
        route={each}
        place={place}
        isFirst={place === 0 || !isWhole}
        count={table.routes.length}
        sentence={sayRoute(each, names)}
        handle={handle}
        faults={faultsOfRoute(work.faults, place)}
        onOpen={canEdit ? () => setOpen(each.id) : null}
        onMove={canEdit && isWhole ? (to) => setRoutes((routes) => moved(routes, place, to)) : null}
      >
        <Findings all={ofRoute(each.id)} table={table} names={names} onShow={show} onMend={mend} />
        {watched
          .filter(({ id }) => id === each.id && !work.changed)
          .map(({ says }) => (
            <Words key={says} size="small" style={{ paddingBottom: space(2) }}>
              <Words size="small" strong tone="ochre">
                {'Fraud protection: '}
              </Words>
              {says}
            </Words>
          ))}
      </RouteRow>
    );
  };
  const trace = <TracePart table={table} names={names} asked={asked} onChange={setAsked} />;
  return (
    <PageFrame title="Route table" term="route-table" back={null} bar={<ObjectBar work={work} />}>
      <Section>
        <Words size="lead" strong live>
          {analysis.data
            ? summary(table, findings)
            : `${table.routes.length} routes, ${table.peers.length} systems.`}
        </Words>
        {analysis.isError ? (
          <Trouble message={messageOf(analysis.error)} retry={() => void analysis.refetch()} />
        ) : analysis.isFetching ? (
          <Words size="small" tone="soft">
            Going through every number…
          </Words>
        ) : null}
        {analysis.data && !analysis.data.complete ? (
          <Words tone="ochre">
            The conditions of the routes tangle too much to go through all of them; only lists and names were
            checked.
          </Words>
        ) : null}
        {wide ? null : (
          <Button icon="play" label="Follow a number through the table" onPress={() => setTracing(true)} />
        )}
        <Findings all={apart} table={table} names={names} onShow={show} onMend={mend} />
      </Section>
      <View style={{ flexDirection: wide ? 'row' : 'column', alignItems: 'stretch' }}>
        <View style={wide ? { flex: 3 } : {}}>
          <Section
            title="Routes, from the top"
            aside={
              canEdit && table.peers.length > 0 ? (
                <Button kind="quiet" icon="add" label="Add a route" onPress={add} />
              ) : null
            }
          >
            {table.routes.length > MANY ? (
              <Field label="Find a route" value={search} onChange={setSearch} />
            ) : null}
            {wrong.size > 0 ? (
              <Tick
                label="Only routes with something wrong"
                on={onlyWrong}
                onPress={() => setOnlyWrong(!onlyWrong)}
              />
            ) : null}
            {table.routes.length === 0 ? (
              <Empty
                title="No routes yet"
                text={
                  table.peers.length === 0
                    ? 'First say which systems are joined, then which calls go where.'
                    : 'The first route from the top whose conditions hold decides.'
                }
              />
            ) : shown.length === 0 ? (
              <Empty title="No route fits" text="Nothing in a name or a sentence is like that." />
            ) : isWhole ? (
              <View>
                <Ordered
                  ids={table.routes.map(({ id }) => id)}
                  what="route"
                  onMove={canEdit ? (from, to) => setRoutes((routes) => moved(routes, from, to)) : null}
                  draw={(i, handle) => row(table.routes[i]!, handle)}
                />
              </View>
            ) : (
              shown.map((each) => <View key={each.id}>{row(each)}</View>)
            )}
            {canEdit ? (
              <Button label="People on a list have phones on two systems" onPress={() => setTwo(true)} />
            ) : null}
          </Section>
        </View>
        <View style={wide ? { flex: 2 } : {}}>
          {wide ? (
            <View style={STICKY}>
              <Section title="Follow a number">{trace}</Section>
            </View>
          ) : null}
        </View>
      </View>
      <View style={{ flexDirection: wide ? 'row' : 'column' }}>
        <View style={wide ? { flex: 1 } : {}}>
          <PeersPart table={table} trunks={dialling.data?.trunks ?? []} onEdit={canEdit ? edit : null} />
        </View>
        <View style={wide ? { flex: 1 } : {}}>
          <ListsPart lists={lists} canEdit={canEdit} />
        </View>
      </View>
      {route && canEdit ? (
        <RouteEditor
          key={route.id}
          route={route}
          table={table}
          lists={lists}
          schedules={schedules}
          names={names}
          faults={faultsOfRoute(work.faults, at)}
          onChange={(next) =>
            setRoutes((routes) => routes.map((each) => (each.id === next.id ? next : each)))
          }
          onRemove={() => {
            setOpen(null);
            setRoutes((routes) => routes.filter(({ id }) => id !== route.id));
          }}
          onClose={() => setOpen(null)}
        />
      ) : null}
      {two ? (
        <TwoSystemsSheet
          table={table}
          lists={lists}
          names={names}
          onTake={(next) => {
            edit(() => next);
            setTwo(false);
          }}
          onClose={() => setTwo(false)}
        />
      ) : null}
      {tracing && !wide ? (
        <Sheet title="Follow a number" open onClose={() => setTracing(false)}>
          {trace}
        </Sheet>
      ) : null}
    </PageFrame>
  );
}

// On the web a part can stay in view while the page moves on.
const STICKY = { position: 'sticky', top: 0 } as unknown as ViewStyle;

const moved = (routes: readonly Route[], from: number, to: number): readonly Route[] => {
  const rest = routes.filter((_, i) => i !== from);
  return [...rest.slice(0, to), routes[from]!, ...rest.slice(to)];
};

function summary(table: TableBody, findings: readonly RouteFinding[]): string {
  const count = (weight: RouteFinding['weight'], what: string) => {
    const n = findings.filter((finding) => finding.weight === weight).length;
    return n === 0 ? '' : n === 1 ? `one ${what}` : `${n} ${what}s`;
  };
  const heavy = andList([count('fault', 'fault'), count('risk', 'risk')].filter((each) => each !== ''));
  return `${table.routes.length} routes, ${table.peers.length} systems: ${heavy || 'nothing wrong'}.`;
}
