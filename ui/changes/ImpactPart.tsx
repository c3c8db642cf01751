import type { ImpactState } from '../../api/slates';
import { useState } from 'react';
import { View } from 'react-native';
import { useRouter } from 'expo-router';
import type { Change, ImpactGroup } from '../../core/assurance/impact';
import { messageOf } from '../data/api';
import { useImpact, useStrips } from '../data/slates';
import { space } from '../kit/theme';
import { RingStrip } from '../drawings/RingStrip';
import { Button, Section, Skeleton } from '../kit/parts';
import { Words } from '../kit/Words';
import { pageOf } from '../edit/places';
import { Differs } from './Differs';
import { TableImpactPart } from './TableImpactPart';

const SHOWN = 12;

/** How much was gone through. */
const looked = ({ total, table }: ImpactState): string =>
  [
    total > 0 || !table ? `${total} looked at` : '',
    table ? `${table.tried.toLocaleString('en')} calls at the route table` : '',
  ]
    .filter(Boolean)
    .join(', ');

/** Whose calls a slate makes end differently, by kind of difference; each with a call before and after. */
export function ImpactPart({
  slate,
  version,
  size,
}: {
  readonly slate: number;
  readonly version: number;
  readonly size: number;
}) {
  const { state, cancel } = useImpact(slate, version);
  const [all, setAll] = useState(false);
  const impact = state.data;
  if (size === 0) return null;
  return (
    <Section
      title="Ripple"
      term="ripple"
      aside={
        impact?.state === 'done' ? (
          <Words size="small" tone="soft">
            {looked(impact)}
          </Words>
        ) : null
      }
    >
      {state.isError ? <Words tone="rust">{messageOf(state.error)}</Words> : null}
      {!impact ? (
        <Skeleton rows={2} />
      ) : impact.state === 'running' ? (
        <View style={{ gap: space(2) }}>
          <Words live>{`Going through the calls of ${impact.total}: ${impact.done} done`}</Words>
          <View style={{ flexDirection: 'row' }}>
            <Button label="Stop" onPress={() => cancel.mutate()} />
          </View>
        </View>
      ) : impact.state !== 'done' ? (
        <View style={{ gap: space(2) }}>
          <Words>{impact.state === 'cancelled' ? 'Stopped.' : 'This could not be worked out.'}</Words>
          <View style={{ flexDirection: 'row' }}>
            <Button label="Work it out again" onPress={() => void state.refetch()} />
          </View>
        </View>
      ) : impact.groups.length === 0 && (impact.table?.groups.length ?? 0) === 0 ? (
        <Words>
          {impact.table?.complete === false
            ? 'The conditions of the routes tangle too much to go through all calls.'
            : 'No call ends differently, in any case that was checked.'}
        </Words>
      ) : (
        <>
          {(all ? impact.groups : impact.groups.slice(0, SHOWN)).map((group) => (
            <Differs key={group.key} weight={group.weight} says={group.says}>
              <Shown group={group} slate={slate} version={version} />
            </Differs>
          ))}
          {impact.groups.length > SHOWN && !all ? (
            <Button
              kind="quiet"
              label={`Show all ${impact.groups.length} differences`}
              onPress={() => setAll(true)}
            />
          ) : null}
          {impact.table ? <TableImpactPart table={impact.table} /> : null}
        </>
      )}
    </Section>
  );
}

/** Whom a difference meets, and the call of one of them before and after. */
function Shown({
  group,
  slate,
  version,
}: {
  readonly group: ImpactGroup;
  readonly slate: number;
  readonly version: number;
}) {
  const router = useRouter();
  const byStart = [...new Map(group.changes.map((change) => [change.start.id, change])).values()];
  const [change, setChange] = useState<Change>(group.changes[0]!);
  const { kind, id } = change.start;
  const strips = useStrips(slate, version, { kind, id, call: change.call, status: change.status });
  return (
    <View style={{ gap: space(2), paddingBottom: space(2) }}>
      <View style={{ flexDirection: 'row', flexWrap: 'wrap', gap: space(1) }}>
        {byStart.slice(0, SHOWN).map((each) => (
          <Button
            key={each.start.id}
            kind={each === change ? 'plain' : 'quiet'}
            label={each.name}
            onPress={() => setChange(each)}
          />
        ))}
        {byStart.length > SHOWN ? (
          <Words
            tone="soft"
            style={{ paddingVertical: space(3) }}
          >{`and ${byStart.length - SHOWN} more`}</Words>
        ) : null}
      </View>
      {strips.isError ? <Words tone="rust">{messageOf(strips.error)}</Words> : null}
      {strips.data ? (
        <View style={{ gap: space(3) }}>
          {(['before', 'after'] as const).map((side) => {
            const strip = strips.data[side];
            return (
              <View key={side}>
                <Words strong size="small">
                  {side === 'before' ? 'Live now' : 'With this slate'}
                </Words>
                {strip ? (
                  <RingStrip strip={strip} bare />
                ) : (
                  <Words tone="soft">Nobody has this number.</Words>
                )}
              </View>
            );
          })}
        </View>
      ) : (
        <Skeleton rows={2} />
      )}
      <View style={{ flexDirection: 'row' }}>
        <Button
          kind="quiet"
          label={`Open ${change.name}`}
          onPress={() => router.navigate(pageOf(kind, id))}
        />
      </View>
    </View>
  );
}
