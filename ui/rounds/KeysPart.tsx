import { useState } from 'react';
import { View } from 'react-native';
import type { RoundPage } from '../../api/rounds';
import { ROUND_KEYS, type RoundKey, type RoundPlan } from '../../core/rounds';
import { faultOf } from '../data/api';
import { usePutRound } from '../data/rounds';
import { Button, Choice, Refused, Section } from '../kit/parts';
import { Sheet } from '../kit/Sheet';
import { space } from '../kit/theme';
import { Words } from '../kit/Words';
import { RecordingHeard, RecordingPick } from './RecordingPick';
import { withKey, withoutKey } from './keys';

/** What keys do while the message is heard, and after it: two have their meaning in every round, others play something. */
export function KeysPart({ page, canEdit }: { readonly page: RoundPage; readonly canEdit: boolean }) {
  const put = usePutRound(page.id);
  const [adding, setAdding] = useState(false);
  const { plan, version, keys } = page;
  const save = (changed: RoundPlan, onSuccess?: () => void) =>
    put.mutate({ version, plan: changed }, onSuccess ? { onSuccess } : {});
  const isFull = keys.length >= ROUND_KEYS.length;
  return (
    <Section title="What keys do">
      <Words>1: heard, and the call ends.</Words>
      <Words>9: never called again by any round.</Words>
      {keys.map(({ key, recording }) => (
        <View
          key={key}
          style={{ flexDirection: 'row', alignItems: 'center', flexWrap: 'wrap', gap: space(2) }}
        >
          <Words>{`${key}: `}</Words>
          {recording ? <RecordingHeard recording={recording} /> : <Words>the message again</Words>}
          {canEdit ? (
            <Button
              kind="quiet"
              label={`Take key ${key} away`}
              busy={put.isPending}
              onPress={() => save(withoutKey(plan, key))}
            />
          ) : null}
        </View>
      ))}
      {canEdit && !isFull ? (
        <View style={{ flexDirection: 'row' }}>
          <Button label="Give a key something to play" onPress={() => setAdding(true)} />
        </View>
      ) : null}
      <Refused error={adding ? null : put.error} />
      {adding ? (
        <AddKey
          plan={plan}
          busy={put.isPending}
          error={put.error}
          onSave={(each) => save(withKey(plan, each), () => setAdding(false))}
          onClose={() => {
            put.reset();
            setAdding(false);
          }}
        />
      ) : null}
    </Section>
  );
}

function AddKey({
  plan,
  busy,
  error,
  onSave,
  onClose,
}: {
  readonly plan: RoundPlan;
  readonly busy: boolean;
  readonly error: unknown;
  readonly onSave: (key: RoundKey) => void;
  readonly onClose: () => void;
}) {
  const free = ROUND_KEYS.filter((key) => !plan.keys?.some((each) => each.key === key));
  const [key, setKey] = useState(free[0]!);
  const [plays, setPlays] = useState<'again' | 'recording'>('again');
  const [recording, setRecording] = useState<number | null>(null);
  const fault = faultOf(error, `plan.keys[${plan.keys?.length ?? 0}].play`);
  return (
    <Sheet
      title="Give a key something to play"
      open
      onClose={onClose}
      action={{
        label: 'Save',
        busy,
        disabled: plays === 'recording' && recording === null,
        onPress: () => onSave({ key, play: plays === 'again' ? null : recording }),
      }}
    >
      <Choice
        label="Key"
        titled
        value={key}
        options={free.map((each) => ({ value: each, label: each }))}
        onChange={setKey}
      />
      <Choice
        label="It plays"
        titled
        value={plays}
        options={[
          { value: 'again', label: 'The message again' },
          { value: 'recording', label: 'Another recording' },
        ]}
        onChange={setPlays}
      />
      {plays === 'recording' ? (
        <>
          <RecordingPick value={recording} onChange={setRecording} all />
          <Words size="small" tone="soft">
            After it the message goes on from its beginning, unless it was heard to its end.
          </Words>
        </>
      ) : null}
      {fault ? <Words tone="rust">{fault}</Words> : <Refused error={error} />}
    </Sheet>
  );
}
