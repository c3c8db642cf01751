import { View } from 'react-native';
import { differences, type Person } from '../../core/estate';
import { space, usePalette } from '../theme';
import { Button } from './parts';
import { Sheet } from './Sheet';
import { Words } from './Words';
import { sayPath, sayValue } from './sayChange';

/** Two have changed the same person: both versions, setting by setting, and the choice between them. */
export function ConflictSheet({
  base,
  mine,
  theirs,
  onMine,
  onTheirs,
  onClose,
}: {
  readonly base: Person;
  readonly mine: Person;
  readonly theirs: Person;
  readonly onMine: () => void;
  readonly onTheirs: () => void;
  readonly onClose: () => void;
}) {
  const palette = usePalette();
  const byPath = new Map<string, { before: unknown; mine: unknown; theirs: unknown }>();
  for (const d of differences(base, mine))
    byPath.set(d.path, { before: d.before, mine: d.after, theirs: d.before });
  for (const d of differences(base, theirs))
    byPath.set(d.path, { before: d.before, mine: byPath.get(d.path)?.mine ?? d.before, theirs: d.after });
  return (
    <Sheet
      title="Changed by somebody else too"
      open
      onClose={onClose}
      footer={
        <>
          <Button grow label="Take theirs" onPress={onTheirs} />
          <Button grow kind="main" label="Keep mine" onPress={onMine} />
        </>
      }
    >
      <Words>
        Somebody put other changes of {base.name} in force while you were at work. Nothing of yours is lost.
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
          <Words>Yours: {sayValue(m)}</Words>
          <Words>Theirs: {sayValue(t)}</Words>
        </View>
      ))}
    </Sheet>
  );
}
