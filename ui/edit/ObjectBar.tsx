import { View } from 'react-native';
import type { Fault } from '../../core/estate';
import { useCanEdit } from '../data/session';
import { space, useIsWide } from '../kit/theme';
import type { SlateEntry, EntryKind } from '../../core/changes/slate';
import { ConflictSheet } from './ConflictSheet';
import { Button } from '../kit/parts';
import { SlateNote } from './SlateNote';
import { ToSlate } from './ToSlate';
import { Words } from '../kit/Words';
import { WorkBar } from '../kit/WorkBar';

interface Named {
  readonly name: string;
}

/** What stands at the bottom while something is changed and not live: undo, discard, put live. */
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
    /** The change for a slate; null where it cannot be put on one. */
    readonly entry: SlateEntry | null;
    readonly slated: { readonly kind: EntryKind; readonly id: string } | null;
    readonly takeOver: (object: unknown) => void;
  };
}) {
  const canEdit = useCanEdit();
  const { slated } = work;
  const wide = useIsWide();
  if (!work.changed && !work.trouble)
    return slated ? <SlateNote {...slated} onTake={canEdit ? work.takeOver : null} /> : null;
  return (
    <WorkBar label="Changes not live">
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
      <View style={{ flexDirection: wide ? 'row' : 'column', gap: space(2) }}>
        <View style={{ flexDirection: 'row', gap: space(2) }}>
          <Button icon="undo" label="Undo" onPress={work.undo} />
          <Button label="Discard" onPress={work.discard} />
        </View>
        <View style={{ flexDirection: 'row', gap: space(2), flexGrow: 1 }}>
          <Button
            kind={work.entry ? 'plain' : 'main'}
            grow
            label="Put live"
            busy={work.busy}
            onPress={work.apply}
          />
          {work.entry ? <ToSlate grow entries={() => [work.entry!]} onDone={work.discard} /> : null}
        </View>
      </View>
    </WorkBar>
  );
}
