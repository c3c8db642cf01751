import { View } from 'react-native';
import type { EntryKind } from '../../core/changes/slate';
import { readOnSlate, useSlate, useCurrentSlate } from '../data/slates';
import { usePalette } from '../kit/theme';
import { Note } from '../kit/Marked';
import { Button } from '../kit/parts';
import { Words } from '../kit/Words';

/** Says on an object's page that the slate in work changes it, with the way to go on with that. */
export function SlateNote({
  kind,
  id,
  onTake,
}: {
  readonly kind: EntryKind;
  readonly id: string;
  /** Goes on with the object as the slate has it; null while it cannot be. */
  readonly onTake: ((after: unknown) => void) | null;
}) {
  const palette = usePalette();
  const { slate } = useCurrentSlate();
  const page = useSlate(slate?.id ?? null);
  const entry = page.data?.entries.find((each) => each.kind === kind && each.id === id);
  if (!slate || !entry) return null;
  const take = () =>
    void readOnSlate(slate.id, kind, id).then(({ after }) => {
      if (after !== null) onTake?.(after);
    });
  const what =
    entry.action === 'remove'
      ? 'is taken out'
      : `has ${entry.changes.length + entry.more} ${entry.changes.length + entry.more === 1 ? 'setting' : 'settings'} changed`;
  return (
    <Note color={palette.accent}>
      <Words>
        {`On the slate “${slate.name}” this ${what}. What is shown here is live.`}
        {entry.stale ? ' It was changed since by somebody else.' : ''}
      </Words>
      {onTake && entry.action !== 'remove' ? (
        <View style={{ flexDirection: 'row' }}>
          <Button label="Go on with the slate’s" onPress={take} />
        </View>
      ) : null}
    </Note>
  );
}
