import type { RecordLine } from '../../api/people';
import { useState } from 'react';
import { ScrollView, View } from 'react-native';
import { useLocalSearchParams, useRouter } from 'expo-router';
import { DateTime } from 'luxon';
import { messageOf } from '../data/api';
import { useRecord } from '../data/data';
import { fetchFile } from '../data/files';
import { useDrillAgain } from '../data/findings';
import { takeBackOnSlate } from '../data/slates';
import { useCanEdit } from '../data/session';
import { space, usePalette } from '../kit/theme';
import { Button, Choice, Empty, Field, Skeleton, Trouble } from '../kit/parts';
import { sayValue, sayWhere } from '../../core/changes/slate';
import { usePageTitle } from '../kit/usePageTitle';
import { Words } from '../kit/Words';

const KINDS: Record<string, string> = {
  'estate-imported': 'put the estate in place:',
  'staff-imported': 'imported staff:',
  'person-changed': 'changed',
  'status-set': 'set the status of',
  switched: 'switched a phone of',
  'number-shown': 'was shown a private number of',
  covered: 'covered',
  'template-applied': 'started from a template',
  'taken-back': 'undid a change of',
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
  'person-added': 'added',
  'person-removed': 'took out',
  'slate-held': 'held back the slate',
  'drills-overruled': 'overruled drills for the slate',
  'drill-kept': 'kept the drill',
  'drill-removed': 'removed the drill',
  'finding-marked': 'decided about a finding of',
  restarted: 'noted a restart at',
  'password-shown': 'was shown the password of',
  'password-renewed': 'made a new password for',
  'provisioning-added': 'put in provisioning:',
  'provisioning-ended': 'took out of provisioning:',
  'provisioning-policy': 'changed the rules of',
  'code-given': 'made a one-time code for',
  'code-dialled': 'had a code dialled at',
  'settings-fetched': 'fetched the settings of',
  'settings-pushed': 'pushed new settings to',
  'firmware-added': 'added firmware',
  'firmware-seen': 'reported its firmware:',
  'authority-added': 'trusts the certificate authority',
  'authority-removed': 'trusts no more the certificate authority',
  'pin-set': 'set a PIN for',
  'badge-set': 'set the badge of',
  'desk-sign-on': 'signed somebody on at',
  'seat-sign-on': 'signed somebody on to the seat',
  'seat-sign-off': 'signed somebody off from the seat',
  'seat-paused': 'paused the seat',
  'seat-resumed': 'went on at the seat',
  'seat-password': 'set the password of the seat',
  'desk-sign-off': 'signed somebody off at',
  'desk-shown': 'decided who sees the desk of',
  'emergency-tried': 'tried an emergency call from',
  'recording-added': 'added the recording',
  'recording-removed': 'removed the recording',
  'recording-restored': 'restored the recording',
  'round-added': 'added the round',
  'round-changed': 'changed the round',
  'round-asked': 'asked for approval of the round',
  'round-withdrawn': 'withdrew the round',
  'round-approved': 'approved the round',
  'round-started': 'started the round',
  'round-paused': 'paused the round',
  'round-resumed': 'resumed the round',
  'round-stopped': 'stopped the round',
  'round-done': 'ended the round',
  'round-removed': 'removed the round',
  'round-restored': 'restored the round',
  'called-back': 'asked to be called back and connected with',
  'tariff-added': 'put in the tariff',
  'tariff-removed': 'removed the tariff',
  'calls-imported': 'imported calls from',
  'calls-import-removed': 'removed the calls imported from',
  'never-call-added': 'put on the never-call list:',
  'never-call-removed': 'took off the never-call list:',
  'sound-noted': 'noted what is used with',
  'tried-live': 'placed a live call to',
  'probe-allowed': 'let the transport probe ask',
  'own-change': 'changed their own reach:',
  'own-asked': 'asked for a change of their reach:',
  'own-answered': 'answered a request of',
  'limits-set': 'set what people may change:',
  'sign-in-given': 'gave a sign-in to',
  'password-changed': 'changed the password of',
  'second-factor-set': 'set up a second factor for',
  'second-factor-removed': 'removed the second factor of',
  'let-in': 'allowed to sign in again:',
  'probe-range-allowed': 'allowed the probe a range:',
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
  const router = useRouter();
  const [trouble, setTrouble] = useState<string | null>(null);
  const [busy, setBusy] = useState(false);
  const again = useDrillAgain();
  const back = async () => {
    setBusy(true);
    try {
      router.navigate(`/slates/${await takeBackOnSlate([entry.id])}`);
    } catch (error) {
      setTrouble(messageOf(error));
    } finally {
      setBusy(false);
    }
  };
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
          {`${sayWhere(change)}: ${sayValue(change.before, change.path)} → ${sayValue(change.after, change.path)}`}
        </Words>
      ))}
      {entry.changes.length > SHOWN ? (
        <Words size="small" tone="soft">{`and ${entry.changes.length - SHOWN} more`}</Words>
      ) : null}
      <Words size="small" mono tone="soft">
        {DateTime.fromISO(entry.at).setLocale('en').toFormat('ccc d LLL yyyy, HH:mm:ss')}
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
          <Button
            kind="quiet"
            icon="undo"
            label={`Undo: ${entry.subject}`}
            busy={busy}
            onPress={() => void back()}
          />
          {entry.slateId ? (
            <Button
              kind="quiet"
              label="Its slate"
              onPress={() => router.navigate(`/slates/${entry.slateId ?? 0}`)}
            />
          ) : null}
          {trouble ? (
            <Words size="small" tone="rust" live>
              {trouble}
            </Words>
          ) : null}
        </View>
      ) : null}
    </View>
  );
}

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
  const narrow = (set: (value: string) => void) => (value: string) => {
    set(value);
    setBefore(null);
  };
  if (record.isError)
    return <Trouble message={messageOf(record.error)} retry={() => void record.refetch()} />;
  return (
    <ScrollView
      // Nothing in a short record takes the focus, and it must be scrolled by keys all the same.
      tabIndex={0}
      style={{ flex: 1 }}
      contentContainerStyle={{ padding: space(4), paddingBottom: space(8), maxWidth: 820, gap: space(2) }}
    >
      <Words size="page" strong heading={1}>
        Record
      </Words>
      <Words tone="soft">Who changed what, and when. Nothing can alter it.</Words>
      <View style={{ flexDirection: 'row', flexWrap: 'wrap', gap: space(1) }}>
        <Button kind="quiet" label={open ? 'Hide the filter' : 'Filter'} onPress={() => setOpen(!open)} />
      </View>
      {given.slate || given.person ? (
        <View style={{ flexDirection: 'row', alignItems: 'center', gap: space(2) }}>
          <Words>{given.slate ? 'What one slate changed' : 'What was changed of one person'}</Words>
          <Button kind="quiet" label="Show everything" onPress={() => router.navigate('/record')} />
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
        <View role="list">
          {record.data.entries.map((entry) => (
            <RecordRow key={entry.id} entry={entry} canTakeBack={canEdit} />
          ))}
        </View>
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
