import { View } from 'react-native';
import type { Fault } from '../../core/estate';
import { space, usePalette } from '../theme';
import { ConflictSheet } from './ConflictSheet';
import { Button } from './parts';
import { Words } from './Words';

interface Named {
  readonly name: string;
}

/** What stands at the bottom while something is changed and not in force: undo, discard, put in force. */
export function ObjectBar({
  work,
}: {
  readonly work: {
    readonly changed: boolean;
    readonly busy: boolean;
    readonly trouble: string | null;
    readonly faults: readonly Fault[];
    readonly undo: () => void;
    readonly discard: () => void;
    readonly apply: () => void;
    readonly conflict: { readonly base: Named; readonly mine: Named; readonly theirs: Named } | null;
    readonly keepMine: () => void;
    readonly takeTheirs: () => void;
  };
}) {
  const palette = usePalette();
  if (!work.changed && !work.trouble) return null;
  return (
    <View
      role="region"
      aria-label="Changes not in force"
      style={{
        borderTopWidth: 2,
        borderColor: palette.accent,
        backgroundColor: palette.sheet,
        padding: space(3),
        gap: space(2),
      }}
    >
      {work.conflict ? (
        <ConflictSheet
          {...work.conflict}
          mineLabel="Go on with mine"
          onMine={work.keepMine}
          onTheirs={work.takeTheirs}
          onClose={work.keepMine}
        />
      ) : null}
      {work.trouble ? (
        <Words tone="rust" live>
          {work.trouble}
        </Words>
      ) : null}
      {work.faults.map((fault) => (
        <Words key={fault.path} tone="rust" size="small" live>
          {`${fault.path || 'This'}: ${fault.message}`}
        </Words>
      ))}
      <View style={{ flexDirection: 'row', gap: space(2), flexWrap: 'wrap' }}>
        <Button icon="undo" label="Undo" onPress={work.undo} />
        <Button label="Discard" onPress={work.discard} />
        <Button kind="main" grow label="Put in force" busy={work.busy} onPress={work.apply} />
      </View>
    </View>
  );
}
