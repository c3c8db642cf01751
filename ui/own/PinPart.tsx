import type { OwnPage } from '../../api/own';
import { faultOf } from '../data/api';
import { useState } from 'react';
import { View } from 'react-native';
import { DateTime } from 'luxon';
import { useSetOwnPin } from '../data/own';
import { Button, Field, Refused, Section } from '../kit/parts';
import { Words } from '../kit/Words';

/** One's own PIN, by which one signs on at a shared desk and lets a new phone fetch its settings. */
export function PinPart({ page }: { readonly page: OwnPage }) {
  const set = useSetOwnPin();
  const [pin, setPin] = useState('');
  const fault = faultOf(set.error, 'pin');
  return (
    <Section title="Your PIN">
      <Words tone="soft">
        {page.pinSetAt
          ? `Set on ${DateTime.fromISO(page.pinSetAt).setLocale('en').toFormat('d LLLL yyyy')}. You type it at shared desks and new phones.`
          : 'You have none yet. You type it at shared desks and new phones.'}
      </Words>
      <View style={{ maxWidth: 320 }}>
        <Field
          label="A new PIN of 6 to 10 digits"
          secret
          keyboard="phone-pad"
          value={pin}
          onChange={(text) => {
            setPin(text.replace(/\D/g, ''));
            set.reset();
          }}
          error={fault ? `It ${fault}` : null}
        />
      </View>
      <View style={{ flexDirection: 'row' }}>
        <Button
          label="Set it"
          disabled={pin === ''}
          busy={set.isPending}
          onPress={() => set.mutate(pin, { onSuccess: () => setPin('') })}
        />
      </View>
      {fault ? null : <Refused error={set.error} />}
    </Section>
  );
}
