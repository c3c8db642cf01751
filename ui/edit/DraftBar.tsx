import { useMemo } from 'react';
import { View } from 'react-native';
import type { SlateEntry } from '../../core/changes/slate';
import { changeCount, type Draft } from '../data/draft';
import { space, useIsWide, usePalette } from '../kit/theme';
import { Button, IconButton } from '../kit/parts';
import { useAsked, useEffectOfEntries } from '../data/effect';
import { AskWorse, EffectNote } from './EffectNote';
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
  const last = draft.steps.at(-1);
  // The same list while the draft is the same, so that what it does is asked for once.
  const changes = useMemo(
    () => (count > 0 ? entries() : null),
    // eslint-disable-next-line react-hooks/exhaustive-deps
    [last, draft.base, count],
  );
  const effect = useEffectOfEntries(changes);
  const asked = useAsked(effect, onApply);
  const buttons = (
    <>
      {wide ? <Button kind="quiet" label="Discard" onPress={onDiscard} /> : null}
      <Button
        label="Put live"
        grow={!wide}
        busy={busy || asked.waits}
        onPress={count === 0 ? onApply : asked.press}
      />
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
        {wide && !asked.asks ? (
          buttons
        ) : wide ? null : (
          <Button kind="quiet" label="Discard" onPress={onDiscard} />
        )}
      </View>
      {count > 0 ? <EffectNote effect={effect} /> : null}
      {asked.asks ? (
        <AskWorse effect={effect} onSure={asked.sure} onBack={asked.back} />
      ) : wide ? null : (
        <View style={{ flexDirection: 'row', gap: space(2) }}>{buttons}</View>
      )}
    </View>
  );
}
