import { View } from 'react-native';
import type { SlateEntry } from '../../core/changes/slate';
import { changeCount, type Draft } from '../data/draft';
import { space, useIsWide, usePalette } from '../kit/theme';
import { Button, IconButton } from '../kit/parts';
import { ToSlate } from './ToSlate';
import { Words } from '../kit/Words';

/** In view while changes of a person are not live yet. */
export function DraftBar({
  draft,
  busy,
  trouble,
  onUndo,
  onDiscard,
  onApply,
  entries,
  onSlate,
}: {
  readonly draft: Draft;
  readonly busy: boolean;
  readonly trouble: string | null;
  readonly onUndo: () => void;
  readonly onDiscard: () => void;
  readonly onApply: () => void;
  /** The changes for a slate, and what is done once they are on it. */
  readonly entries: () => readonly SlateEntry[];
  readonly onSlate: () => void;
}) {
  const palette = usePalette();
  const count = changeCount(draft);
  const wide = useIsWide();
  const buttons = (
    <>
      {wide ? <Button kind="quiet" label="Discard" onPress={onDiscard} /> : null}
      <Button label="Put live" grow={!wide} busy={busy} onPress={onApply} />
      <ToSlate entries={entries} grow={!wide} onDone={onSlate} />
    </>
  );
  return (
    <View
      role="region"
      aria-label="Changes not live"
      style={{
        backgroundColor: palette.tint,
        borderTopWidth: 2,
        borderColor: palette.accent,
        paddingHorizontal: space(4),
        paddingVertical: space(2),
        gap: space(1),
      }}
    >
      {trouble ? (
        <View role="alert">
          <Words tone="rust" strong size="small">
            {trouble}
          </Words>
        </View>
      ) : null}
      <View style={{ flexDirection: 'row', alignItems: 'center', gap: space(2) }}>
        <IconButton icon="undo" label="Undo last change" onPress={onUndo} />
        <Words size="small" strong live style={{ flex: 1 }}>
          {count === 0
            ? 'Back as it was'
            : `${count} ${count === 1 ? 'setting' : 'settings'} changed, not live`}
        </Words>
        {wide ? buttons : <Button kind="quiet" label="Discard" onPress={onDiscard} />}
      </View>
      {wide ? null : <View style={{ flexDirection: 'row', gap: space(2) }}>{buttons}</View>}
    </View>
  );
}
