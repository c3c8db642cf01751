import type { ListHead, TableBody } from '../../api/routing';
import { useState } from 'react';
import { View } from 'react-native';
import { sayRoute, type RouteNames } from '../../core/routes';
import { messageOf } from '../data/api';
import { useAnalysis, useProposal } from '../data/routing';
import { space, usePalette } from '../kit/theme';
import { Button, Choice, Empty, Skeleton, Trouble } from '../kit/parts';
import { Sheet } from '../kit/Sheet';
import { TimeField } from '../kit/TimeField';
import { Words } from '../kit/Words';

/** "People on this list have phones on two systems": the fork that this needs, at its place, seen before it is taken. */
export function TwoSystemsSheet({
  table,
  lists,
  names,
  onTake,
  onClose,
}: {
  readonly table: TableBody;
  readonly lists: readonly ListHead[];
  readonly names: RouteNames;
  readonly onTake: (table: TableBody) => void;
  readonly onClose: () => void;
}) {
  const palette = usePalette();
  const [asked, setAsked] = useState({
    list: lists[0]?.id ?? '',
    first: table.lines ?? table.peers[0]?.id ?? '',
    second: table.peers.find(({ id }) => id !== (table.lines ?? table.peers[0]?.id))?.id ?? '',
    delayMs: 3000,
  });
  const proposal = useProposal();
  const proposed = proposal.data;
  const set = (patch: Partial<typeof asked>) => {
    proposal.reset();
    setAsked({ ...asked, ...patch });
  };
  const peers = table.peers.map(({ id, name }) => ({ value: id, label: name }));
  if (lists.length === 0 || table.peers.length < 2)
    return (
      <Sheet title="Phones on two systems" open onClose={onClose}>
        <Empty
          title="Something is missing"
          text="This needs a list of the people’s numbers, and two systems. Add them under Lists and Systems."
        />
      </Sheet>
    );
  const at = proposed?.table.routes.findIndex(({ id }) => id === proposed.route.id) ?? -1;
  const neighbours = proposed ? proposed.table.routes.slice(Math.max(0, at - 1), at + 2) : [];
  return (
    <Sheet
      title="Phones on two systems"
      open
      onClose={onClose}
      footer={
        proposed ? (
          <Button kind="main" grow label="Take it into the table" onPress={() => onTake(proposed.table)} />
        ) : (
          <Button
            kind="main"
            grow
            label="Propose the route"
            busy={proposal.isPending}
            disabled={asked.first === asked.second}
            onPress={() => proposal.mutate({ table, asked })}
          />
        )
      }
    >
      {proposal.isError ? <Trouble message={messageOf(proposal.error)} /> : null}
      {proposed ? (
        <View style={{ gap: space(2) }}>
          <Words strong live>{`As route ${at + 1} of ${proposed.table.routes.length}:`}</Words>
          {neighbours.map((route) => {
            const isNew = route.id === proposed.route.id;
            return (
              <View
                key={route.id}
                style={{
                  padding: space(2),
                  borderLeftWidth: 4,
                  borderColor: isNew ? palette.accent : palette.line,
                  backgroundColor: palette.sheet,
                }}
              >
                <Words strong={isNew} tone={isNew ? 'ink' : 'soft'} size="small">
                  {`${isNew ? 'New: ' : ''}${route.name}`}
                </Words>
                <Words size="small" tone={isNew ? 'ink' : 'soft'}>
                  {sayRoute(route, names)}
                </Words>
              </View>
            );
          })}
          <FindingsChange before={table} after={proposed.table} lists={lists} />
        </View>
      ) : null}
      <Choice
        titled
        label="The people on"
        value={asked.list}
        options={lists.map(({ id, name }) => ({ value: id, label: name }))}
        onChange={(list) => set({ list })}
      />
      <Choice
        titled
        label="have phones on"
        value={asked.first}
        options={peers}
        onChange={(first) => set({ first })}
      />
      <Choice
        titled
        label="and on"
        value={asked.second}
        options={peers}
        onChange={(second) => set({ second })}
      />
      {asked.first === asked.second ? <Words tone="rust">Two different systems are needed.</Words> : null}
      <TimeField
        label="which rings so much later"
        value={asked.delayMs}
        step={1000}
        onChange={(ms) => ms !== null && set({ delayMs: ms })}
      />
    </Sheet>
  );
}

/** How many findings of weight there are before and after. */
function FindingsChange({
  before,
  after,
  lists,
}: {
  before: TableBody;
  after: TableBody;
  lists: readonly ListHead[];
}) {
  const now = useAnalysis(before, lists);
  const then = useAnalysis(after, lists);
  if (!now.data || !then.data || then.isPlaceholderData) return <Skeleton rows={1} />;
  const key = ({ kind, route = '', list = '' }: { kind: string; route?: string; list?: string }) =>
    `${kind} ${route} ${list}`;
  const heavy = (all: typeof now.data.findings) => all.filter(({ weight }) => weight !== 'note');
  const had = new Set(heavy(now.data.findings).map(key));
  const has = new Set(heavy(then.data.findings).map(key));
  const gone = heavy(now.data.findings).filter((finding) => !has.has(key(finding)));
  const come = heavy(then.data.findings).filter((finding) => !had.has(key(finding)));
  return (
    <View style={{ gap: space(1) }}>
      {gone.length + come.length === 0 ? (
        <Words size="small">It neither brings nor ends a finding.</Words>
      ) : null}
      {gone.map((finding) => (
        <Words key={`gone ${key(finding)}`} size="small" tone="kelp">{`Ends: ${finding.says}`}</Words>
      ))}
      {come.map((finding) => (
        <Words key={`come ${key(finding)}`} size="small" tone="rust">{`Brings: ${finding.says}`}</Words>
      ))}
    </View>
  );
}
