import { View } from 'react-native';
import { changeCount, type Draft } from '../stores/draft';
import { space, usePalette } from '../theme';
import { Button, IconButton } from './parts';
import { Words } from './Words';

/** In view while changes of a person are not in force yet. */
export function DraftBar({
  draft,
  busy,
  trouble,
  onUndo,
  onDiscard,
  onApply,
}: {
  readonly draft: Draft;
  readonly busy: boolean;
  readonly trouble: string | null;
  readonly onUndo: () => void;
  readonly onDiscard: () => void;
  readonly onApply: () => void;
}) {
  const palette = usePalette();
  const count = changeCount(draft);
  return (
    <View
      role="region"
      aria-label="Changes not in force"
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
        <IconButton icon="undo" label="Take back the last change" onPress={onUndo} />
        <Words size="small" strong live style={{ flex: 1 }}>
          {count === 0
            ? 'Back as it was'
            : `${count} ${count === 1 ? 'setting' : 'settings'} changed, not in force`}
        </Words>
        <Button kind="quiet" label="Discard" onPress={onDiscard} />
        <Button kind="main" label="Put in force" busy={busy} onPress={onApply} />
      </View>
    </View>
  );
}
