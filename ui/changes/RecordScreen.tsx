import { useState } from 'react';
import { ScrollView, View } from 'react-native';
import { useLocalSearchParams, useRouter } from 'expo-router';
import { DateTime } from 'luxon';
import { messageOf } from '../data/api';
import { useRecord } from '../data/data';
import { fetchFile } from '../data/files';
import { useCanEdit } from '../data/session';
import { space, useIsWide } from '../kit/theme';
import { Button, Choice, Empty, Field, Skeleton, Trouble } from '../kit/parts';
import { UndoOnSlate } from '../edit/UndoOnSlate';
import { RecordEntries } from './RecordEntries';
import { usePageTitle } from '../kit/usePageTitle';
import { Words } from '../kit/Words';

const FILTERS = [
  { value: '', label: 'Everything' },
  { value: 'person-changed', label: 'People' },
  { value: 'object-changed', label: 'Groups, menus, hours' },
  { value: 'status-set', label: 'Status' },
  { value: 'covered', label: 'Cover' },
  { value: 'number-shown', label: 'Private numbers shown' },
  { value: 'password-shown', label: 'Passwords shown' },
  { value: 'settings-fetched', label: 'Settings fetched' },
  { value: 'pin-set', label: 'PINs' },
  { value: 'pin-removed', label: 'PINs removed' },
  { value: 'desk-sign-on', label: 'Signing on at desks' },
  { value: 'seat-sign-on', label: 'Signing on to seats' },
  { value: 'seat-paused', label: 'Paused seats' },
  { value: 'desk-sign-off', label: 'Signing off at desks' },
  { value: 'tried-live', label: 'Live tries' },
  { value: 'signed-in', label: 'Sign-ins' },
] as const;

/** A date as it is typed, as the beginning or the end of that day. */
const dayOf = (text: string, end: boolean): string => {
  const day = DateTime.fromISO(text.trim());
  return day.isValid && text.trim() ? ((end ? day.plus({ days: 1 }) : day).toUTC().toISO() ?? '') : '';
};

export function RecordScreen() {
  usePageTitle('Record');
  const router = useRouter();
  const given = useLocalSearchParams<{ slate?: string; person?: string }>();
  const [before, setBefore] = useState<number | null>(null);
  const [kind, setKind] = useState<string>('');
  const [text, setText] = useState('');
  const [from, setFrom] = useState('');
  const [to, setTo] = useState('');
  const [open, setOpen] = useState(false);
  const filter = new URLSearchParams(
    Object.entries({
      kind,
      text: text.trim(),
      from: dayOf(from, false),
      to: dayOf(to, true),
      slate: given.slate ?? '',
      person: given.person ?? '',
    }).filter(([, value]) => value !== ''),
  ).toString();
  const record = useRecord(before, filter);
  const canEdit = useCanEdit();
  const wide = useIsWide();
  const narrow = (set: (value: string) => void) => (value: string) => {
    set(value);
    setBefore(null);
  };
  if (record.isError)
    return <Trouble message={messageOf(record.error)} retry={() => void record.refetch()} />;
  const asTable = wide && (record.data?.entries.length ?? 0) > 0;
  const filterButton = (
    <View
      style={{
        flexDirection: 'row',
        flexWrap: 'wrap',
        gap: space(1),
        flex: asTable && !open ? 1 : undefined,
      }}
    >
      <Button kind="quiet" label={open ? 'Hide the filter' : 'Filter'} onPress={() => setOpen(!open)} />
    </View>
  );
  return (
    <ScrollView
      // Nothing in a short record takes the focus, and it must be scrolled by keys all the same.
      tabIndex={0}
      style={{ flex: 1 }}
      contentContainerStyle={{
        padding: space(4),
        paddingBottom: space(8),
        maxWidth: wide ? 1188 : 820,
        gap: space(2),
      }}
    >
      <Words size="page" strong heading={1}>
        Record
      </Words>
      <Words tone="soft">Who changed what, and when. Nothing can alter it.</Words>
      {asTable && !open ? null : filterButton}
      {given.slate || given.person ? (
        <View style={{ flexDirection: 'row', flexWrap: 'wrap', alignItems: 'center', gap: space(2) }}>
          <Words>{given.slate ? 'What one slate changed' : 'What was changed of one person'}</Words>
          <Button kind="quiet" label="Show everything" onPress={() => router.navigate('/record')} />
          {given.slate && canEdit ? (
            <UndoOnSlate label="Undo all of it" what={{ slate: Number(given.slate) }} />
          ) : null}
        </View>
      ) : null}
      {open ? (
        <View style={{ gap: space(2) }}>
          <Field label="Search the record" value={text} onChange={narrow(setText)} />
          <Choice label="What was done" value={kind} options={FILTERS} onChange={narrow(setKind)} />
          <View style={{ flexDirection: 'row', gap: space(2) }}>
            <View style={{ flex: 1 }}>
              <Field label="From" mono value={from} onChange={narrow(setFrom)} placeholder="2026-11-01" />
            </View>
            <View style={{ flex: 1 }}>
              <Field label="To" mono value={to} onChange={narrow(setTo)} placeholder="2026-11-30" />
            </View>
          </View>
          {canEdit ? (
            <View style={{ flexDirection: 'row', gap: space(2) }}>
              {(['csv', 'jsonl'] as const).map((form) => (
                <Button
                  key={form}
                  label={form === 'csv' ? 'As CSV' : 'As JSON lines'}
                  onPress={() =>
                    void fetchFile(`/api/record/export?form=${form}&${filter}`, `record.${form}`)
                  }
                />
              ))}
            </View>
          ) : null}
        </View>
      ) : null}
      {record.isPending ? (
        <Skeleton />
      ) : record.data.entries.length === 0 ? (
        <Empty
          title="Nothing here"
          text={
            filter
              ? 'Nothing in the record is like this. Search for less, or for other days.'
              : 'Changes, imports, sign-ins and private numbers that were shown will stand here.'
          }
        />
      ) : (
        <RecordEntries entries={record.data.entries} canTakeBack={canEdit} bar={open ? null : filterButton} />
      )}
      <View style={{ flexDirection: 'row', gap: space(2), paddingTop: space(2) }}>
        {before !== null ? <Button label="Newest" onPress={() => setBefore(null)} /> : null}
        {record.data?.more ? (
          <Button label="Older" onPress={() => setBefore(record.data.entries.at(-1)?.id ?? null)} />
        ) : null}
      </View>
    </ScrollView>
  );
}
