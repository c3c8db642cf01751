import { useState } from 'react';
import { View } from 'react-native';
import { showNumber } from '../../core/calls/dialling';
import type { SeatPhone } from '../../core/estate';
import { Choice, Field } from '../kit/parts';
import { space } from '../kit/theme';
import { Words } from '../kit/Words';

const OTHER = 'other';

/** Which phone somebody is at today: one of theirs, or a number or SIP address that is typed. */
export function PhonePick({
  phones,
  value,
  fault,
  onChange,
}: {
  readonly phones: readonly { readonly id: string; readonly label: string; readonly number: string | null }[];
  readonly value: SeatPhone | null;
  readonly fault: string | null;
  readonly onChange: (at: SeatPhone | null) => void;
}) {
  const [typed, setTyped] = useState('');
  const chosen = value && 'endpoint' in value ? value.endpoint : OTHER;
  const type = (text: string) => {
    setTyped(text);
    const plain = text.trim();
    if (plain === '') return onChange(null);
    onChange(/^sips?:/i.test(plain) ? { sip: plain } : { number: plain });
  };
  const known = value && 'endpoint' in value ? phones.find(({ id }) => id === value.endpoint) : undefined;
  return (
    <View style={{ gap: space(2) }}>
      <Choice
        label="At which phone today"
        titled
        value={chosen}
        options={[
          ...phones.map(({ id, label }) => ({ value: id, label })),
          { value: OTHER, label: 'Another phone' },
        ]}
        onChange={(id) => (id === OTHER ? type(typed) : onChange({ endpoint: id }))}
      />
      {chosen === OTHER ? (
        <Field
          label="Its number in any form, or its SIP address"
          mono
          value={typed}
          onChange={type}
          error={fault}
        />
      ) : known?.number ? (
        <Words tone="soft">{`Calls come to ${showNumber(known.number)}, and are accepted with key 1.`}</Words>
      ) : null}
    </View>
  );
}
