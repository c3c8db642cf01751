import { useMemo } from 'react';
import { View } from 'react-native';
import { useCanEdit } from '../data/session';
import { space, useIsWide } from '../kit/theme';
import { isFieldsKind, type Fault } from '../../core/estate';
import { sayPath, type SlateEntry, type EntryKind } from '../../core/changes/slate';
import { useAsked, useEffectOfEntries } from '../data/effect';
import { AskWorse, EffectNote } from './EffectNote';
import { ConflictSheet } from './ConflictSheet';
import { Button } from '../kit/parts';
import { SlateNote } from './SlateNote';
import { ToSlate } from './ToSlate';
import { Words } from '../kit/Words';
import { WorkBar } from '../kit/WorkBar';

/** What calls depend on; the rest is put live without their being gone through. */
const ON_CALLS: readonly EntryKind[] = ['group', 'menu', 'schedule', 'permission', 'trunk'];

/** Where a fault lies, in the words of the trade. */
const sayFault = (path: string, kind: EntryKind | undefined): string =>
  path === '' ? 'This' : sayPath(path, kind !== undefined && isFieldsKind(kind) ? kind : undefined) || path;

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
  const { entry } = work;
  const changes = useMemo(
    () => (work.changed && entry && ON_CALLS.includes(entry.kind) ? [entry] : null),
    // The entry is made anew each time; what is in it is not.
    // eslint-disable-next-line react-hooks/exhaustive-deps
    [work.changed, entry?.base, entry?.after],
  );
  const effect = useEffectOfEntries(changes);
  const asked = useAsked(effect, work.apply);
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
          {`${sayFault(fault.path, work.slated?.kind)}: ${fault.message}`}
        </Words>
      ))}
      {changes && work.faults.length === 0 ? <EffectNote effect={effect} /> : null}
      {asked.asks ? <AskWorse effect={effect} onSure={asked.sure} onBack={asked.back} /> : null}
      <View
        style={{
          display: asked.asks ? 'none' : 'flex',
          flexDirection: wide ? 'row' : 'column',
          gap: space(2),
        }}
      >
        <View style={{ flexDirection: 'row', gap: space(2) }}>
          <Button icon="undo" label="Undo" onPress={work.undo} />
          <Button label="Discard" onPress={work.discard} />
        </View>
        <View style={{ flexDirection: 'row', gap: space(2), flexGrow: 1 }}>
          <Button
            kind={work.entry ? 'plain' : 'main'}
            grow
            label="Put live"
            busy={work.busy || asked.waits}
            onPress={changes ? asked.press : work.apply}
          />
          {work.entry ? <ToSlate grow entries={() => [work.entry!]} onDone={work.discard} /> : null}
        </View>
      </View>
    </WorkBar>
  );
}
