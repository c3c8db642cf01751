import { useState } from 'react';
import { View } from 'react-native';
import { showNumber } from '../../core/calls/dialling';
import { faultOf, messageOf } from '../data/api';
import { useAddNever, useNeverCall, useRemoveNever } from '../data/rounds';
import { useZone } from '../data/session';
import { sayWhen } from '../desks/when';
import { Button, Field, Refused, Section, Skeleton, Trouble } from '../kit/parts';
import { space } from '../kit/theme';
import { Words } from '../kit/Words';

/** Numbers that no round ever calls: put there by hand, or by whoever pressed 9. */
export function NeverPart() {
  const never = useNeverCall();
  const add = useAddNever();
  const remove = useRemoveNever();
  const zone = useZone();
  const [number, setNumber] = useState('');
  const fault = faultOf(add.error, 'number');
  const put = () => add.mutate({ number, why: '' }, { onSuccess: () => setNumber('') });
  return (
    <Section title="Never call" term="never-call-list">
      <Words tone="soft">No round calls these numbers. Whoever presses 9 during a call is added.</Words>
      <Field
        label="Add a number"
        mono
        keyboard="phone-pad"
        value={number}
        onChange={(text) => {
          add.reset();
          setNumber(text);
        }}
        onSubmit={put}
        error={fault}
      />
      <View style={{ flexDirection: 'row' }}>
        <Button
          label="Never call this number"
          disabled={number.trim() === ''}
          busy={add.isPending}
          onPress={put}
        />
      </View>
      <Refused error={fault ? null : (add.error ?? remove.error)} />
      {never.isError ? (
        <Trouble message={messageOf(never.error)} retry={() => void never.refetch()} />
      ) : never.isPending ? (
        <Skeleton rows={2} />
      ) : (
        <View role="list">
          {never.data.numbers.map((each) => (
            <View
              role="listitem"
              key={each.number}
              style={{ flexDirection: 'row', alignItems: 'center', gap: space(2) }}
            >
              <View style={{ flex: 1 }}>
                <Words mono>{showNumber(each.number)}</Words>
                <Words size="small" tone="soft">
                  {`Since ${sayWhen(each.since, zone)}, ${each.why || `added by ${each.who}`}`}
                </Words>
              </View>
              <Button
                kind="quiet"
                label="Allow again"
                busy={remove.isPending && remove.variables === each.number}
                onPress={() => remove.mutate(each.number)}
              />
            </View>
          ))}
          {never.data.total > never.data.numbers.length ? (
            <Words tone="soft">{`${never.data.total - never.data.numbers.length} more`}</Words>
          ) : null}
        </View>
      )}
    </Section>
  );
}
