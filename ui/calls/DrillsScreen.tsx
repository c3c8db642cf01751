import type { DrillNow } from '../../api/findings';
import { useState } from 'react';
import { View } from 'react-native';
import { Portal, Snackbar } from 'react-native-paper';
import { useRouter } from 'expo-router';
import type { Drill } from '../../core/calls/drills';
import { api, messageOf } from '../data/api';
import { saveFile } from '../data/files';
import { keepDrill, useDrills, useRemoveDrill } from '../data/findings';
import { useCanEdit, useRole } from '../data/session';
import { space, usePalette } from '../kit/theme';
import { PageFrame } from '../kit/PageFrame';
import { Button, Empty, IconButton, ProofMark, Section, Skeleton, Trouble } from '../kit/parts';
import { Words } from '../kit/Words';

/** All drills with how they go now. */
export function DrillsScreen() {
  const drills = useDrills();
  const canEdit = useCanEdit();
  const remove = useRemoveDrill();
  const [removed, setRemoved] = useState<Drill | null>(null);
  if (drills.isError)
    return <Trouble message={messageOf(drills.error)} retry={() => void drills.refetch()} />;
  if (drills.isPending) return <Skeleton />;
  const rows = drills.data.drills;
  const failing = rows.filter(({ failed }) => failed.length > 0).length;
  const file = async () => {
    const text = await api<object>('GET', '/api/drills/report?form=file');
    saveFile('drills.json', `${JSON.stringify(text, null, 1)}\n`, 'application/json');
  };
  return (
    <PageFrame
      title="Drills"
      term="drill"
      text={rows.length > 0 ? `${rows.length - failing} hold  ${failing} fail` : ''}
      back={null}
      aside={
        canEdit && rows.length > 0 ? <Button kind="quiet" label="Export" onPress={() => void file()} /> : null
      }
    >
      <Section>
        {rows.length === 0 ? (
          <Empty
            title="No drills yet"
            text="Try a call to somebody, and choose “Keep as a drill”: its result is then expected of every slate before it is put live."
          />
        ) : (
          <View role="list">
            {rows.map((row) => (
              <DrillRow
                key={row.drill.id}
                row={row}
                onRemove={() => remove.mutate(row.drill.id, { onSuccess: () => setRemoved(row.drill) })}
              />
            ))}
          </View>
        )}
        {remove.isError ? <Words tone="rust">{messageOf(remove.error)}</Words> : null}
      </Section>
      <Portal>
        <Snackbar
          visible={removed !== null}
          onDismiss={() => setRemoved(null)}
          duration={10_000}
          action={{
            label: 'Undo',
            onPress: () => {
              if (removed) void keepDrill(removed);
            },
          }}
        >
          Drill removed.
        </Snackbar>
      </Portal>
    </PageFrame>
  );
}

const SHOWN = 5;

function DrillRow({ row, onRemove }: { readonly row: DrillNow; readonly onRemove: () => void }) {
  const palette = usePalette();
  const router = useRouter();
  const role = useRole();
  const { drill, whom, ok, failed } = row;
  return (
    <View
      role="listitem"
      style={{ gap: space(1), paddingVertical: space(2), borderBottomWidth: 1, borderColor: palette.line }}
    >
      <View style={{ flexDirection: 'row', alignItems: 'center', gap: space(3) }}>
        <ProofMark state={failed.length > 0 ? 'broken' : 'holds'} />
        <View style={{ flex: 1 }}>
          <Words strong>{drill.name}</Words>
          <Words size="small" tone="soft">{`${whom}, ${ok} hold, ${failed.length} fail`}</Words>
        </View>
        {role === 'manager' ? null : (
          <IconButton icon="close" label={`Remove ${drill.name}`} onPress={onRemove} />
        )}
      </View>
      {failed.slice(0, SHOWN).map((each) => (
        <View key={each.for.id} style={{ flexDirection: 'row', alignItems: 'center', gap: space(2) }}>
          <View style={{ flex: 1 }}>
            <Words size="small" tone="rust">{`${each.for.name}: ${each.says}`}</Words>
          </View>
          {each.for.kind === 'person' && each.call ? (
            <Button
              kind="quiet"
              label="Open"
              onPress={() => router.navigate(`/people/${encodeURIComponent(each.for.id)}`)}
            />
          ) : null}
        </View>
      ))}
      {failed.length > SHOWN ? (
        <Words size="small" tone="soft">{`and ${failed.length - SHOWN} more`}</Words>
      ) : null}
    </View>
  );
}
