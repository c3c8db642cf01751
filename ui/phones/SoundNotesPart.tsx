import type { PhoneRow } from '../../api/phones';
import { useState } from 'react';
import { View } from 'react-native';
import { SOUND_THINGS, type SoundNotes, type SoundThing } from '../../core/devices/phones';
import { useAccount, useSoundNotes } from '../data/phones';
import { useRole } from '../data/session';
import { space } from '../kit/theme';
import { Button, Field, Refused, Section, Skeleton } from '../kit/parts';

const LABELS: Record<SoundThing, string> = { headset: 'Headset', microphone: 'Microphone', camera: 'Camera' };

/** What somebody uses with their softphone; it stands on the hand-over sheet too. */
export function SoundNotesPart({ row }: { readonly row: PhoneRow }) {
  const role = useRole();
  const account = useAccount(row.endpoint, role !== 'manager');
  const save = useSoundNotes(row.endpoint);
  const [draft, setDraft] = useState<SoundNotes | null>(null);
  if (role === 'manager') return null;
  if (account.isPending) return <Skeleton rows={2} />;
  const notes = draft ?? account.data?.notes ?? {};
  return (
    <Section title="Headset, microphone, camera">
      <View style={{ gap: space(2), maxWidth: 520 }}>
        {SOUND_THINGS.map((thing) => (
          <Field
            key={thing}
            label={LABELS[thing]}
            value={notes[thing] ?? ''}
            onChange={(text) => setDraft({ ...notes, [thing]: text })}
          />
        ))}
        {draft ? (
          <View style={{ flexDirection: 'row', gap: space(2) }}>
            <Button
              kind="main"
              label="Keep these notes"
              busy={save.isPending}
              onPress={() => save.mutate(draft, { onSuccess: () => setDraft(null) })}
            />
            <Button label="Discard" onPress={() => setDraft(null)} />
          </View>
        ) : null}
        <Refused error={save.error} />
      </View>
    </Section>
  );
}
