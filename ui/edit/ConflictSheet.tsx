import { View } from 'react-native';
import { toldDifferences } from '../../core/editing';
import { space, usePalette } from '../kit/theme';
import { Button } from '../kit/parts';
import { Sheet } from '../kit/Sheet';
import { Words } from '../kit/Words';
import { sayPath, sayValue } from '../../core/changes/slate';

interface Named {
  readonly name: string;
}

/** Two have changed the same person, group or the like: both versions, setting by setting, and the choice between them. */
export function ConflictSheet({
  base,
  mine,
  theirs,
  mineLabel = 'Keep mine',
  onMine,
  onTheirs,
  onClose,
}: {
  readonly base: Named;
  readonly mine: Named;
  readonly theirs: Named;
  readonly mineLabel?: string;
  readonly onMine: () => void;
  readonly onTheirs: () => void;
  readonly onClose: () => void;
}) {
  const palette = usePalette();
  const byPath = new Map<string, { before: unknown; mine: unknown; theirs: unknown }>();
  for (const d of toldDifferences(base, mine))
    byPath.set(d.path, { before: d.before, mine: d.after, theirs: d.before });
  for (const d of toldDifferences(base, theirs))
    byPath.set(d.path, { before: d.before, mine: byPath.get(d.path)?.mine ?? d.before, theirs: d.after });
  return (
    <Sheet
      title="Changed by somebody else too"
      open
      onClose={onClose}
      footer={
        <>
          <Button grow label="Take theirs" onPress={onTheirs} />
          <Button grow kind="main" label={mineLabel} onPress={onMine} />
        </>
      }
    >
      <Words>
        Somebody put other changes of {base.name} live while you were at work. Nothing of yours is lost.
        Choose which version stands.
      </Words>
      {[...byPath].map(([path, { mine: m, theirs: t }]) => (
        <View
          key={path}
          style={{ gap: space(1), paddingBottom: space(3), borderBottomWidth: 1, borderColor: palette.line }}
        >
          <Words size="small" tone="soft">
            {sayPath(path)}
          </Words>
          <Words>Yours: {sayValue(m, path)}</Words>
          <Words>Theirs: {sayValue(t, path)}</Words>
        </View>
      ))}
    </Sheet>
  );
}
