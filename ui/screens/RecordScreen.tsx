import { useState } from 'react';
import { ScrollView, View } from 'react-native';
import { DateTime } from 'luxon';
import { messageOf } from '../hooks/api';
import { useRecord, type RecordLine } from '../hooks/data';
import { useTakeBack } from '../hooks/templates';
import { useCanEdit } from '../stores/session';
import { space, usePalette } from '../theme';
import { Button, Empty, Skeleton, Trouble } from '../components/parts';
import { sayPath, sayValue } from '../../core/slate';
import { Words } from '../components/Words';

const KINDS: Record<string, string> = {
  'estate-imported': 'put the estate in place:',
  'staff-imported': 'imported staff:',
  'person-changed': 'changed',
  'status-set': 'set the status of',
  switched: 'switched a phone of',
  'number-shown': 'was shown a private number of',
  covered: 'covered',
  'template-applied': 'started from a template',
  'taken-back': 'took back a change of',
  'object-added': 'added',
  'object-changed': 'changed',
  'object-removed': 'removed',
  'promises-set': 'set',
  'settings-set': 'set',
  'dialling-set': 'changed',
  'order-set': 'put in another order: each',
  'routes-changed': 'changed',
  'list-added': 'added the list',
  'list-replaced': 'replaced the list',
  'list-removed': 'removed the list',
  'signed-in': 'signed in:',
};
const SHOWN = 6;

/** One entry: who did what to whom, when, and what it was before. */
export function RecordRow({
  entry,
  canTakeBack = false,
}: {
  readonly entry: RecordLine;
  readonly canTakeBack?: boolean;
}) {
  const palette = usePalette();
  const back = useTakeBack();
  return (
    <View
      role="listitem"
      style={{ paddingVertical: space(2), borderBottomWidth: 1, borderColor: palette.line, gap: 2 }}
    >
      <Words>
        <Words strong>{entry.who}</Words>
        {` ${KINDS[entry.kind] ?? entry.kind} `}
        <Words strong>{entry.subject}</Words>
        {entry.detail && entry.changes.length === 0 ? ` (${entry.detail})` : ''}
      </Words>
      {entry.changes.slice(0, SHOWN).map((change) => (
        <Words key={change.path} size="small" tone="soft">
          {`${sayPath(change.path)}: ${sayValue(change.before)} → ${sayValue(change.after)}`}
        </Words>
      ))}
      {entry.changes.length > SHOWN ? (
        <Words size="small" tone="soft">{`and ${entry.changes.length - SHOWN} more`}</Words>
      ) : null}
      <Words size="small" mono tone="soft">
        {DateTime.fromISO(entry.at).setLocale('en').toFormat('ccc d LLL yyyy, HH:mm:ss')}
      </Words>
      {canTakeBack && entry.personId !== null && entry.changes.length > 0 ? (
        <View style={{ flexDirection: 'row', flexWrap: 'wrap', alignItems: 'center' }}>
          <Button
            kind="quiet"
            icon="undo"
            label={`Take back: ${entry.subject}`}
            busy={back.isPending}
            onPress={() => back.mutate([entry.id])}
          />
          {back.isError ? (
            <Words size="small" tone="rust" live>
              {messageOf(back.error)}
            </Words>
          ) : null}
        </View>
      ) : null}
    </View>
  );
}

export function RecordScreen() {
  const [before, setBefore] = useState<number | null>(null);
  const record = useRecord(before);
  const canEdit = useCanEdit();
  if (record.isError)
    return <Trouble message={messageOf(record.error)} retry={() => void record.refetch()} />;
  return (
    <ScrollView
      // Nothing in a short record takes the focus, and it must be scrolled by keys all the same.
      tabIndex={0}
      style={{ flex: 1 }}
      contentContainerStyle={{ padding: space(4), paddingBottom: space(8), maxWidth: 820 }}
    >
      <Words size="page" strong heading={1}>
        Record
      </Words>
      <Words tone="soft">Who changed what, and when. Nothing can alter it.</Words>
      {record.isPending ? (
        <Skeleton />
      ) : record.data.entries.length === 0 ? (
        <Empty
          title="Nothing here"
          text="Changes, imports, sign-ins and private numbers that were shown will stand here."
        />
      ) : (
        <View role="list" style={{ paddingTop: space(3) }}>
          {record.data.entries.map((entry) => (
            <RecordRow key={entry.id} entry={entry} canTakeBack={canEdit} />
          ))}
        </View>
      )}
      <View style={{ flexDirection: 'row', gap: space(2), paddingTop: space(4) }}>
        {before !== null ? <Button label="Newest" onPress={() => setBefore(null)} /> : null}
        {record.data?.more ? (
          <Button label="Older" onPress={() => setBefore(record.data.entries.at(-1)?.id ?? null)} />
        ) : null}
      </View>
    </ScrollView>
  );
}
