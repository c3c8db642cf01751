import type { FoldedSlate, RecordLine } from '../../api/people';
import { View } from 'react-native';
import { useRouter } from 'expo-router';
import { DateTime } from 'luxon';
import { andList } from '../../core/estate';
import { sayBoth, sayWhere } from '../../core/changes/slate';
import { useDrillAgain } from '../data/findings';
import { UndoOnSlate } from '../edit/UndoOnSlate';
import { Button } from '../kit/parts';
import { space, usePalette } from '../kit/theme';
import { Words } from '../kit/Words';
import { sayKind } from './recordWords';

const SHOWN = 6;
const whenOf = (at: string) => DateTime.fromISO(at).setLocale('en').toFormat('ccc d LLL yyyy, HH:mm:ss');

/** All that a slate changed, as one entry. */
function FoldedRow({
  entry,
  slate,
  canTakeBack,
}: {
  readonly entry: RecordLine;
  readonly slate: FoldedSlate;
  readonly canTakeBack: boolean;
}) {
  const palette = usePalette();
  const router = useRouter();
  const id = entry.slateId ?? 0;
  const more = slate.changes - slate.names.length;
  return (
    <View
      role="listitem"
      style={{ paddingVertical: space(2), borderBottomWidth: 1, borderColor: palette.line, gap: 2 }}
    >
      <Words>
        <Words strong>{entry.who}</Words>
        {' put live the slate '}
        <Words strong>{slate.name}</Words>
        {`, ${slate.changes} changes`}
      </Words>
      <Words size="small" tone="soft">
        {`Of ${andList([...slate.names, ...(more > 0 ? [`${more} more`] : [])])}`}
      </Words>
      <Words size="small" mono tone="soft">
        {whenOf(entry.at)}
      </Words>
      <View style={{ flexDirection: 'row', flexWrap: 'wrap', alignItems: 'center' }}>
        {canTakeBack ? <UndoOnSlate label={`Undo all of it: ${slate.name}`} what={{ slate: id }} /> : null}
        <Button kind="quiet" label="Each change" onPress={() => router.navigate(`/record?slate=${id}`)} />
        <Button kind="quiet" label="Its slate" onPress={() => router.navigate(`/slates/${id}`)} />
      </View>
    </View>
  );
}

interface Shown {
  readonly entry: RecordLine;
  readonly canTakeBack?: boolean;
}

/** One entry: who did what to whom, when, and what it was before. */
export function RecordRow(props: Shown) {
  const { slate } = props.entry;
  return slate ? (
    <FoldedRow entry={props.entry} slate={slate} canTakeBack={props.canTakeBack ?? false} />
  ) : (
    <OneRow {...props} />
  );
}

function OneRow({ entry, canTakeBack = false }: Shown) {
  const palette = usePalette();
  const router = useRouter();
  const again = useDrillAgain();
  return (
    <View
      role="listitem"
      style={{ paddingVertical: space(2), borderBottomWidth: 1, borderColor: palette.line, gap: 2 }}
    >
      <Words>
        <Words strong>{entry.who}</Words>
        {` ${sayKind(entry.kind)} `}
        <Words strong>{entry.subject}</Words>
        {entry.detail && entry.detail !== entry.subject && entry.changes.length === 0
          ? ` (${entry.detail})`
          : ''}
      </Words>
      {entry.changes.slice(0, SHOWN).map((change) => (
        <Words key={change.path} size="small" tone="soft">
          {`${sayWhere(change)}: ${sayBoth(change)}`}
        </Words>
      ))}
      {entry.changes.length > SHOWN ? (
        <Words size="small" tone="soft">{`and ${entry.changes.length - SHOWN} more`}</Words>
      ) : null}
      <Words size="small" mono tone="soft">
        {whenOf(entry.at)}
      </Words>
      {entry.why ? <Words size="small">{`Why: ${entry.why}`}</Words> : null}
      {canTakeBack && entry.kind === 'drill-removed' ? (
        <View style={{ flexDirection: 'row' }}>
          <Button
            kind="quiet"
            icon="undo"
            label={`Keep again: ${entry.subject}`}
            busy={again.isPending}
            onPress={() => again.mutate([entry.id])}
          />
        </View>
      ) : null}
      {canTakeBack && entry.canTakeBack ? (
        <View style={{ flexDirection: 'row', flexWrap: 'wrap', alignItems: 'center' }}>
          <UndoOnSlate label={`Undo: ${entry.subject}`} what={{ entries: [entry.id] }} />
          {entry.slateId ? (
            <Button
              kind="quiet"
              label="Its slate"
              onPress={() => router.navigate(`/slates/${entry.slateId ?? 0}`)}
            />
          ) : null}
        </View>
      ) : null}
    </View>
  );
}
