import type { ShownEntry, SlatePage } from '../../api/slates';
import { useState } from 'react';
import { View } from 'react-native';
import { Portal, Snackbar } from 'react-native-paper';
import { useRouter } from 'expo-router';
import type { SlateEntry } from '../../core/changes/slate';
import { messageOf } from '../data/api';
import { putOnSlate, readOnSlate, type useSlateWork } from '../data/slates';
import { space, usePalette } from '../kit/theme';
import { Button, Empty, IconButton, Section } from '../kit/parts';
import { Words } from '../kit/Words';
import { ChangeLines } from '../edit/ChangeLines';
import { KIND_WORDS, pageOf } from '../edit/places';

const ACTIONS = { add: 'added', change: 'changed', remove: 'taken out' };

/** What is on a slate, object by object, and what stands in its way. */
export function EntriesPart({
  page,
  work,
  canEdit,
}: {
  readonly page: SlatePage;
  readonly work: ReturnType<typeof useSlateWork>;
  readonly canEdit: boolean;
}) {
  const { entries, stale, faults, clashes = [], more } = page;
  const [taken, setTaken] = useState<SlateEntry | null>(null);
  const take = async ({ kind, id, name }: ShownEntry) => {
    const { base, after } = await readOnSlate(page.slate.id, kind, id);
    work.take.mutate({ kind, id }, { onSuccess: () => setTaken({ kind, id, name, base, after }) });
  };
  return (
    <Section title="Changes" aside={<Words tone="soft">{page.slate.size}</Words>}>
      {entries.length === 0 ? (
        <Empty
          title="Nothing is on this slate yet"
          text="Change a person, group, menu, hours or template, and choose “To the slate” in the bar at the bottom."
        />
      ) : null}
      {stale > 0 ? (
        <View style={{ gap: space(2) }}>
          <Words tone="rust" strong live>
            {`${stale} of these ${stale === 1 ? 'was' : 'were'} changed outside this slate since. Both sides are shown below.`}
          </Words>
          {canEdit ? (
            <View style={{ flexDirection: 'row' }}>
              <Button
                label="Carry over: keep both sides’ changes"
                busy={work.carry.isPending}
                onPress={() => work.carry.mutate()}
              />
            </View>
          ) : null}
        </View>
      ) : null}
      {clashes.map(({ name, paths }) => (
        <Words key={name} tone="ochre" live>
          {`${name}: both changed ${paths.length} ${paths.length === 1 ? 'setting' : 'settings'}; the slate’s stands.`}
        </Words>
      ))}
      {faults.map((fault) => (
        <Words key={`${fault.path}${fault.message}`} tone="rust" live>
          {`${fault.path}: ${fault.message}`}
        </Words>
      ))}
      {work.carry.isError ? <Words tone="rust">{messageOf(work.carry.error)}</Words> : null}
      <View role="list">
        {entries.map((entry) => (
          <EntryRow
            key={`${entry.kind}/${entry.id}`}
            entry={entry}
            onFollowers={
              canEdit && entry.kind === 'template' && entry.action === 'change'
                ? () => work.followers.mutate(entry.id)
                : null
            }
            onTake={canEdit ? () => void take(entry) : null}
          />
        ))}
      </View>
      {more > 0 ? <Words tone="soft">{`and ${more} more`}</Words> : null}
      <Portal>
        <Snackbar
          visible={taken !== null}
          onDismiss={() => setTaken(null)}
          duration={10_000}
          action={{
            label: 'Undo',
            onPress: () => {
              if (taken) void putOnSlate(page.slate.id, [taken]);
            },
          }}
        >
          {`${taken?.name ?? ''} is off the slate.`}
        </Snackbar>
      </Portal>
    </Section>
  );
}

function EntryRow({
  entry,
  onTake,
  onFollowers,
}: {
  readonly onFollowers: (() => void) | null;
  readonly entry: ShownEntry;
  readonly onTake: (() => void) | null;
}) {
  const palette = usePalette();
  const router = useRouter();
  return (
    <View
      role="listitem"
      style={{ paddingVertical: space(2), gap: space(1), borderBottomWidth: 1, borderColor: palette.line }}
    >
      <View style={{ flexDirection: 'row', alignItems: 'center', gap: space(2) }}>
        <View style={{ flex: 1 }}>
          <Words strong>{entry.name}</Words>
          <Words size="small" tone="soft">
            {`${KIND_WORDS[entry.kind]}, ${ACTIONS[entry.action]} by ${entry.addedBy}`}
          </Words>
        </View>
        {entry.action === 'add' ? null : (
          <Button kind="quiet" label="Open" onPress={() => router.navigate(pageOf(entry.kind, entry.id))} />
        )}
        {onTake ? (
          <IconButton icon="close" label={`Take ${entry.name} off the slate`} onPress={onTake} />
        ) : null}
      </View>
      <ChangeLines changes={entry.changes} more={entry.more} />
      {onFollowers ? (
        <View style={{ flexDirection: 'row' }}>
          <Button label="Give it to all who follow it" onPress={onFollowers} />
        </View>
      ) : null}
      {entry.why ? <Words size="small">{`Why: ${entry.why}`}</Words> : null}
      {entry.stale ? (
        <View style={{ gap: 2, paddingLeft: space(3), borderLeftWidth: 3, borderColor: palette.rust }}>
          <Words size="small" tone="rust" strong>
            Live now:
          </Words>
          <ChangeLines changes={entry.stale.changes} />
        </View>
      ) : null}
      {entry.faults.map((fault) => (
        <Words key={`${fault.path}${fault.message}`} size="small" tone="rust">
          {`${fault.path}: ${fault.message}`}
        </Words>
      ))}
    </View>
  );
}
